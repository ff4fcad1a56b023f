import { allPass, filtered, shelf } from '@pocket-twin/core/synth/filters.ts';
import { gain, mix, RATE, type Mono } from '@pocket-twin/core/synth/mono.ts';
import { hiss } from '@pocket-twin/core/synth/noise.ts';
import type { Maker } from './case.ts';
import { delayed, maybeCoded, preamp, programme, withNoise } from './inputs.ts';

// One signal on both sides, as it is or made to look like two.

export const dualMono: Maker = (chance, frames) => {
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

export const fakeStereo: Maker = (chance, frames) => {
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
