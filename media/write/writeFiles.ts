import type { Progress } from '@pocket-twin/core/contract/events.ts';
import type { WrittenFile } from '@pocket-twin/core/schema/receipt.ts';
import { proveRendered, renderFile, type RenderJob } from './renderFile.ts';

/** Writes a repair's files and reads them back. */
export async function writeFiles(
  order: Omit<RenderJob, 'onProgress' | 'signal'>,
  onProgress: (progress: Progress) => void,
): Promise<{ files: WrittenFile[]; paths: string[]; levelGainDb: number }> {
  const job: RenderJob = { ...order, onProgress: (share) => onProgress({ stage: 'writing', share }) };
  const rendered = await renderFile(job);
  onProgress({ stage: 'proving', share: 0 });
  return { files: await proveRendered(job, rendered), paths: rendered.paths, levelGainDb: rendered.levelGainDb };
}
