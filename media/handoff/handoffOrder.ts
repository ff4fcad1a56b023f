import { mkdtemp } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { Progress } from '@pocket-twin/core/contract/events.ts';
import type { FileStamp } from '@pocket-twin/core/contract/jobs.ts';
import type { ManifestEntry } from '@pocket-twin/core/handoff/manifest.ts';
import { pathsFor } from '@pocket-twin/core/handoff/paths.ts';
import type { ClipSums } from '@pocket-twin/core/measure/stream/clipSums.ts';
import type { ClipFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { ConformLine, HandoffBits, HandoffFormat } from '@pocket-twin/core/schema/handoff.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import type { Receipt } from '@pocket-twin/core/schema/receipt.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { FrameSpan } from '@pocket-twin/core/time/spans.ts';
import type { Sketch } from '@pocket-twin/core/schema/sketch.ts';
import { inThread } from '../threads/inThread.ts';
import type { FilmStretch } from './filmStretch.ts';
import { writeRepair, type WriteOrder } from '../write/writeRepair.ts';

export interface HandoffClip {
  path: string;
  inspection: Inspection;
  facts: ClipFacts;
  pcm: PcmLocation;
  /** Its ribbon in little. */
  sketch: Sketch | null;
  /** What measuring it has added up, or the file where that is kept. */
  sums: ClipSums | string | null;
  /** What the file was when it was measured; null where it is ours. */
  stamp: FileStamp | null;
}

/** Where a clip is cut: its sound in frames, and its picture where that comes along. */
export interface ClipCut extends FrameSpan {
  film: FilmStretch | null;
}

export interface HandoffOrder {
  clip: HandoffClip;
  /** null leaves the clip as it is. */
  repair: Repair | null;
  /** Only this stretch; null is all of it. What needs nothing is never cut. */
  span: ClipCut | null;
  folder: string;
  /** Where its files go within the folder, without the suffix of several and the ending. */
  stem: string;
  format: HandoffFormat;
  bits: HandoffBits;
  /** Where a container takes coded sound alone, at so many kbit/s for each channel. */
  codedKbits: number;
  /** A folder for what is not whole yet, on the same disk. */
  scratch: string;
  /** Measuring and writing go to threads of their own; else they are done in this one. */
  inThreads: boolean;
  /** Gives paths within the folder that nothing else has; asked once for a clip. */
  claim: (paths: string[]) => Promise<string[]>;
  /** The new files are as old as the recording's. */
  keepsTimes?: boolean;
  /** Stops what goes on in threads, and what has not begun. */
  signal?: AbortSignal;
}

/** A written file: its path within the folder, old against new, and its checksums. */
export interface HandedOffFile {
  path: string;
  conform: ConformLine[];
  checksums: Omit<ManifestEntry, 'path'>;
}

export interface HandedOff {
  receipt: Receipt;
  files: HandedOffFile[];
}

/** The files a clip becomes, within the folder, as the order names them. */
export function pathsOf({ clip, repair, format, stem }: HandoffOrder): string[] {
  const { container, hasVideo } = clip.inspection.format;
  return pathsFor(
    { fileName: basename(clip.path), container, hasVideo, repair, format, trackNames: clip.facts.trackNames },
    stem,
  );
}

/** Clips are worked on side by side, and may be called alike: each has a folder of its own in the scratch folder. */
export function ownFolder(scratch: string): Promise<string> {
  return mkdtemp(join(scratch, 'clip-'));
}

export function write(
  { inThreads, signal }: HandoffOrder,
  job: WriteOrder,
  onProgress: (progress: Progress) => void,
): Promise<Receipt> {
  return inThreads ? inThread('write', job, { onProgress, signal }) : writeRepair(job, onProgress);
}
