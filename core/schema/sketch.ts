import * as z from 'zod';

/** A ribbon in little: the peak of each column in whole dBFS, null where there is nothing. */
export const Sketch = z.array(z.object({ channel: z.int(), peaksDbfs: z.array(z.int().nullable()) }));
export type Sketch = z.infer<typeof Sketch>;
