import * as z from 'zod';
import { Repair } from './repair.ts';

/** How loud something is, in LUFS, and its true peak in dBTP; null where there is nothing. */
const Levels = z.object({ loudnessLufs: z.number().nullable(), truePeakDbtp: z.number().nullable() });
export type Levels = z.infer<typeof Levels>;

export const ForecastWanted = z.object({
  repair: Repair,
  /** Of a long clip only what lies spread over it is looked at: near enough to go on by, and there at once. */
  quick: z.boolean().default(false),
});

/** The levels of what a repair would write, one entry an output channel. */
export const Forecast = z.object({
  channels: z.array(Levels),
  /** Not all of the clip was looked at. */
  isEstimate: z.boolean(),
});
export type Forecast = z.infer<typeof Forecast>;
