import * as z from 'zod';

/** Frames of picture a second, as a fraction; `dropFrame` where numbers are left out to keep up with the clock (SMPTE ST 12-1). */
export const FrameRate = z.object({
  numerator: z.int().positive(),
  denominator: z.int().positive(),
  dropFrame: z.boolean(),
});
export type FrameRate = z.infer<typeof FrameRate>;

const rate = (numerator: number, denominator = 1, dropFrame = false): FrameRate => ({
  numerator,
  denominator,
  dropFrame,
});

/** The frame rates that timecode is counted in (SMPTE ST 12-1, with the later film and high rates). */
export const FRAME_RATES: { id: string; label: string; rate: FrameRate }[] = [
  { id: '23.976', label: '23.976', rate: rate(24000, 1001) },
  { id: '24', label: '24', rate: rate(24) },
  { id: '25', label: '25', rate: rate(25) },
  { id: '29.97', label: '29.97', rate: rate(30000, 1001) },
  { id: '29.97d', label: '29.97 drop-frame', rate: rate(30000, 1001, true) },
  { id: '30', label: '30', rate: rate(30) },
  { id: '50', label: '50', rate: rate(50) },
  { id: '59.94', label: '59.94', rate: rate(60000, 1001) },
  { id: '59.94d', label: '59.94 drop-frame', rate: rate(60000, 1001, true) },
  { id: '60', label: '60', rate: rate(60) },
];

export function frameRateId(wanted: FrameRate | null): string | null {
  return (
    FRAME_RATES.find(
      ({ rate: { numerator, denominator, dropFrame } }) =>
        wanted &&
        numerator === wanted.numerator &&
        denominator === wanted.denominator &&
        dropFrame === wanted.dropFrame,
    )?.id ?? null
  );
}
