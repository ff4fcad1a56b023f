import * as z from 'zod';
import { SecondsSpan } from '../time/spans.ts';
import { FadeKind } from './repair.ts';

// What the terminal prints of a plan in time and reads again, corrected by hand (command line, `repair`). Seconds and milliseconds, as people say them.

const Milliseconds = z.number().min(0).max(10_000);
/** null is silence. */
const ClosedDb = z.number().min(-60).max(0).nullable();

/** `centred`: one mono mix on both sides; `sides`: a gentle left and right; `separate`: a file a microphone, in step. */
export const TurnsOutput = z.enum(['centred', 'sides', 'separate']);
export type TurnsOutput = z.infer<typeof TurnsOutput>;

export const TurnsFile = z.object({
  turns: z
    .array(SecondsSpan.extend({ channel: z.int().min(1).max(64) }))
    .min(1)
    .max(20_000),
  closedDb: ClosedDb.default(-12),
  fadeInMs: Milliseconds.default(20),
  fadeOutMs: Milliseconds.default(60),
  output: TurnsOutput.default('centred'),
  /** Microphones that open and close in a way of their own. */
  microphones: z
    .array(
      z.object({
        channel: z.int().min(1).max(64),
        closedDb: ClosedDb.optional(),
        fadeInMs: Milliseconds.optional(),
        fadeOutMs: Milliseconds.optional(),
        leadMs: Milliseconds.optional(),
        tailMs: Milliseconds.optional(),
      }),
    )
    .optional(),
});
export type TurnsFile = z.infer<typeof TurnsFile>;

export const SectionsFile = z.object({
  sections: z
    .array(
      SecondsSpan.extend({
        /** Output channel to what feeds it: "1", "2@-6", "1+2@-3", "-2" for channel 2 turned over, "" for silence. */
        route: z.record(z.string().regex(/^[1-9]\d?$/), z.string()),
        fadeIn: FadeKind.optional(),
      }),
    )
    .min(1)
    .max(2000),
  fadeMs: Milliseconds.default(10),
});
export type SectionsFile = z.infer<typeof SectionsFile>;
