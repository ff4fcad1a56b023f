import fc from 'fast-check';
import { Repair } from '../../schema/repair.ts';
import { matchPlan } from './fromSuggestion.ts';
import { fillFrom, leaveAsItIs, selectChannel, splitToMonos, sumToMono, swapSides } from './plans.ts';
import { sameRepair } from './compare.ts';

const FORMAT = { channels: 2, frames: 480_000, sampleRate: 48_000 };

const REPAIRS: Repair[] = [
  leaveAsItIs(2),
  fillFrom(1, 2),
  fillFrom(2, 2),
  swapSides(2),
  selectChannel(1, 2),
  selectChannel(2, 2),
  sumToMono(2),
  splitToMonos(2),
  splitToMonos(4),
  leaveAsItIs(4),
  matchPlan(FORMAT, { gainDb: 3, delaySamples: 217.25, driftPpm: 0, jump: null, polarity: 'inverted' }),
  { ...fillFrom(1, 2), level: { commonGainDb: null, loudnessLufs: -23, peakDbtp: null, ceilingDbtp: -1 } },
];

/** The same value with the keys of every object turned about, as a database gives them back. */
function turnedAbout(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(turnedAbout);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .reverse()
      .map(([key, inner]) => [key, turnedAbout(inner)]),
  );
}

test('a repair that comes back with its keys in another order is the same, and no other is', () => {
  fc.assert(
    fc.property(fc.constantFrom(...REPAIRS), fc.constantFrom(...REPAIRS), (a, b) => {
      const back = Repair.parse(turnedAbout(b));
      expect(JSON.stringify(back) === JSON.stringify(turnedAbout(b))).toBe(false);
      expect(sameRepair(a, turnedAbout(b) as Repair)).toBe(a === b);
    }),
  );
});

test('a trim that does nothing is none, and trims have no order', () => {
  const nothing = { channel: 1, gainDb: 0, polarity: 'normal' as const, delaySamples: 0 };
  expect(sameRepair({ ...leaveAsItIs(2), trims: [nothing] }, leaveAsItIs(2))).toBe(true);
  const both = matchPlan(FORMAT, { gainDb: 3, delaySamples: 4, driftPpm: 0, jump: null, polarity: 'inverted' });
  expect(both.trims).toHaveLength(2);
  expect(sameRepair(both, { ...both, trims: [...both.trims].reverse() })).toBe(true);
  expect(sameRepair(both, { ...both, trims: both.trims.slice(1) })).toBe(false);
});
