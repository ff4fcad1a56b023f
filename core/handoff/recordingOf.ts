import { lostChannels } from '../repair/plan/leftOut.ts';
import { outputChannelNames } from '../repair/plan/outputNames.ts';
import type { ClipFacts } from '../schema/clipFacts.ts';
import type { HandedOffFileFacts, HandedOffRecording } from '../schema/handedOffRecording.ts';
import type { Inspection } from '../schema/inspection.ts';
import type { Repair, RepairOutput } from '../schema/repair.ts';
import type { SecondsSpan } from '../time/spans.ts';

interface Measured {
  source: string;
  path: string;
  inspection: Inspection;
  facts: ClipFacts;
}

/** A recording as an edit may mean it, with nothing of it handed off. */
export function recordingOf({ source, path, inspection: { format }, facts }: Measured): HandedOffRecording {
  return {
    source,
    path,
    reel: facts.tape,
    startSeconds: facts.startSamples === null ? null : facts.startSamples / format.sampleRate,
    durationSeconds: format.durationSeconds,
    sampleRate: format.sampleRate,
    hasPicture: format.hasVideo,
    streams: facts.streams.length > 0 ? facts.streams.map(({ channels }) => channels) : [format.channels],
    lost: [],
    pieces: [],
  };
}

/** What was written of a stretch of it. */
export interface WrittenPiece extends SecondsSpan {
  /** null where it was copied as it is. */
  repair: Repair | null;
  paths: string[];
  hasPicture: boolean;
}

/** The same with what was handed off of it. */
export function withPieces(clip: Measured, pieces: readonly WrittenPiece[]): HandedOffRecording {
  const recording = recordingOf(clip);
  const repair = pieces.find((piece) => piece.repair !== null)?.repair ?? null;
  return {
    ...recording,
    lost: repair ? lostChannels(repair, clip.inspection) : [],
    pieces: pieces.map(({ startSeconds, endSeconds, ...written }) => ({
      startSeconds,
      endSeconds,
      files: filesOf(written, recording.streams, clip.facts.trackNames),
    })),
  };
}

/** A file an output; in a film, or where it was copied, all sound in one. */
function filesOf(
  { repair, paths, hasPicture }: Pick<WrittenPiece, 'repair' | 'paths' | 'hasPicture'>,
  streams: readonly number[],
  names: readonly (string | null)[],
): HandedOffFileFacts[] {
  if (repair === null) return [{ path: paths[0], label: '', hasPicture, streams: straight(streams) }];
  if (paths.length === 1)
    return [{ path: paths[0], label: '', hasPicture, streams: repair.outputs.map((_, i) => feeds(repair, i)) }];
  return paths.map((path, i) => ({
    path,
    label: labelOf(repair.outputs[i], names),
    hasPicture: false,
    streams: [feeds(repair, i)],
  }));
}

function straight(streams: readonly number[]): number[][][] {
  let channel = 0;
  return streams.map((count) => Array.from({ length: count }, () => [++channel]));
}

/** Which channels feed each of an output's, in whichever section. */
function feeds({ outputs, sections }: Repair, index: number): number[][] {
  const first = outputs.slice(0, index).reduce((sum, { routes }) => sum + routes.length, 0);
  return outputs[index].routes.map((route, i) => {
    const all = [route, ...(sections?.list ?? []).map(({ routes }) => routes[first + i])].flat();
    return [...new Set(all.map(({ from }) => from))].sort((a, b) => a - b);
  });
}

/** By the names of its channels, else as the repair calls it: "left" of "-left". */
function labelOf(output: RepairOutput, names: readonly (string | null)[]): string {
  const named = [...new Set(outputChannelNames(output, names))].filter((name) => name !== null);
  return named.length > 0 ? named.join(', ') : output.suffix.replace(/^[-_ ]+/, '');
}
