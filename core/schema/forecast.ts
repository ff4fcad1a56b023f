import * as z from 'zod';

/** The levels of what a repair would write, one entry an output channel. */
export const Forecast = z.object({
  channels: z.array(z.object({ loudnessLufs: z.number().nullable(), truePeakDbtp: z.number().nullable() })),
});
export type Forecast = z.infer<typeof Forecast>;
