import { passFilter } from '@pocket-twin/core/signal/biquad.ts';
import { slowlyShifted } from '@pocket-twin/core/signal/slowShift.ts';
import { filtered, swaying } from '@pocket-twin/core/synth/filters.ts';
import { mix, gain, RATE, type Mono } from '@pocket-twin/core/synth/mono.ts';
import { hiss } from '@pocket-twin/core/synth/noise.ts';
import type { Chance } from '@pocket-twin/core/synth/chance.ts';
import type { Maker } from './case.ts';
import { throughCodec, type Codec } from './codec.ts';
import { speech } from './sources.ts';

// One signal on both sides in disguises that no fixed filter undoes.

/** A sound as a clock hears it that runs apart by so many parts in a million, from a delay on. */
function byClock(sound: Mono, ppm: number, delaySamples: number): Mono {
  const part = 4096;
  const out = new Float64Array(sound.length);
  const slope = -ppm * 1e-6;
  for (let from = 0; from < sound.length; from += part) {
    const whole = Math.round(slope * from - delaySamples);
    const around = new Float64Array(part + 128).map((_, i) => sound[from + whole + i - 64] ?? 0);
    const shifted = slowlyShifted(around, (i) => slope * (from + i - 64) - delaySamples - whole);
    out.set(shifted.subarray(64, Math.min(part, sound.length - from) + 64), from);
  }
  return out;
}

/** A gain that follows the level: fast and hard as a limiter, slow as an automatic gain. */
function followed(
  sound: Mono,
  attackSeconds: number,
  releaseSeconds: number,
  thresholdDb: number,
  ratio: number,
): Mono {
  let level = 1e-9;
  const [up, down] = [attackSeconds, releaseSeconds].map((seconds) => Math.exp(-1 / (seconds * RATE)));
  return sound.map((x) => {
    const power = x * x;
    const keep = power > level ? up : down;
    level = keep * level + (1 - keep) * power;
    const over = Math.max(0, 10 * Math.log10(level + 1e-12) - thresholdDb);
    return x * 10 ** ((-over * (1 - 1 / ratio)) / 20);
  });
}

const noisy = (chance: Chance, sides: [Mono, Mono]): [Mono, Mono] => {
  const level = chance.between(-90, -66);
  return sides.map((side) => mix(side, hiss(side.length, level, chance.seed()))) as [Mono, Mono];
};

/** In either order, with noise of their own, some of them coded. @param sides the one that nothing was taken from first */
const finished = (
  chance: Chance,
  sides: [Mono, Mono],
): { sides: [Mono, Mono]; words: string; wholeChannel: number } => {
  const isFirst = chance.often(0.5);
  const order: [Mono, Mono] = isFirst ? sides : [sides[1], sides[0]];
  const wholeChannel = isFirst ? 1 : 2;
  const made = noisy(chance, order);
  if (!chance.often(0.2)) return { sides: made, words: '', wholeChannel };
  const codec = chance.pick<Codec>(['mp3', 'aac', 'opus']);
  const kilobits = chance.pick([64, 96, 128]);
  return { sides: throughCodec(made, codec, kilobits, RATE), words: `, ${codec} ${kilobits}`, wholeChannel };
};

const voiced = (chance: Chance, frames: number): Mono =>
  mix(gain(speech(chance, frames), chance.between(-12, -3)), hiss(frames, chance.between(-90, -60), chance.seed()));

/** One voice on two devices whose clocks run apart. */
export const drifting: Maker = (chance, frames) => {
  const voice = voiced(chance, frames);
  const ppm = chance.pick([-1, 1]) * chance.betweenRatios(10, 80);
  const other = gain(byClock(voice, ppm, chance.between(0, 900)), chance.between(-8, 3));
  const { sides, words } = finished(chance, [voice, chance.often(0.2) ? other.map((x) => -x) : other]);
  return { what: `fake-stereo: drift ${ppm.toFixed(0)} ppm${words}`, verdict: 'fake-stereo', sides };
};

/** One voice on two ways, one of which lost or doubled a piece of it. */
export const jumping: Maker = (chance, frames) => {
  const voice = voiced(chance, frames);
  const before = chance.between(-600, 600);
  const after = before + chance.pick([-1, 1]) * chance.betweenRatios(4, 1800);
  const atFrame = chance.between(0.2, 0.8) * frames;
  const [early, late] = [before, after].map((delay) => byClock(voice, 0, delay));
  const other = early.map((x, i) => (i < atFrame ? x : late[i]));
  const { sides, words } = finished(chance, [voice, gain(other, chance.between(-8, -1))]);
  return { what: `fake-stereo: delay jumps${words}`, verdict: 'fake-stereo', sides };
};

/** One side through a limiter or an automatic gain. */
export const levelled: Maker = (chance, frames) => {
  const voice = voiced(chance, frames);
  const isLimiter = chance.often(0.5);
  const other = isLimiter
    ? followed(voice, 0.002, chance.between(0.05, 0.2), chance.between(-32, -24), 10)
    : followed(voice, 0.05, chance.between(0.4, 2), -30, chance.between(1.5, 3));
  const made = finished(chance, [voice, gain(other, chance.between(0, 6))]);
  const { sides, words, wholeChannel } = made;
  const what = `fake-stereo: ${isLimiter ? 'limiter' : 'automatic gain'}${words}`;
  return { what, verdict: 'fake-stereo', sides, wholeChannel };
};

/** Two people left and right of the middle in a mix, by turns: a gain that follows them would undo it, and must not. */
export const pannedTalk: Maker = (chance, frames) => {
  const turn = chance.between(1.2, 4) * RATE;
  const [first, second] = [0, 1].map((who) =>
    speech(chance, frames, who).map((x, i) => (Math.floor(i / turn) % 2 === who ? x : 0)),
  );
  const [leaning, level] = [chance.between(2, 10), chance.between(-6, 3)];
  const other = gain(second, level);
  const { sides, words } = finished(chance, [mix(first, gain(other, -leaning)), mix(gain(first, -leaning), other)]);
  return { what: `stereo: two talkers panned${words}`, verdict: 'stereo', sides };
};

/** One side through a telephone's band. */
export const bandLimited: Maker = (chance, frames) => {
  const voice = voiced(chance, frames);
  const [low, high] = [chance.between(150, 400), chance.between(2500, 4000)];
  let other = voice;
  for (let n = chance.integer(1, 3); n > 0; n--)
    other = filtered(
      filtered(other, passFilter('high-pass', low, Math.SQRT1_2, RATE)),
      passFilter('low-pass', high, Math.SQRT1_2, RATE),
    );
  const { sides, words, wholeChannel } = finished(chance, [voice, gain(other, chance.between(-6, 6))]);
  return { what: `fake-stereo: band-limited${words}`, verdict: 'fake-stereo', sides, wholeChannel };
};

/** Left is the voice and its echo, right the voice less its echo. */
export const longComb: Maker = (chance, frames) => {
  const voice = voiced(chance, frames);
  const later = Math.round(chance.betweenRatios(0.008, 0.045) * RATE);
  const depth = 10 ** (-chance.between(1, 9) / 20);
  const echo = voice.map((_, i) => depth * (voice[i - later] ?? 0));
  const { sides, words } = finished(chance, [voice.map((x, i) => x + echo[i]), voice.map((x, i) => x - echo[i])]);
  return { what: `fake-stereo: long comb${words}`, verdict: 'fake-stereo', sides };
};

/** One side with a copy beside it whose delay goes to and fro; or that copy added on one side and taken off on the other; or nothing but that copy. */
export const chorused: Maker = (chance, frames) => {
  const voice = voiced(chance, frames);
  const kind = chance.pick(['beside', 'wide', 'alone'] as const);
  const [base, depth, hz, start] = [
    chance.between(0.004, 0.025) * RATE,
    chance.betweenRatios(0.0002, 0.003) * RATE,
    chance.betweenRatios(0.2, 2),
    chance.between(0, 2 * Math.PI),
  ];
  const moving = swaying(voice, (i) => base + depth * Math.sin(start + (2 * Math.PI * hz * i) / RATE));
  const wet = kind === 'alone' ? 1 : 10 ** (-chance.between(0, 8) / 20);
  const copy = gain(moving, 20 * Math.log10(wet));
  const sides: [Mono, Mono] =
    kind === 'wide'
      ? [
          mix(voice, copy),
          mix(
            voice,
            copy.map((x) => -x),
          ),
        ]
      : [voice, kind === 'alone' ? copy : mix(voice, copy)];
  const made = finished(chance, sides);
  return { what: `fake-stereo: chorus ${kind}${made.words}`, verdict: 'fake-stereo', sides: made.sides };
};

/** An automatic gain that lifts the dead side's hiss in every pause. */
export const liftedHiss: Maker = (chance, frames) => {
  const voice = voiced(chance, frames);
  const loud = chance.between(-52, -36);
  let level = 1e-9;
  const release = Math.exp(-1 / (chance.between(0.1, 0.8) * RATE));
  const lowered = 10 ** (-chance.between(8, 24) / 20);
  const noise = hiss(frames, loud, chance.seed());
  const dead = voice.map((x, i) => {
    level = Math.max(x * x, release * level);
    const open = Math.min(1, Math.max(0, (10 * Math.log10(level + 1e-12) + 55) / 25));
    return noise[i] * lowered ** open;
  });
  const onLeft = chance.often(0.5);
  return {
    what: 'one-sided: hiss under an automatic gain',
    verdict: 'one-sided',
    side: onLeft ? 'left' : 'right',
    sides: onLeft ? [voice, dead] : [dead, voice],
  };
};
