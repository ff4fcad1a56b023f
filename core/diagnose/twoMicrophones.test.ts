import fc from 'fast-check';
import type { LeaningArrival, PairMatch } from '../measure/pair/pairMatch.ts';
import { COINCIDENT_MS, PAIR_REACH_MS, SURELY_APART_MS } from './boundaries.ts';
import { nearAndFarScore, talkersOf, twoMicrophonesSpeak, type Pauses } from './twoMicrophones.ts';

// What is heard in numbers, as the second look gives them, and how it speaks for two microphones.

const SAMPLE_RATE = 48000;
const samples = (ms: number): number => (ms * SAMPLE_RATE) / 1000;
const leaning = (levelDifferenceDb: number, delayMs: number, prominence = 20): LeaningArrival => ({
  ...{ levelDifferenceDb, prominence, delaySamples: samples(delayMs) },
  ...{ stretches: 6, height: 0.5, dyingAway: null },
});
const heard = (delayMs: number, left: LeaningArrival, right: LeaningArrival, prominence = 20): PairMatch =>
  ({
    ...{ arrival: { delaySamples: samples(delayMs), prominence, height: 0.5 }, leaning: { left, right } },
    ...{ incoherent: 0.7, dyingAway: null, dyingDb: null, alignedNullDb: -1 },
  }) as PairMatch;
const alike: Pauses = { reachApartDb: 0, floorsApartDb: 0 };
const strengthOf = (match: PairMatch, pauses: Pauses | null = alike): number =>
  twoMicrophonesSpeak(match, SAMPLE_RATE, pauses)[0].strength;

test('one place heard later than the way between the microphones of a pair is two microphones, and sooner is not', () => {
  const one = (delayMs: number) => heard(delayMs, leaning(1, delayMs), leaning(-1, delayMs));
  expect(strengthOf(one(PAIR_REACH_MS * 1.02))).toBeGreaterThan(1);
  expect(strengthOf(one(PAIR_REACH_MS * 0.98))).toBeLessThan(1);
  // What hardly stands out makes doubtful what it cannot decide.
  const unclear = heard(12, leaning(1, 12, 6.5), leaning(-1, 12, 6.5), 6.5);
  expect(strengthOf(unclear)).toBeLessThan(1);
});

test('what comes late and stands out further as well has two reasons, wherever people sit, each of which is too small', () => {
  const places = [
    heard(3.7, leaning(1, 3.7), leaning(-1, 3.7)),
    // Two people, a decibel or two to either hand.
    heard(3.7, leaning(3, 3.4), leaning(-3, 3.9)),
  ];
  for (const match of places) {
    expect(strengthOf(match, alike)).toBeLessThan(1);
    expect(strengthOf(match, { reachApartDb: 3, floorsApartDb: 0 })).toBeGreaterThan(1);
    expect(strengthOf(match, { reachApartDb: 0.8, floorsApartDb: 0 })).toBeLessThan(1);
    // Its bar is longer than the pauses make it, and says so.
    const [{ message }] = twoMicrophonesSpeak(match, SAMPLE_RATE, { reachApartDb: 3, floorsApartDb: 0 });
    expect(message).toMatch(/over its pauses on the left.* How late sound comes counts with it\.$/);
  }
  // Where it comes at once it is one reason by itself, and too small.
  const atOnce = heard(COINCIDENT_MS / 2, leaning(1, 0), leaning(-1, 0));
  const spoken = twoMicrophonesSpeak(atOnce, SAMPLE_RATE, { reachApartDb: 9, floorsApartDb: 0 });
  expect(spoken.find(({ message }) => message.startsWith('Speech'))).toMatchObject({
    strength: 0,
    message: expect.not.stringContaining('counts with it') as string,
  });
  // By itself it is less than what the capsules of a pair may differ by.
  expect(strengthOf(heard(0.8, leaning(1, 0.8), leaning(-1, 0.8)), { reachApartDb: 3, floorsApartDb: 0 })).toBeLessThan(
    1,
  );
});

test('capsules at one place hear no one further over the pauses for standing nearer, and the further apart the surer it tells', () => {
  const apartDb = { reachApartDb: 9, floorsApartDb: 0 };
  expect(nearAndFarScore(COINCIDENT_MS, apartDb)).toBe(0);
  expect(nearAndFarScore(SURELY_APART_MS, apartDb)).toBeGreaterThan(1);
  fc.assert(
    fc.property(
      fc.double({ min: 0, max: 20, noNaN: true }),
      fc.double({ min: 0, max: 20, noNaN: true }),
      fc.double({ min: -20, max: 20, noNaN: true }),
      fc.double({ min: -20, max: 20, noNaN: true }),
      (arrivalMs, laterMs, reachApartDb, floorsApartDb) => {
        const score = nearAndFarScore(arrivalMs, { reachApartDb, floorsApartDb });
        expect(nearAndFarScore(arrivalMs + laterMs, { reachApartDb, floorsApartDb })).toBeGreaterThanOrEqual(score);
        // Nothing tells left from right.
        expect(nearAndFarScore(arrivalMs, { reachApartDb: -reachApartDb, floorsApartDb: -floorsApartDb })).toBe(score);
      },
    ),
  );
});

test('a swing in level with one in time is two microphones from where no pair swings so far, and a mix swings in level alone', () => {
  // Each person nearer to a microphone of their own, 1.2 ms to either hand.
  expect(strengthOf(heard(0.1, leaning(9, 1.2), leaning(-9, -1.2)))).toBeGreaterThan(1);
  expect(strengthOf(heard(0.1, leaning(2, 1.2), leaning(-2, -1.2)))).toBeLessThan(1);
  // Cardioids on one stand.
  expect(strengthOf(heard(0.1, leaning(9, 0.6), leaning(-9, -0.6)))).toBeLessThan(1);
  expect(strengthOf(heard(0, leaning(9, 0), leaning(-9, 0)))).toBeLessThan(1);
});

test('of what speaks the strongest is said first, and louder, later and further apart never speak less', () => {
  const ms = fc.double({ min: 0, max: 8, noNaN: true });
  const dB = fc.double({ min: 0, max: 12, noNaN: true });
  fc.assert(
    fc.property(ms, ms, dB, dB, (delayMs, moreMs, swingDb, reachApartDb) => {
      const at = (late: number): PairMatch => heard(late, leaning(swingDb, late), leaning(-swingDb, late));
      const spoken = twoMicrophonesSpeak(at(delayMs), SAMPLE_RATE, { reachApartDb, floorsApartDb: 0 });
      const strengths = spoken.map(({ strength }) => strength);
      expect(strengths).toEqual([...strengths].sort((a, b) => b - a));
      const of = (match: PairMatch, reach: number): number =>
        strengthOf(match, { reachApartDb: reach, floorsApartDb: 0 });
      expect(of(at(delayMs), reachApartDb + 1)).toBeGreaterThanOrEqual(strengths[0]);
      const late = twoMicrophonesSpeak(at(delayMs + moreMs), SAMPLE_RATE, alike).find(({ message }) =>
        message.startsWith('Sound comes'),
      )!;
      const soon = spoken.find(({ message }) => message.startsWith('Sound comes'))!;
      expect(late.strength).toBeGreaterThanOrEqual(soon.strength);
    }),
  );
});

test('two people are two where the level swings with who speaks, and one where it stands', () => {
  expect(talkersOf(heard(0, leaning(7, 2), leaning(-7, -2)), SAMPLE_RATE)).toBe(2);
  expect(talkersOf(heard(4, leaning(7, 4), leaning(5, 4)), SAMPLE_RATE)).toBe(1);
  expect(talkersOf(heard(0, { ...leaning(7, 2), stretches: 1 }, leaning(-7, -2)), SAMPLE_RATE)).toBe(1);
});
