import { KeyName } from '@pocket-twin/core/schema/keyChanges.ts';
import { sayKey, withChanges, type ScreenKey } from '../../parts/keyNames.ts';

/** What comes of giving something another key. */
export type KeyAnswer =
  | { kind: 'changed'; changes: Record<string, string> }
  /** Something else has that key: both can be exchanged. */
  | { kind: 'taken'; by: ScreenKey; exchanged: Record<string, string> }
  | { kind: 'refused'; why: string };

/** Gives what a key does (`id`) another key. `ours`: all keys of the screen as they came; `changes`: what a person has changed so far. */
export function changeKey(ours: ScreenKey[], changes: Record<string, string>, id: string, key: string): KeyAnswer {
  const written = sayKey({ key });
  const now = withChanges(ours, changes);
  const by = now.find((other) => other.id !== id && (other.key === key || other.heardElsewhere?.includes(key)));
  if (by?.fixed !== undefined) return { kind: 'refused', why: `${written} is taken for good. ${by.fixed}` };
  if (!KeyName.safeParse(key).success)
    return {
      kind: 'refused',
      why: `${written} belongs to the browser or the system. Press a letter, a figure or a sign.`,
    };
  const given = asChanges(ours, { ...changes, [id]: key });
  if (!by) return { kind: 'changed', changes: given };
  const mine = now.find((other) => other.id === id)!.key;
  const others = Object.fromEntries(Object.entries(given).filter(([other]) => other !== by.id));
  return { kind: 'taken', by, exchanged: asChanges(ours, mine === '' ? others : { ...given, [by.id]: mine }) };
}

/** A key that is ours again is no change. */
function asChanges(ours: ScreenKey[], changes: Record<string, string>): Record<string, string> {
  return Object.fromEntries(
    Object.entries(changes).filter(([id, key]) => ours.find((other) => other.id === id)?.key !== key),
  );
}
