import { chooseStretches, type Stretch } from './stretches.ts';
import { matchMargin, matchPair, type PairMatch, type StretchSound } from './pairMatch.ts';
import type { Measurement } from './measurement.ts';
import { lowerRate } from '../signal/lowerRate.ts';

/** Reads frames of some channels (from 1); zeros where the clip has none. */
export type SoundReader = (startFrame: number, frames: number, channels: number[]) => Promise<Float64Array[]>;

// Above this rate every second sample is enough for a second look.
const HIGHEST_RATE = 50000;

/** Looks at a bounded number of stretches of two channels again, within blocks `from` up to `to`. */
export async function lookAgain(
  measurement: Measurement, channels: [number, number], read: SoundReader, from = 0, to = measurement.channels[0].blockPower.length,
): Promise<PairMatch | null> {
  const { sampleRate, blockSeconds, frames } = measurement;
  const sides = channels.map((channel) => measurement.channels[channel - 1]);
  const { active, pauses } = chooseStretches([sides[0], sides[1]], { sampleRate, blockSeconds, from, to, frames });
  if (active.length === 0) return null;
  let halvings = 0;
  while (sampleRate / 2 ** halvings > HIGHEST_RATE) halvings++;
  const rate = sampleRate / 2 ** halvings;
  const margin = matchMargin(rate);
  const length = Math.min(...[...active, ...pauses].map((stretch) => stretch.frames)) >> halvings;
  const fetch = async (stretch: Stretch): Promise<StretchSound> => {
    const around = margin << halvings;
    const [left, right] = await read(stretch.startFrame - around, (length << halvings) + 2 * around, channels);
    return { startFrame: stretch.startFrame, left: lowerRate(left, halvings), right: lowerRate(right, halvings) };
  };
  const match = matchPair({ sampleRate: rate, margin, active: await inTurn(active, fetch), pauses: await inTurn(pauses, fetch) });
  return halvings === 0 ? match : atRate(match, 2 ** halvings);
}

async function inTurn<From, To>(items: From[], fetch: (item: From) => Promise<To>): Promise<To[]> {
  const results: To[] = [];
  for (const item of items) results.push(await fetch(item));
  return results;
}

/** Delays in samples of the clip's own rate. */
function atRate(match: PairMatch, factor: number): PairMatch {
  const scaled = <T extends { delaySamples: number }>(arrival: T): T => ({ ...arrival, delaySamples: arrival.delaySamples * factor });
  return {
    ...match,
    delaySamples: match.delaySamples * factor,
    arrival: scaled(match.arrival),
    arrivals: match.arrivals.map(scaled),
    leaning: {
      left: match.leaning.left && scaled(match.leaning.left), right: match.leaning.right && scaled(match.leaning.right),
    },
  };
}
