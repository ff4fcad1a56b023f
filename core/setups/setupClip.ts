import type { ClipVerdict, Side } from '../schema/verdict.ts';

/** What is looked at to tell by what a clip was recorded. */
export interface SetupClip {
  id: string;
  fileName: string;
  /** The folder it came in; empty where it came alone. */
  folder: string;
  recorder: string | null;
  trackNames: (string | null)[];
  /** ISO 8601; null where the file does not say. */
  recordedAt: string | null;
  channels: number;
  /** Of its audio stream, as "5.1"; null where none is said. */
  layout: string | null;
  sampleRate: number;
  bitDepth: number | null;
  codec: string;
  hasVideo: boolean;
  verdict: ClipVerdict;
  side: Side | null;
  /** One a channel; null for digital silence. */
  noiseFloorsDbfs: (number | null)[];
}

/** "one-sided left": what most clips of a setup share. */
export function soundOf({ verdict, side }: Pick<SetupClip, 'verdict' | 'side'>): string {
  return side ? `${verdict} ${side}` : verdict;
}

/** What most of them carry; of several equally often found the one that comes first. */
export function majority<Value>(values: Value[]): Value | null {
  const counts = new Map<Value, number>();
  for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
  let best: Value | null = null;
  for (const [value, count] of counts) if (best === null || count > counts.get(best)!) best = value;
  return best;
}
