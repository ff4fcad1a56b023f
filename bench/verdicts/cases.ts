import { convolve } from '@pocket-twin/core/synth/convolve.ts';
import { beforeAPair, speech, turns } from './sources.ts';
import { allPass, filtered, shelf } from '@pocket-twin/core/synth/filters.ts';
import { ambience, drums, instrument } from '@pocket-twin/core/synth/instruments.ts';
import { gain, mix, type Mono, RATE, spoken } from '@pocket-twin/core/synth/mono.ts';
import { timecodeSound } from '@pocket-twin/core/synth/timecodeSound.ts';
import { FRAME_RATES } from '@pocket-twin/core/time/frameRates.ts';
import { hiss } from '@pocket-twin/core/synth/noise.ts';
import type { Side } from '@pocket-twin/core/schema/verdict.ts';
import type { Case, Maker } from './case.ts';
import type { Chance } from '@pocket-twin/core/synth/chance.ts';
import { interrupted, joinedFrom } from './changes.ts';
import { bandLimited, chorused, drifting, jumping, levelled, liftedHiss, longComb, pannedTalk } from './disguises.ts';
import { amongTracks, atOtherRate, briefOf } from './formats.ts';
import { closeMicrophones, pairOnABar } from './fields.ts';
import { midAndSide } from './midSide.ts';
import { throughCodec, type Codec } from './codec.ts';
import { addPulse, heardBy, randomRoom, type Microphone } from '@pocket-twin/core/synth/shoebox.ts';

const programme = (chance: Chance, frames: number): Mono =>
  chance.often(0.75) ? speech(chance, frames) : mix(instrument(chance, frames), drums(chance, frames));
const preamp = (chance: Chance): number => chance.between(-90, -62);

function withNoise(chance: Chance, sides: [Mono, Mono], level = preamp(chance)): [Mono, Mono] {
  return sides.map((side) => mix(side, hiss(side.length, level + chance.between(-1, 1), chance.seed()))) as [
    Mono,
    Mono,
  ];
}

function maybeCoded(chance: Chance, sides: [Mono, Mono], share: number): { sides: [Mono, Mono]; coded: string } {
  if (!chance.often(share)) return { sides, coded: '' };
  const codec = chance.pick<Codec>(['mp3', 'aac', 'opus']);
  const kilobits = chance.pick([96, 128, 160, 192]);
  return { sides: throughCodec(sides, codec, kilobits, RATE), coded: `, ${codec} ${kilobits}` };
}

function delayed(sound: Mono, samples: number): Mono {
  const response = new Float64Array(Math.ceil(samples) + 16);
  addPulse(response, samples, 1);
  return convolve(sound, response);
}

const silent: Maker = (chance, frames) => {
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

const oneSided: Maker = (chance, frames) => {
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
const interference: Maker = (chance, frames) => {
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
const voiceAndOther: Maker = (chance, frames) => {
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

const dualMono: Maker = (chance, frames) => {
  const voice = mix(
    gain(programme(chance, frames), chance.between(-12, 0)),
    hiss(frames, preamp(chance), chance.seed()),
  );
  if (chance.often(0.35)) {
    const noisy = withNoise(chance, [voice, voice], chance.between(-90, -66));
    return { what: 'dual-mono: with noise of their own', verdict: 'dual-mono', sides: noisy };
  }
  const coded = maybeCoded(chance, [voice, voice], 0.5);
  return { what: `dual-mono${coded.coded}`, verdict: 'dual-mono', sides: coded.sides };
};

const fakeStereo: Maker = (chance, frames) => {
  const voice = mix(
    gain(programme(chance, frames), chance.between(-12, 0)),
    hiss(frames, preamp(chance), chance.seed()),
  );
  const kind = chance.pick([
    'level',
    'polarity',
    'delay',
    'all-pass',
    'comb',
    'shelf',
    'level and delay',
    'polarity and level',
    'filter and delay',
  ] as const);
  let other = voice;
  const disguise = { gainDb: 0, delaySamples: 0, polarity: 1 as 1 | -1, filtered: false };
  const bend = chance.pick(['all-pass', 'comb', 'shelf'] as const);
  if (kind === 'all-pass' || (kind === 'filter and delay' && bend === 'all-pass')) {
    for (let n = chance.integer(1, 4); n > 0; n--)
      other = filtered(other, allPass(chance.betweenRatios(150, 6000), chance.between(0.4, 2)));
    disguise.filtered = true;
  }
  if (kind === 'comb' || (kind === 'filter and delay' && bend === 'comb')) {
    const direct = other;
    other = mix(direct, gain(delayed(direct, chance.betweenRatios(10, 600)), -chance.between(1, 12)));
    disguise.filtered = true;
  }
  if (kind === 'shelf' || (kind === 'filter and delay' && bend === 'shelf')) {
    other = filtered(other, shelf(chance.pick([-1, 1]) * chance.between(5, 14), chance.betweenRatios(300, 3000)));
    disguise.filtered = true;
  }
  if (kind.includes('level')) {
    disguise.gainDb = chance.pick([-1, 1]) * chance.between(0.8, 14);
    other = gain(other, disguise.gainDb);
  }
  if (kind.includes('polarity')) {
    disguise.polarity = -1;
    other = other.map((x) => -x);
  }
  if (kind.includes('delay')) {
    disguise.delaySamples = chance.betweenRatios(5, 0.04 * RATE);
    other = delayed(other, disguise.delaySamples);
  }
  const noisy = chance.often(0.3)
    ? withNoise(chance, [voice, other], chance.between(-90, -70))
    : ([voice, other] as [Mono, Mono]);
  const coded = maybeCoded(chance, noisy, 0.25);
  const swapped = chance.often(0.5);
  if (swapped) Object.assign(disguise, { gainDb: -disguise.gainDb, delaySamples: -disguise.delaySamples });
  return {
    what: `fake-stereo: ${kind}${kind === 'filter and delay' ? ` (${bend})` : ''}${coded.coded}`,
    verdict: 'fake-stereo',
    disguise,
    sides: swapped ? [coded.sides[1], coded.sides[0]] : coded.sides,
  };
};

const somewhere = (chance: Chance, size: readonly number[]): [number, number, number] => [
  chance.between(0.8, size[0] - 0.8),
  chance.between(0.8, size[1] - 0.8),
  chance.between(0.9, 1.4),
];
const beside = ([x, y, z]: readonly number[], metres: number, angle: number): [number, number, number] => [
  x + metres * Math.cos(angle),
  y + metres * Math.sin(angle),
  z,
];

/** A microphone for each of two talkers: each close to its own, the other coming in 10 to 25 dB below. */
const twoTalkers: Maker = (chance, frames) => {
  const room = randomRoom(chance);
  const people = turns(chance, frames);
  const first = somewhere(chance, room.size);
  const angle = chance.between(0, 6.28);
  const distance = chance.between(0.9, 2.2);
  const seats = [first, beside(first, distance, angle)];
  const microphones: Microphone[] = seats.map((seat, i) => ({
    at: beside(
      seat,
      chance.between(0.12, 0.3),
      angle + (i === 0 ? chance.between(-1, 1) : Math.PI + chance.between(-1, 1)),
    ),
    directivity: chance.pick([0, 0.5]),
    facing: angle + (i === 0 ? Math.PI : 0),
  }));
  const heard = people.map((person, i) => heardBy(chance, person, seats[i], microphones, room));
  const sides = [0, 1].map((m) => spoken(mix(heard[0][m], heard[1][m]), -22 + chance.between(-5, 5))) as [Mono, Mono];
  return { what: 'two-mics: two talkers', verdict: 'two-mics', sides: withNoise(chance, sides) };
};

const nearAndFar: Maker = (chance, frames) => {
  const room = randomRoom(chance);
  const seat = somewhere(chance, room.size);
  const angle = chance.between(0, 6.28);
  const far = beside(seat, chance.between(1.2, 3), angle + chance.between(-1, 1));
  // Outside the walls there is no room to hear: another place then.
  if (far.some((x, axis) => x < 0.15 || x > room.size[axis] - 0.15)) return nearAndFar(chance, frames);
  const microphones: Microphone[] = [
    {
      at: beside(seat, chance.between(0.15, 0.35), angle),
      directivity: chance.pick([0, 0.5]),
      facing: angle + Math.PI,
    },
    { at: far, directivity: chance.pick([0, 0.5]), facing: angle + Math.PI },
  ];
  const heard = heardBy(chance, speech(chance, frames), seat, microphones, room);
  const sides = [spoken(heard[0], -20), spoken(heard[1], -20 - chance.between(0, 14))] as [Mono, Mono];
  const noisy: [Mono, Mono] = [
    mix(sides[0], hiss(frames, preamp(chance), chance.seed())),
    mix(sides[1], hiss(frames, preamp(chance), chance.seed())),
  ];
  return {
    what: 'two-mics: near and far',
    verdict: 'two-mics',
    sides: chance.often(0.5) ? noisy : [noisy[1], noisy[0]],
  };
};

/** A coincident, near-coincident or spaced pair in a room, some way from one or two talkers or players. */
const pairInRoom: Maker = (chance, frames) => {
  const room = randomRoom(chance);
  const middle: [number, number, number] = [
    room.size[0] / 2 + chance.between(-0.5, 0.5),
    0.7,
    chance.between(1.1, 1.7),
  ];
  const kind = chance.pick(['coincident', 'near-coincident', 'spaced'] as const);
  const spacing = { coincident: 0, 'near-coincident': 0.17, spaced: chance.between(0.25, 0.7) }[kind];
  const half = kind === 'spaced' ? 0 : chance.between(0.75, 1.1);
  const microphones: Microphone[] = [-1, 1].map((side) => ({
    at: [middle[0] + (side * spacing) / 2, middle[1], middle[2]],
    directivity: kind === 'spaced' ? 0 : 0.5,
    facing: Math.PI / 2 - side * half,
  }));
  const { people, sounds } = beforeAPair(chance, frames);
  const distance = Math.min(room.size[1] - 1.2, chance.between(0.8, 2.5));
  const sides: [Mono, Mono] = [new Float64Array(frames), new Float64Array(frames)];
  sounds.forEach((sound, i) => {
    const spread =
      sounds.length === 1
        ? chance.between(-0.7, 0.7)
        : -0.8 + (1.6 * i) / (sounds.length - 1) + chance.between(-0.15, 0.15);
    const heard = heardBy(
      chance,
      sound,
      [middle[0] + distance * Math.sin(spread), middle[1] + distance * Math.cos(spread), 1.2],
      microphones,
      room,
    );
    heard.forEach((one, m) => {
      sides[m] = mix(sides[m], one);
    });
  });
  const level = 10 ** (-20 / 20) / Math.sqrt(sides[0].reduce((sum, x) => sum + x * x, 0) / frames);
  const noisy = withNoise(chance, sides.map((side) => side.map((x) => x * level * 0.5)) as [Mono, Mono]);
  const coded = maybeCoded(chance, noisy, 0.15);
  return { what: `stereo: ${kind}, ${people}${coded.coded}`, verdict: 'stereo', sides: coded.sides };
};

/** Instruments placed by level with a reverberation of their own on each side; sometimes a voice in the middle. */
const mixdown: Maker = (chance, frames) => {
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

/** What a mix becomes that is kept as sum and difference. */
const NARROWEST_SIDE_DB = -24;

const midAndSideOfAMix: Maker = (chance, frames) => {
  let [left, right] = mixdown(chance, frames).sides;
  // What lies 30 dB under the sum is one-sided, by the word.
  while (plainNull([left, right]) < NARROWEST_SIDE_DB) [left, right] = mixdown(chance, frames).sides;
  const sides: [Mono, Mono] = [left.map((x, i) => (x + right[i]) / 2), left.map((x, i) => (x - right[i]) / 2)];
  return { what: 'mid and side of a mix', verdict: 'stereo', ownOnBoth: true, finding: 'mid-side', sides };
};

const DUAL_MONO_NULL_DB = -40;

function plainNull([left, right]: [Mono, Mono]): number {
  let [difference, sum] = [0, 0];
  for (let i = 0; i < left.length; i++) {
    difference += (left[i] - right[i]) ** 2;
    sum += (left[i] + right[i]) ** 2;
  }
  return 10 * Math.log10(difference / sum);
}

const changing: Maker = (chance, frames) =>
  chance.often(0.6)
    ? joinedFrom(chance, frames, [oneSided, dualMono, pairInRoom, fakeStereo])
    : interrupted(chance, frames, [dualMono, pairInRoom, fakeStereo, twoTalkers]);

const MADE_ANYWHERE = [silent, oneSided, dualMono, fakeStereo, twoTalkers, nearAndFar, pairInRoom, mixdown];
const brief: Maker = (chance, frames) =>
  briefOf(chance, frames, [silent, oneSided, dualMono, fakeStereo, nearAndFar, pairInRoom]);
const otherRate: Maker = (chance, frames) => atOtherRate(chance, frames, MADE_ANYWHERE);
const manyTracks: Maker = (chance, frames) => amongTracks(chance, frames, MADE_ANYWHERE);

/** The first material, whose seeds keep what they drew. */
const FIRST: [Maker, number][] = [
  [silent, 1],
  [oneSided, 3],
  [dualMono, 3],
  [fakeStereo, 4],
  [twoTalkers, 2],
  [nearAndFar, 2],
  [pairInRoom, 3],
  [mixdown, 2],
  [changing, 1],
];
/** All of it, nearer to life. */
const ALL: [Maker, number][] = [
  ...FIRST,
  [interference, 1],
  [voiceAndOther, 1],
  [closeMicrophones, 3],
  [pairOnABar, 3],
  [drifting, 1],
  [jumping, 1],
  [levelled, 1],
  [bandLimited, 1],
  [longComb, 1],
  [chorused, 1],
  [liftedHiss, 1],
  [pannedTalk, 1],
  [midAndSide, 1],
  [midAndSideOfAMix, 0.5],
  [brief, 1],
  [otherRate, 1],
  [manyTracks, 0.5],
];

/** One clip of the generator, all its choices drawn from `chance`. @param only a maker's name, or `first`: the first material alone */
export function makeCase(chance: Chance, only?: string): Case & { family: string } {
  const named = ALL.find(([{ name }]) => name === only)?.[0];
  const makers = only === undefined ? ALL : FIRST;
  let draw = chance.between(
    0,
    makers.reduce((sum, [, weight]) => sum + weight, 0),
  );
  const [drawn] = makers.find(([, weight]) => (draw -= weight) < 0) ?? makers[0];
  const chosen = named ?? drawn;
  const frames = Math.round(chance.betweenRatios(6, 16) * RATE) * (chosen === changing ? 1.5 : 1);
  return { ...chosen(chance, Math.round(frames)), family: chosen.name };
}
