import { ambience, drums, instrument } from '@pocket-twin/core/synth/instruments.ts';
import { gain, mix, RATE, type Mono } from '@pocket-twin/core/synth/mono.ts';
import { hiss } from '@pocket-twin/core/synth/noise.ts';
import { timecodeSound } from '@pocket-twin/core/synth/timecodeSound.ts';
import { FRAME_RATES } from '@pocket-twin/core/time/frameRates.ts';
import type { Side } from '@pocket-twin/core/schema/verdict.ts';
import type { Chance } from '@pocket-twin/core/synth/chance.ts';
import type { Maker } from './case.ts';
import { delayed, maybeCoded, preamp, programme } from './inputs.ts';
import { speech } from './sources.ts';

// Sides of which one carries nothing, something that is no programme, or something else altogether.

export const silent: Maker = (chance, frames) => {
  const level = chance.between(-90, -52);
  const nothing = new Float64Array(frames);
  const kind = chance.pick(['nothing', 'hiss', 'hum'] as const);
  const hum = (): Mono =>
    Float64Array.from(
      { length: frames },
      (_, i) => 0.002 * Math.sin((2 * Math.PI * 50 * i) / RATE) + 0.0005 * Math.sin((2 * Math.PI * 150 * i) / RATE),
    );
  const side = (): Mono =>
    kind === 'nothing'
      ? nothing
      : kind === 'hiss'
        ? hiss(frames, level, chance.seed())
        : mix(hum(), hiss(frames, level - 10, chance.seed()));
  return { what: `silent: ${kind}`, verdict: 'silent', sides: [side(), side()] };
};

export const oneSided: Maker = (chance, frames) => {
  const live = mix(
    gain(programme(chance, frames), chance.between(-18, 0)),
    hiss(frames, preamp(chance), chance.seed()),
  );
  const kind = chance.pick(['nothing', 'hiss', 'hum and offset', 'bleed'] as const);
  const hissing = (low: number, high: number): Mono => hiss(frames, chance.between(low, high), chance.seed());
  const dead = {
    nothing: () => new Float64Array(frames),
    hiss: () => hissing(-90, -50),
    'hum and offset': () => {
      const offset = chance.between(-0.02, 0.02);
      const level = chance.betweenRatios(0.0005, 0.01);
      return mix(
        Float64Array.from(
          { length: frames },
          (_, i) =>
            offset + level * (Math.sin((2 * Math.PI * 50 * i) / RATE) + 0.2 * Math.sin((2 * Math.PI * 150 * i) / RATE)),
        ),
        hissing(-85, -60),
      );
    },
    bleed: () => mix(gain(delayed(live, chance.between(0, 40)), -chance.between(33, 60)), hissing(-90, -60)),
  }[kind]();
  const side: Side = chance.often(0.5) ? 'left' : 'right';
  const knocks = chance.often(0.2) ? chance.integer(1, 2) : 0;
  for (let k = 0; k < knocks; k++) addKnock(dead, chance);
  const coded = maybeCoded(chance, side === 'left' ? [live, dead] : [dead, live], 0.15);
  return {
    what: `one-sided: ${kind}${knocks > 0 ? ' with knocks' : ''}${coded.coded}`,
    verdict: 'one-sided',
    side,
    sides: coded.sides,
  };
};

/** The other side carries what a machine makes, at any level: nothing of it is programme. */
export const interference: Maker = (chance, frames) => {
  const live = mix(gain(speech(chance, frames), chance.between(-14, 0)), hiss(frames, preamp(chance), chance.seed()));
  const level = 10 ** (chance.between(-40, -8) / 20);
  const kind = chance.pick(['timecode', 'tone', 'beeps', 'buzz', 'hum', 'crackle'] as const);
  const sine = (hz: number, i: number): number => Math.sin((2 * Math.PI * hz * i) / RATE);
  const of = (wave: (i: number) => number): Mono => new Float64Array(frames).map((_, i) => level * wave(i));
  const hz = chance.betweenRatios(300, 6000);
  const [every, lasts] = [chance.between(0.5, 2.5), chance.between(0.08, 0.4)];
  const mains = chance.pick([50, 60]);
  const made = {
    timecode: () => {
      const { rate } = chance.pick(FRAME_RATES.filter(({ rate: one }) => one.numerator / one.denominator < 31));
      return gain(timecodeSound(frames, chance.integer(0, 86_000), rate), 20 * Math.log10(level));
    },
    tone: () => of((i) => sine(hz, i)),
    beeps: () => of((i) => ((i / RATE) % every < lasts ? sine(hz, i) : 0)),
    buzz: () => of((i) => ((i / RATE) % (2 * every) < every ? Math.sign(sine(217, i)) : 0)),
    hum: () => of((i) => [1, 2, 3, 4, 5, 7, 9].reduce((sum, h) => sum + sine(h * mains, i) / h, 0)),
    crackle: () => {
      const out = new Float64Array(frames);
      const count = Math.round((frames / RATE) * chance.between(5, 60));
      for (let c = 0; c < count; c++) out[chance.integer(0, frames - 1)] += 4 * level * chance.normal();
      return out;
    },
  }[kind]();
  const dead = mix(made, hiss(frames, chance.between(-90, -66), chance.seed()));
  const side: Side = chance.often(0.5) ? 'left' : 'right';
  return {
    what: `interference: ${kind}`,
    verdict: 'one-sided',
    side,
    sides: side === 'left' ? [live, dead] : [dead, live],
  };
};

/** A voice on one side, an instrument or a place on the other: each is programme, however steady it is. */
export const voiceAndOther: Maker = (chance, frames) => {
  const voice = mix(gain(speech(chance, frames), chance.between(-14, 0)), hiss(frames, preamp(chance), chance.seed()));
  const kind = chance.pick(['instrument', 'drums', 'ambience', 'both'] as const);
  const made = {
    instrument: () => instrument(chance, frames),
    drums: () => drums(chance, frames),
    ambience: () => ambience(chance, frames),
    both: () => mix(instrument(chance, frames), drums(chance, frames)),
  }[kind]();
  const other = mix(gain(made, chance.between(-14, 0)), hiss(frames, preamp(chance), chance.seed()));
  return {
    what: `voice and ${kind}`,
    verdict: 'two-mics',
    ownOnBoth: true,
    sides: chance.often(0.5) ? [voice, other] : [other, voice],
  };
};

/** Something struck the table, or a plug was moved: it sets in at once and dies away within a third of a second. */
function addKnock(sound: Mono, chance: Chance): void {
  const start = chance.integer(0, sound.length - 1);
  const [level, hz, seconds] = [
    10 ** (chance.between(-30, -1) / 20),
    chance.betweenRatios(40, 800),
    chance.betweenRatios(0.005, 0.08),
  ];
  for (let i = 0; start + i < sound.length && i < 6 * seconds * RATE; i++) {
    sound[start + i] += level * Math.exp(-i / (seconds * RATE)) * Math.sin((2 * Math.PI * hz * i) / RATE);
  }
}
