import type { EvidenceWanted } from '@pocket-twin/core/schema/evidence.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { forecastRepair } from '../forecastRepair.ts';
import { gatherEvidence } from '../gatherEvidence.ts';
import { inspectFile, measureForDelivery } from '../inspectFile.ts';
import { proveRendered, renderFile, type RenderJob } from '../renderFile.ts';
import { readSketch } from '../sketch.ts';

type Progress = (share: number) => void;

/** What a worker thread can be asked to do. Input and result are plain data. */
export const tasks = {
  inspect: async (input: { path: string; outlineFolder: string; workingCopy: string }, onProgress: Progress) => {
    const { inspection, pcm } = await inspectFile(input.path, { ...input, onProgress });
    const sketch = await readSketch(input.outlineFolder, inspection.format.frames, inspection.format.channels);
    return { inspection, pcm: pcm!, sketch };
  },
  write: async (input: Omit<RenderJob, 'onProgress' | 'signal'>, onProgress: Progress) => {
    // Reading back takes about as long as writing.
    const job: RenderJob = { ...input, onProgress: (share) => onProgress(share / 2) };
    const rendered = await renderFile(job);
    const files = await proveRendered(job, rendered);
    onProgress(1);
    return { files, paths: rendered.paths, levelGainDb: rendered.levelGainDb };
  },
  delivery: (input: { path: string }) => measureForDelivery(input.path),
  evidence: (input: { source: PcmLocation; wanted: EvidenceWanted }) => gatherEvidence(input.source, input.wanted),
  forecast: (input: { source: PcmLocation; repair: Repair }) => forecastRepair(input.source, input.repair),
};

export type Tasks = typeof tasks;
export type TaskName = keyof Tasks;
