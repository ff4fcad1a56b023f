/** One key of a screen: what it is called in the overlay and what it does. */
export interface ScreenKey {
  /** What it does, in a word that stays: a person's own key is kept under it. */
  id: string;
  /** As KeyboardEvent.key has it, letters in lower case; Shift is written before a letter. Empty where another took it. */
  key: string;
  does: string;
  group: 'Listen' | 'Look' | 'Choose' | 'Repair' | 'Go';
  run: () => void;
  /** Why it can't be changed; null where it can. */
  fixed?: string;
  /** Keys that something else on the screen listens to, and how they are written. */
  heardElsewhere?: string[];
  shown?: string;
  /** With Ctrl or Command it does the same, as everywhere. */
  withCtrl?: string;
  /** Held down it goes on. */
  repeats?: boolean;
}

/** What a pressed key is called here. */
export function nameOfKey(event: Pick<KeyboardEvent, 'key' | 'shiftKey'>): string {
  const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  return event.shiftKey && /^[a-z]$/.test(name) ? `Shift ${name}` : name;
}

const SIGNS: Record<string, string> = {
  ' ': 'Space',
  '-': '−',
  ArrowLeft: '←',
  ArrowRight: '→',
  ArrowUp: '↑',
  ArrowDown: '↓',
  Escape: 'Esc',
  Delete: 'Del',
};

/** How a key is written on the screen. */
export function sayKey({ key, shown }: Pick<ScreenKey, 'key' | 'shown'>): string {
  return (
    shown ??
    SIGNS[key] ??
    (/^(Shift )?[a-z]$/.test(key) ? key.replace(/[a-z]$/, (letter) => letter.toUpperCase()) : key)
  );
}

/** The keys of a screen with those that a person has changed. A key that a person gave away is no other's any more. */
export function withChanges(keys: ScreenKey[], changes: Record<string, string>): ScreenKey[] {
  const taken = new Set(Object.values(changes));
  return keys.map((key) => {
    const changed = key.fixed === undefined ? changes[key.id] : undefined;
    if (changed !== undefined) return { ...key, key: changed };
    return key.fixed === undefined && taken.has(key.key) ? { ...key, key: '' } : key;
  });
}
