import { once } from 'node:events';
import { createRequire } from 'node:module';
import { Worker } from 'node:worker_threads';
import { readTruth, type ClipTruth } from './truth.ts';

// By name, as this may be part of a built program that lies elsewhere.
const BOOT = createRequire(import.meta.url).resolve('@pocket-twin/demo/boot.mjs');

/** Builds the demo in a thread of its own: what building takes, hundreds of megabytes, goes with the thread. @returns what is true about each clip */
export async function buildApart(folder: string): Promise<ClipTruth[]> {
  const builder = new Worker(BOOT, { argv: [folder], stdout: true });
  builder.stdout.resume();
  const [status] = (await once(builder, 'exit')) as [number];
  if (status !== 0) throw new Error('The demo could not be built.');
  return readTruth(folder);
}
