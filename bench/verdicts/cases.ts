import { RATE } from '@pocket-twin/core/synth/mono.ts';
import type { Chance } from '@pocket-twin/core/synth/chance.ts';
import type { Case, Maker } from './case.ts';
import { interrupted, joinedFrom } from './changes.ts';
import { dualMono, fakeStereo } from './copies.ts';
import { bandLimited, chorused, drifting, jumping, levelled, liftedHiss, longComb, pannedTalk } from './disguises.ts';
import { closeMicrophones, pairOnABar } from './fields.ts';
import { amongTracks, atOtherRate, briefOf } from './formats.ts';
import { midAndSide } from './midSide.ts';
import { midAndSideOfAMix, mixdown } from './mixes.ts';
import { interference, oneSided, silent, voiceAndOther } from './oneSide.ts';
import { nearAndFar, pairInRoom, twoTalkers } from './rooms.ts';

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

/** One clip of the generator, all its choices drawn from `chance`. @param only a maker's name, or `first`: the first material alone @param longer so many times */
export function makeCase(chance: Chance, only?: string, longer = 1): Case & { family: string } {
  const named = ALL.find(([{ name }]) => name === only)?.[0];
  const makers = only === undefined ? ALL : FIRST;
  let draw = chance.between(
    0,
    makers.reduce((sum, [, weight]) => sum + weight, 0),
  );
  const [drawn] = makers.find(([, weight]) => (draw -= weight) < 0) ?? makers[0];
  const chosen = named ?? drawn;
  const frames = longer * Math.round(chance.betweenRatios(6, 16) * RATE) * (chosen === changing ? 1.5 : 1);
  return { ...chosen(chance, Math.round(frames)), family: chosen.name };
}
