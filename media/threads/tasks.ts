import { basename } from 'node:path';
import type { Progress } from '@pocket-twin/core/contract/events.ts';
import { findOn } from '@pocket-twin/core/repair/propose/findOn.ts';
import type { Finds } from '@pocket-twin/core/schema/proposal.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import type { EvidenceWanted } from '@pocket-twin/core/schema/evidence.ts';
import type { FrameSpan } from '@pocket-twin/core/time/spans.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { Joining } from '@pocket-twin/core/schema/joining.ts';
import { measureJoin } from '../join/measureJoin.ts';
import { writeJoin, type JoinSource } from '../join/writeJoin.ts';
import { contentHash } from '../disk/contentHash.ts';
import { diskTrouble } from '../disk/diskTrouble.ts';
import { forecastRepair } from '../write/forecastRepair.ts';
import { moveInFilm } from '../handoff/moveInFilm.ts';
import { replaceSound } from '../handoff/replaceSound.ts';
import { verifiedFolder } from '../handoff/verifyFolder.ts';
import { canKeepSums, keepSums } from '../read/keptSums.ts';
import { gatherEvidence } from '../read/gatherEvidence.ts';
import { inspectFile, measureLaterPart } from '../read/inspectFile.ts';
import { readSketch } from '../read/sketch.ts';
import { programmeOf } from '../write/measureRepair.ts';
import { measureLineUp } from '../read/measureLineUp.ts';
import { withClipSound } from '../read/clipSound.ts';
import { writeStillOf } from '../picture/still.ts';
import { writeRepair } from '../write/writeRepair.ts';

type OnProgress = (progress: Progress) => void;

/** What a worker thread can be asked to do. Input and result are plain data. */
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
      (await writeStillOf(input.path, inspection.format.durationSeconds, input.stillPath));
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
  find: (input: { source: PcmLocation; base: Repair; finds: Finds; inspection: Inspection }) =>
    withClipSound(input.source, (sound) => findOn(input.base, input.finds, input.inspection, sound)),
  lineUp: (input: { source: PcmLocation; channels: [number, number]; span: FrameSpan }) => measureLineUp(input),
  programme: (input: { source: PcmLocation; repair: Repair }) => programmeOf(input.source, input.repair),
  kinship: (input: { first: PcmLocation; other: PcmLocation }) => measureJoin(input.first, input.other),
  join: (
    input: { sources: JoinSource[]; joining: Pick<Joining, 'padsFrames' | 'frames'>; target: string },
    onProgress: OnProgress,
  ) => writeJoin(input.sources, input.joining, input.target, false, (share) => onProgress({ stage: 'joining', share })),
  write: writeRepair,
  replaceSound,
  moveInFilm,
  verify: ({ folder }: { folder: string }) => verifiedFolder(folder),
  measurePart: measureLaterPart,
  evidence: (input: { source: PcmLocation; wanted: EvidenceWanted }) => gatherEvidence(input.source, input.wanted),
  forecast: (input: { source: PcmLocation; repair: Repair; quick: boolean }) =>
    forecastRepair(input.source, input.repair, input.quick),
};

export type Tasks = typeof tasks;
export type TaskName = keyof Tasks;
