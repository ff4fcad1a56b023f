import { basename } from 'node:path';
import type { FolderToComplete } from '../handoff/completeFolder.ts';
import type { Progress } from '@pocket-twin/core/contract/events.ts';
import type { Finds } from '@pocket-twin/core/schema/proposal.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import type { EvidenceWanted } from '@pocket-twin/core/schema/evidence.ts';
import type { FrameSpan } from '@pocket-twin/core/time/spans.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { Joining } from '@pocket-twin/core/schema/joining.ts';
import type { JoinSource } from '../join/writeJoin.ts';
import { diskTrouble } from '../disk/diskTrouble.ts';
import { canKeepSums, keepSums } from '../read/keptSums.ts';
import { inspectFile } from '../read/inspectFile.ts';
import { readSketch } from '../read/sketch.ts';
import type { MoveOrder } from '../handoff/moveInFilm.ts';
import type { ReplaceOrder } from '../handoff/replaceSound.ts';
import type { WriteOrder } from '../write/writeRepair.ts';

type OnProgress = (progress: Progress) => void;

/** What a worker thread can be asked to do. Input and result are plain data. What inspecting does not need is read when it is asked for: a thread starts the sooner. */
export const tasks = {
  inspect: async (
    input: {
      path: string;
      bytes: number;
      outlineFolder: string;
      workingCopy: string;
      stillPath: string;
      sumsPath: string;
    },
    onProgress: OnProgress,
  ) => {
    const { inspection, facts, pcm, sums } = await inspectFile(input.path, { ...input, onProgress });
    await keepSums(input.sumsPath, sums);
    const sketch = await readSketch(input.outlineFolder, inspection.format.frames, inspection.format.channels);
    const hasStill =
      inspection.format.hasVideo &&
      (await (
        await import('../picture/still.ts')
      ).writeStillOf(input.path, inspection.format.durationSeconds, input.stillPath));
    const { contentHash } = await import('../disk/contentHash.ts');
    const hash = await contentHash(input.path, (bytes) =>
      onProgress({ stage: 'comparing', share: bytes / Math.max(1, input.bytes) }),
    ).catch((error: unknown) => {
      throw diskTrouble(error, basename(input.path)) ?? error;
    });
    return { inspection, facts, pcm: pcm!, sketch, hasStill, hash };
  },
  look: async (input: { path: string; workingCopy?: string; outlineFolder?: string }, onProgress: OnProgress) => {
    const { sums, ...inspected } = await inspectFile(input.path, { ...input, onProgress });
    return { ...inspected, sums: canKeepSums(sums) ? sums : null };
  },
  find: async (input: { source: PcmLocation; base: Repair; finds: Finds; inspection: Inspection }) => {
    const [{ findOn }, { withClipSound }] = await Promise.all([
      import('@pocket-twin/core/repair/propose/findOn.ts'),
      import('../read/clipSound.ts'),
    ]);
    return withClipSound(input.source, (sound) => findOn(input.base, input.finds, input.inspection, sound));
  },
  lineUp: async (input: { source: PcmLocation; channels: [number, number]; span: FrameSpan }) =>
    (await import('../read/measureLineUp.ts')).measureLineUp(input),
  programme: async (input: { source: PcmLocation; repair: Repair }) =>
    (await import('../write/measureRepair.ts')).programmeOf(input.source, input.repair),
  kinship: async (input: { first: PcmLocation; other: PcmLocation }) =>
    (await import('../join/measureJoin.ts')).measureJoin(input.first, input.other),
  join: async (
    input: { sources: JoinSource[]; joining: Pick<Joining, 'padsFrames' | 'frames'>; target: string },
    onProgress: OnProgress,
  ) =>
    (await import('../join/writeJoin.ts')).writeJoin(input.sources, input.joining, input.target, false, (share) =>
      onProgress({ stage: 'joining', share }),
    ),
  write: async (order: WriteOrder, onProgress: OnProgress) =>
    (await import('../write/writeRepair.ts')).writeRepair(order, onProgress),
  replaceSound: async (order: ReplaceOrder, onProgress: OnProgress) =>
    (await import('../handoff/replaceSound.ts')).replaceSound(order, onProgress),
  moveInFilm: async (order: MoveOrder, onProgress: OnProgress) =>
    (await import('../handoff/moveInFilm.ts')).moveInFilm(order, onProgress),
  hash: async ({ path }: { path: string }) => (await import('../disk/contentHash.ts')).contentHash(path),
  complete: async (order: FolderToComplete) => (await import('../handoff/completeFolder.ts')).completeFolder(order),
  verify: async ({ folder }: { folder: string }) => (await import('../handoff/verifyFolder.ts')).verifiedFolder(folder),
  evidence: async (input: { source: PcmLocation; wanted: EvidenceWanted }) =>
    (await import('../read/gatherEvidence.ts')).gatherEvidence(input.source, input.wanted),
  forecast: async (input: { source: PcmLocation; repair: Repair; quick: boolean }) =>
    (await import('../write/forecastRepair.ts')).forecastRepair(input.source, input.repair, input.quick),
};

export type Tasks = typeof tasks;
export type TaskName = keyof Tasks;
