import * as z from 'zod';
import { ClipVerdict, Side } from '@pocket-twin/core/schema/verdict.ts';

/** What is really on a clip of the demo. */
export const ClipTruth = z.object({
  file: z.string(),
  setup: z.string(),
  verdict: ClipVerdict,
  side: Side.nullable(),
  /** One plain sentence on how the clip was made. */
  made: z.string(),
});
export type ClipTruth = z.infer<typeof ClipTruth>;
export const DemoTruth = z.array(ClipTruth);
