import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import * as z from 'zod';
import { ClipVerdict, Side } from '@pocket-twin/core/schema/verdict.ts';

export const TRUTH_FILE = 'truth.json';

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
const DemoTruth = z.array(ClipTruth);

/** Of the clips in a folder that `buildDemo` has made. */
export async function readTruth(folder: string): Promise<ClipTruth[]> {
  return DemoTruth.parse(JSON.parse(await readFile(join(folder, TRUTH_FILE), 'utf8')));
}
