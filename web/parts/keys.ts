import { useEffect } from 'react';

/** One key of a screen: what it is called in the overlay and what it does. */
export interface ScreenKey {
  /** As KeyboardEvent.key has it, letters in lower case; Shift is written before it. */
  key: string;
  shown: string;
  does: string;
  group: 'Listen' | 'Look' | 'Choose' | 'Repair' | 'Go';
  run: () => void;
}

/** Listens for the bench's keys, wherever the focus is, except where a person types or presses a control. */
export function useScreenKeys(keys: ScreenKey[]): void {
  useEffect(() => {
    const pressed = (event: KeyboardEvent): void => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      const found = keys.find(({ key }) => key === (event.shiftKey && /^[a-z]$/.test(name) ? `Shift ${name}` : name));
      if (!found || controlTakes(event)) return;
      event.preventDefault();
      found.run();
    };
    window.addEventListener('keydown', pressed);
    return () => window.removeEventListener('keydown', pressed);
  }, [keys]);
}

function isTyping(target: EventTarget | null): boolean {
  return target instanceof HTMLInputElement && target.type !== 'radio' && target.type !== 'checkbox';
}

/** Enter and Space belong to the button or link that has the focus. */
function controlTakes(event: KeyboardEvent): boolean {
  if (event.key !== 'Enter' && event.key !== ' ') return false;
  return event.target instanceof Element && event.target.closest('button, a, [role="dialog"]') !== null;
}
