import { namePattern } from './namePattern.ts';
import { soundOf, type SetupClip } from './setupClip.ts';

/** What the clips of a setup have shown so far. Grows a clip at a time, so that thousands can be placed. */
export class SetupProfile {
  readonly members: SetupClip[] = [];
  private readonly sums = new Map<string, Map<string, number>>();
  private readonly floors: { sum: number; count: number; silent: number }[] = [];
  private earliest = Infinity;
  private latest = -Infinity;

  add(clip: SetupClip): void {
    this.members.push(clip);
    this.count('recorder', clip.recorder);
    this.count('tracks', tracksOf(clip));
    this.count('pattern', namePattern(clip.fileName));
    this.count('folder', clip.folder || null);
    this.count('sound', soundOf(clip));
    this.count('words', wordsOf(clip));
    clip.noiseFloorsDbfs.forEach((floor, channel) => {
      const known = (this.floors[channel] ??= { sum: 0, count: 0, silent: 0 });
      if (floor === null) known.silent++;
      else {
        known.sum += floor;
        known.count++;
      }
    });
    const at = clip.recordedAt === null ? NaN : Date.parse(clip.recordedAt);
    if (!Number.isNaN(at)) {
      this.earliest = Math.min(this.earliest, at);
      this.latest = Math.max(this.latest, at);
    }
  }

  /** Whether any, or none, of the members say this. */
  has(kind: string, value: string): 'yes' | 'no' | 'unknown' {
    const known = this.sums.get(kind);
    if (!known || known.size === 0) return 'unknown';
    return known.has(value) ? 'yes' : 'no';
  }

  mostHave(kind: string, value: string): boolean {
    return (this.sums.get(kind)?.get(value) ?? 0) * 2 > this.members.length;
  }

  /** Mean over the channels of how far a clip's noise floors lie from the usual ones; null where there is nothing to compare. */
  floorDistanceDb(floors: (number | null)[]): number | null {
    let sum = 0;
    let compared = 0;
    floors.forEach((floor, channel) => {
      const known = this.floors[channel];
      if (!known) return;
      const usuallySilent = known.silent > known.count;
      if (floor === null || usuallySilent) {
        // A switched-off input is silent in every take; one that hisses is not that input.
        if ((floor === null) !== usuallySilent) sum += FLOOR_OF_ANOTHER_INPUT_DB;
      } else {
        sum += Math.abs(floor - known.sum / known.count);
      }
      compared++;
    });
    return compared === 0 ? null : sum / compared;
  }

  hoursAway(recordedAt: string | null): number | null {
    const at = recordedAt === null ? NaN : Date.parse(recordedAt);
    if (Number.isNaN(at) || this.earliest === Infinity) return null;
    return Math.max(0, this.earliest - at, at - this.latest) / 3_600_000;
  }

  private count(kind: string, value: string | null): void {
    const counts = this.sums.get(kind) ?? new Map<string, number>();
    this.sums.set(kind, counts);
    if (value !== null) counts.set(value, (counts.get(value) ?? 0) + 1);
  }
}

const FLOOR_OF_ANOTHER_INPUT_DB = 20;

/** Clips of one setup reach this; see the weights below. */
export const KIN = 2;

// The recorder's own name decides alone. A series' name nearly does, and then the sound must not speak against it. Sound alone must agree in
// its dead side and in its noise.
const SAME_RECORDER = 3;
const SAME_SERIES = 2;
const SAME_TRACKS = 1.5;
const SAME_FOLDER = 0.5;
const SAME_DEAD_SIDE = 1.5;
const SAME_SOUND = 0.5;
const SAME_NOISE = 0.5;
const NEAR_IN_TIME = 0.5;
const CLOSE_FLOOR_DB = 4;
const DISTANT_FLOOR_DB = 12;
const NEAR_HOURS = 3;
const DISTANT_HOURS = 20;

/** How much speaks for a clip having been recorded by the same setup as these; minus infinity where it cannot have been. */
export function kinship(clip: SetupClip, setup: SetupProfile): number {
  const [first] = setup.members;
  if (clip.channels !== first.channels || clip.sampleRate !== first.sampleRate) return -Infinity;
  let score = 0;
  if (clip.recorder !== null) {
    const known = setup.has('recorder', clip.recorder);
    if (known === 'no') return -Infinity;
    if (known === 'yes') score += SAME_RECORDER;
  }
  const tracks = tracksOf(clip);
  if (tracks !== null) score += { yes: SAME_TRACKS, no: -SAME_TRACKS, unknown: 0 }[setup.has('tracks', tracks)];
  if (setup.has('pattern', namePattern(clip.fileName)) === 'yes') score += SAME_SERIES;
  if (clip.folder !== '') score += { yes: SAME_FOLDER, no: -1, unknown: 0 }[setup.has('folder', clip.folder)];
  if (setup.has('words', wordsOf(clip)) === 'no') score -= 0.5;
  const hours = setup.hoursAway(clip.recordedAt);
  if (hours !== null) score += hours <= NEAR_HOURS ? NEAR_IN_TIME : hours >= DISTANT_HOURS ? -1 : 0;
  return score + soundKinship(clip, setup);
}

/** An odd take is still a take of its setup: another verdict does not speak against it, another dead side does. */
function soundKinship(clip: SetupClip, setup: SetupProfile): number {
  let score = 0;
  if (setup.mostHave('sound', soundOf(clip))) score += clip.verdict === 'one-sided' ? SAME_DEAD_SIDE : SAME_SOUND;
  else if (clip.side !== null && setup.mostHave('sound', `${clip.verdict} ${clip.side === 'left' ? 'right' : 'left'}`))
    score -= 1;
  const floor = setup.floorDistanceDb(clip.noiseFloorsDbfs);
  if (floor !== null) score += floor <= CLOSE_FLOOR_DB ? SAME_NOISE : floor >= DISTANT_FLOOR_DB ? -0.5 : 0;
  return score;
}

function tracksOf({ trackNames }: SetupClip): string | null {
  return trackNames.some((name) => name !== null) ? trackNames.join('\n') : null;
}

function wordsOf({ codec, bitDepth }: SetupClip): string {
  return `${codec} ${bitDepth}`;
}
