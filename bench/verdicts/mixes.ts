import { powerOf } from '@pocket-twin/core/kernels/stretchSums.ts';
import { ambience, drums, instrument } from '@pocket-twin/core/synth/instruments.ts';
import { gain, mix, spoken, type Mono } from '@pocket-twin/core/synth/mono.ts';
import { heardBy, randomRoom, type Microphone } from '@pocket-twin/core/synth/shoebox.ts';
import type { Maker } from './case.ts';
import { maybeCoded, withNoise } from './inputs.ts';
import { somewhere } from './rooms.ts';
import { speech } from './sources.ts';

// Mixes, and their sum and difference.

/** Instruments placed by level with a reverberation of their own on each side; sometimes a voice in the middle. */
export const mixdown: Maker = (chance, frames) => {
  const parts = [
    instrument(chance, frames),
    instrument(chance, frames),
    drums(chance, frames),
    ambience(chance, frames),
  ];
  const room = randomRoom(chance);
  const ears: Microphone[] = [-1, 1].map((side) => ({
    at: [room.size[0] / 2 + side, 1, 1.5],
    directivity: 0,
    facing: 0,
  }));
  let sides: [Mono, Mono] = [new Float64Array(frames), new Float64Array(frames)];
  parts.forEach((part, i) => {
    const pan = chance.between(0.15, 0.85);
    const wet = i === 0 ? heardBy(chance, part, somewhere(chance, room.size), ears, room) : null;
    sides = sides.map((side, s) =>
      mix(
        side,
        gain(
          part.map((x) => x * Math.cos(((s === 0 ? pan : 1 - pan) * Math.PI) / 2)),
          -chance.between(0, 8),
        ),
        ...(wet ? [gain(spoken(wet[s], -20), -8)] : []),
      ),
    ) as [Mono, Mono];
  });
  let what = 'stereo: mix';
  if (chance.often(0.4)) {
    const voice = gain(speech(chance, frames), chance.between(0, 8));
    sides = sides.map((side) => mix(side, voice)) as [Mono, Mono];
    what = 'stereo: voice in the middle of music';
  }
  if (chance.often(0.25)) {
    const width = 10 ** (-chance.between(10, 24) / 20);
    const middle = mix(sides[0], sides[1]).map((x) => x / 2);
    const apart = sides[0].map((x, i) => ((x - sides[1][i]) / 2) * width);
    sides = [
      mix(middle, apart),
      mix(
        middle,
        apart.map((x) => -x),
      ),
    ];
    what += ', narrow';
  }
  const coded = maybeCoded(
    chance,
    withNoise(chance, sides.map((side) => side.map((x) => x * 0.5)) as [Mono, Mono], -90),
    0.25,
  );
  // Narrower than the boundary it is one signal by the word; then nothing may be thrown away all the same.
  return {
    what: what + coded.coded,
    verdict: plainNull(coded.sides) <= DUAL_MONO_NULL_DB ? 'dual-mono' : 'stereo',
    ownOnBoth: true,
    sides: coded.sides,
  };
};

const NARROWEST_SIDE_DB = -24;
// Sum and difference of a mix that leans are to the ear, and by every number, a mix that leans the other way: what is handed over is as loud on either side.
const MOST_LEANING_DB = 1.5;

/** What a mix becomes that is kept as sum and difference. */
export const midAndSideOfAMix: Maker = (chance, frames) => {
  let [left, right] = mixdown(chance, frames).sides;
  // What lies 30 dB under the sum is one-sided, by the word.
  while (plainNull([left, right]) < NARROWEST_SIDE_DB || Math.abs(leaningDb([left, right])) > MOST_LEANING_DB)
    [left, right] = mixdown(chance, frames).sides;
  const sides: [Mono, Mono] = [left.map((x, i) => (x + right[i]) / 2), left.map((x, i) => (x - right[i]) / 2)];
  return { what: 'mid and side of a mix', verdict: 'stereo', ownOnBoth: true, finding: 'mid-side', sides };
};

function leaningDb([left, right]: [Mono, Mono]): number {
  return 10 * Math.log10(powerOf(left) / powerOf(right));
}

const DUAL_MONO_NULL_DB = -40;

function plainNull([left, right]: [Mono, Mono]): number {
  let [difference, sum] = [0, 0];
  for (let i = 0; i < left.length; i++) {
    difference += (left[i] - right[i]) ** 2;
    sum += (left[i] + right[i]) ** 2;
  }
  return 10 * Math.log10(difference / sum);
}
