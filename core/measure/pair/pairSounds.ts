import type { SumsOfProducts } from '../../kernels/stretchSums.ts';
import { slowlyShifted } from '../../signal/slowShift.ts';
import { aboveRumble } from '../spectra/aboveRumble.ts';
import { lowerRate } from '../spectra/lowerRate.ts';
import type { SoundReader } from '../soundReader.ts';
import type { SoundRoom } from '../soundRoom.ts';
import { factorBetweenCuts, giveBackPeaks, sumsBetweenCuts, type Ceilings } from './clippedPeaks.ts';
import type { Drift } from './drift.ts';
import type { Jump } from './jump.ts';
import { levelled, type LevelledSound, type StretchSound } from './matchInput.ts';
import { matchMargin } from './pairMatch.ts';
import type { Stretch } from './stretches.ts';

// Above this rate every second sample is enough for a second look: what voices, rooms and crossovers tell lies below 10 kHz.
const HIGHEST_RATE = 25000;
// What a telephone, a coder or a poor link takes off lies higher.
const HIGHEST_HEARD_RATE = 50000;

/** What comes between two channels as time goes on. */
export type Apart = Drift | Jump | null;

interface Source {
  read: SoundReader;
  room: SoundRoom;
  channels: [number, number];
  ceilings: Ceilings;
  sampleRate: number;
  /** Of every stretch that is asked for, at the clip's own rate. */
  stretchFrames: number;
}

/** Stretches of two channels as they are looked at again: at a rate that is enough, each read once. */
export class PairSounds {
  /** How often the clip's own rate is halved. */
  readonly halvings: number;
  readonly rate: number;
  /** Samples beyond either end of each sound. */
  readonly margin: number;
  private readonly length: number;
  private readonly around: number;
  private readonly frames: number;
  private readonly inputs: Float64Array[];
  /** What was read as it is. */
  private readonly kept = new Map<number, LevelledSound>();
  private peaks: { shift: number; factor: number } | null = null;

  constructor(private readonly source: Source) {
    const { sampleRate, room, stretchFrames } = source;
    this.halvings = halvingsTo(HIGHEST_RATE, sampleRate);
    this.rate = sampleRate / 2 ** this.halvings;
    this.margin = matchMargin(this.rate);
    this.length = stretchFrames >> this.halvings;
    this.around = this.margin << this.halvings;
    this.frames = (this.length << this.halvings) + 2 * this.around;
    this.inputs = [0, 1].map(() => room.take(this.frames));
  }

  /** Both sides from a frame on, with what comes between them undone. What is given may be given again: it is not to be changed. */
  async at(startFrame: number, apart: Apart): Promise<LevelledSound> {
    const known = apart === null ? this.kept.get(startFrame) : undefined;
    if (known) return known;
    const { ceilings, room } = this.source;
    const [left, right] = await this.readBeside(startFrame, apart);
    if (this.peaks) giveBackPeaks({ left, right }, this.peaks.shift, ceilings, this.peaks.factor);
    const low = [left, right].map((side) => aboveRumble(lowerRate(side, this.halvings, room), this.rate, room));
    const sound = levelled({ startFrame, left: low[0], right: low[1] });
    if (apart === null) this.kept.set(startFrame, sound);
    return sound;
  }

  /**
   * What was cut off on one side of a signal that both carry is given back from the other, from here on.
   * @param stretches where both are loud @param shift samples that the right side is later @returns whether anything is
   */
  async giveBackCuts(stretches: readonly Stretch[], shift: number): Promise<boolean> {
    const { read, channels, ceilings } = this.source;
    const sums: SumsOfProducts[] = [];
    for (const { startFrame } of stretches) {
      const [left, right] = await read(startFrame - this.around, this.frames, channels, this.inputs);
      sums.push(sumsBetweenCuts({ left, right }, shift, ceilings));
    }
    const factor = factorBetweenCuts(sums);
    if (factor === null) return false;
    this.peaks = { shift, factor };
    this.kept.clear();
    return true;
  }

  /** Stretches without a margin, up to what is heard, the right side so many samples earlier. */
  async heard(stretches: readonly Stretch[], lag: number): Promise<StretchSound[]> {
    const { read, room, channels } = this.source;
    const halvings = this.heardHalvings;
    const count = this.length << this.halvings;
    // Both sides by one read, which takes frames whole.
    const before = Math.max(0, -lag);
    const frames = count + Math.abs(lag);
    const sounds: StretchSound[] = [];
    for (const { startFrame } of stretches) {
      const into = channels.map(() => room.take(frames));
      const sides = await read(startFrame - before, frames, channels, into);
      const [left, right] = [before, before + lag].map((first, s) => sides[s].subarray(first, first + count));
      sounds.push({ startFrame, left: lowerRate(left, halvings, room), right: lowerRate(right, halvings, room) });
    }
    return sounds;
  }

  /** Of what `heard` gives. */
  get heardRate(): number {
    return this.source.sampleRate / 2 ** this.heardHalvings;
  }

  private get heardHalvings(): number {
    return halvingsTo(HIGHEST_HEARD_RATE, this.source.sampleRate);
  }

  private readBeside(startFrame: number, apart: Apart): Promise<Float64Array[]> {
    const { read, room, channels } = this.source;
    const start = startFrame - this.around;
    if (apart !== null && 'slope' in apart) return this.readWithoutDrift(start, apart);
    if (apart !== null) return this.readBesideJump(startFrame, apart);
    // As it is at its own rate it is kept; else only what is made of it.
    const into = this.halvings > 0 ? this.inputs : this.inputs.map(() => room.take(this.frames));
    return read(start, this.frames, channels, into);
  }

  /** The right side read where it is, as its clock goes. */
  private async readWithoutDrift(start: number, { slope }: Drift): Promise<Float64Array[]> {
    const { read, channels } = this.source;
    const whole = Math.round(slope * (start + this.frames / 2));
    const [left] = await read(start, this.frames, [channels[0]]);
    const [right] = await read(start + whole, this.frames, [channels[1]]);
    return [left, slowlyShifted(right, (i) => slope * (start + i) - whole)];
  }

  /** The right side of what lies after a jump read so much later that it comes as before. */
  private async readBesideJump(startFrame: number, { latestFrame, samples }: Jump): Promise<Float64Array[]> {
    const { read, channels } = this.source;
    const start = startFrame - this.around;
    if (startFrame < latestFrame) return read(start, this.frames, channels);
    const whole = Math.round(samples);
    const [left] = await read(start, this.frames, [channels[0]]);
    const [right] = await read(start + whole, this.frames, [channels[1]]);
    return [left, slowlyShifted(right, () => samples - whole)];
  }
}

function halvingsTo(highestRate: number, sampleRate: number): number {
  let halvings = 0;
  while (sampleRate / 2 ** halvings > highestRate) halvings++;
  return halvings;
}
