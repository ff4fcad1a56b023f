import * as z from 'zod';

const SampleWords = z.object({
  kind: z.enum(['integer', 'float']),
  bits: z.union([z.literal(8), z.literal(16), z.literal(24), z.literal(32), z.literal(64)]),
});

/**
 * Where a clip's sample words lie: inside its own WAV file, or in the working copy that was
 * decoded from anything else.
 */
export const PcmLocation = z.object({
  path: z.string(),
  offsetBytes: z.int().nonnegative(),
  words: SampleWords,
  channels: z.int().min(1).max(64),
  sampleRate: z.int().positive(),
  frames: z.int().nonnegative(),
});
export type PcmLocation = z.infer<typeof PcmLocation>;
