import * as z from 'zod';
import { FrameRate } from '../time/frameRates.ts';

/** One audio stream of a file; its channels follow those of the stream before it. */
const AudioStream = z.object({
  codec: z.string(),
  channels: z.int().min(1),
  /** As the file has it: "stereo", "5.1", ... */
  layout: z.string().nullable(),
  /** The stream's own title or language, where it has one. */
  name: z.string().nullable(),
  /** ISO 639; null where it has none. */
  language: z.string().nullable().default(null),
});

const Words = z.string().nullable();

/** The picture beside the sound. */
const Picture = z.object({
  /** How many there are; null where nobody knows. */
  frames: z.int().nonnegative().nullable(),
  /** How much later than the file its sound begins; earlier is negative. */
  soundStartSeconds: z.number(),
});

/** What a file says of itself beside its sound. Nothing here is measured. */
export const ClipFacts = z.object({
  recorder: Words,
  scene: Words,
  take: Words,
  tape: Words,
  note: Words,
  /** One for each channel. */
  trackNames: z.array(Words),
  streams: z.array(AudioStream),
  /** When it was made, ISO 8601; without a zone where the recorder knew none. */
  recordedAt: Words,
  /** The first sample's place after midnight, in samples of the clip's rate. */
  startSamples: z.int().nonnegative().nullable(),
  /** null where the file does not hold it. */
  frameRate: FrameRate.nullable(),
  /** null where there is none, or where it was not looked at. */
  picture: Picture.nullable().default(null),
  /** What was done to it before, a line each (EBU R 98), where it is no Broadcast Wave, which carries it along itself. */
  codingHistory: Words.default(null),
});
export type ClipFacts = z.infer<typeof ClipFacts>;

export function noFacts(channels: number): ClipFacts {
  return {
    recorder: null,
    scene: null,
    take: null,
    tape: null,
    note: null,
    trackNames: Array<null>(channels).fill(null),
    streams: [],
    recordedAt: null,
    startSamples: null,
    frameRate: null,
    picture: null,
    codingHistory: null,
  };
}
