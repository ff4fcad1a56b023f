import * as z from 'zod';

/** A key as KeyboardEvent.key has it, letters in lower case; Shift is written before a letter. Keys that only mean something together with Ctrl, Alt or Command belong to the browser. */
export const KeyName = z
  .string()
  .regex(
    /^(?:[^\s\p{C}\p{Lu}]|Shift [a-z]|Home|End|PageUp|PageDown|Insert|Delete|Backspace|Arrow(?:Up|Down|Left|Right))$/u,
    'A key is one sign, Shift and a letter, or a key that moves or deletes.',
  );

/** The screens whose keys a person can change. */
export const KeyScreen = z.enum(['lineup', 'bench', 'handoff']);
export type KeyScreen = z.infer<typeof KeyScreen>;

/** For what a key does, the key that a person wants for it. What is not named keeps ours. */
const ScreenChanges = z
  .record(z.string().regex(/^[a-z][a-z0-9-]{0,39}$/), KeyName)
  .refine((changes) => new Set(Object.values(changes)).size === Object.keys(changes).length, {
    message: 'One key can’t do two things on a screen. Give one of them another key.',
  });

export const KeyChanges = z.object({
  lineup: ScreenChanges,
  bench: ScreenChanges,
  // Kept before there was such a screen.
  handoff: ScreenChanges.default({}),
});
export type KeyChanges = z.infer<typeof KeyChanges>;

export const NO_KEY_CHANGES: KeyChanges = { lineup: {}, bench: {}, handoff: {} };
