import type { Progress } from '@pocket-twin/core/schema/changes.ts';
import type { EvidenceWanted } from '@pocket-twin/core/schema/evidence.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { contentHash } from '../contentHash.ts';
import { forecastRepair } from '../forecastRepair.ts';
import { gatherEvidence } from '../gatherEvidence.ts';
import { inspectFile, measureLaterPart } from '../inspectFile.ts';
import { proveRendered, renderFile, type RenderJob } from '../renderFile.ts';
import { readSketch } from '../sketch.ts';
import { writeStillOf } from '../still.ts';

type OnProgress = (progress: Progress) => void;

/** What a worker thread can be asked to do. Input and result are plain data. */
export const tasks = {
  inspect: async (input: { path: string; bytes: number; outlineFolder: string; workingCopy: string; stillPath: string }, onProgress: OnProgress) => {
    const { inspection, facts, pcm } = await inspectFile(input.path, { ...input, onProgress });
    const sketch = await readSketch(input.outlineFolder, inspection.format.frames, inspection.format.channels);
    const hasStill = inspection.format.hasVideo && await writeStillOf(input.path, inspection.format.durationSeconds, input.stillPath);
    const hash = await contentHash(input.path, (bytes) => onProgress({ stage: 'comparing', share: bytes / Math.max(1, input.bytes) }));
    return { inspection, facts, pcm: pcm!, sketch, hasStill, hash };
  },
  write: async (input: Omit<RenderJob, 'onProgress' | 'signal'>, onProgress: OnProgress) => {
    const job: RenderJob = { ...input, onProgress: (share) => onProgress({ stage: 'writing', share }) };
    const rendered = await renderFile(job);
    onProgress({ stage: 'proving', share: 0 });
    const files = await proveRendered(job, rendered);
    return { files, paths: rendered.paths, levelGainDb: rendered.levelGainDb };
  },
  measurePart: measureLaterPart,
  evidence: (input: { source: PcmLocation; wanted: EvidenceWanted }) => gatherEvidence(input.source, input.wanted),
  forecast: (input: { source: PcmLocation; repair: Repair }) => forecastRepair(input.source, input.repair),
};

export type Tasks = typeof tasks;
export type TaskName = keyof Tasks;
