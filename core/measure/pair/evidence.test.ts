import { Evidence, type MatchEvidence } from '../../schema/evidence.ts';
import { amplitudeFromDb } from '../../signal/decibels.ts';
import { measure, readerOf } from '../../test/inspecting.ts';
import { delayed, lowPassed } from '../../synth/filters.ts';
import { mix, RATE, scale } from '../../synth/mono.ts';
import { chatter, noise } from '../../synth/noise.ts';
import { evidenceOf } from './evidence.ts';
import { lookAgain } from './lookAgain.ts';

const SECONDS = 6;
const voice = lowPassed(chatter(0.08, SECONDS, 1));
const hiss = (db: number, seed: number): Float64Array => noise(amplitudeFromDb(db), SECONDS, seed);

async function evidence(sides: [Float64Array, Float64Array], sampleRate = RATE): Promise<Evidence> {
  const measurement = measure(sides, sampleRate);
  return Evidence.parse(
    evidenceOf(measurement, [1, 2], await lookAgain(measurement, [1, 2], readerOf(sides), { wholeBand: true }), {
      startSeconds: 0,
      endSeconds: SECONDS,
    }),
  );
}

function peakOf({ arrival: { milliseconds, correlation } }: MatchEvidence): {
  milliseconds: number;
  correlation: number;
} {
  const at = correlation.reduce((best, value, i) => (Math.abs(value) > Math.abs(correlation[best]) ? i : best), 0);
  return { milliseconds: milliseconds[at], correlation: correlation[at] };
}

test('a disguise of level, polarity and delay is named in numbers, and the nulls deepen step by step as it is undone', async () => {
  const other = scale(delayed(voice, 31.25), -amplitudeFromDb(-7.5));
  const { match } = await evidence([mix(voice, hiss(-80, 2)), mix(other, hiss(-80, 3))]);
  expect(match).toMatchObject({
    polarity: 'inverted',
    gainDb: expect.closeTo(-7.5, 1),
    delaySamples: expect.closeTo(31.25, 1),
  });
  expect(match!.plainNullDb).toBeGreaterThan(-3);
  expect(match!.alignedNullDb).toBeLessThan(-30);
  expect(match!.matchedNullDb).toBeLessThanOrEqual(match!.alignedNullDb! + 0.5);
  expect(match!.incoherentShare).toBeLessThan(0.01);
  // The curve's points are single samples; the peak lies on the nearest.
  expect(Math.abs(peakOf(match!).milliseconds - 31.25 / 48)).toBeLessThanOrEqual(0.6 / 48);
  expect(peakOf(match!).correlation).toBeLessThan(-0.5);
  expect(match!.prominence).toBeGreaterThan(7.5);
});

test.each([8000, 16000, 22050, 24000, 32000, 44100, 88200, 96000, 192000])(
  'an arrival is told in time and in samples of the clip, however the sound was lowered to be looked at (%i Hz)',
  async (sampleRate) => {
    const late = 12.25;
    const own = lowPassed(mix(chatter(0.08, SECONDS, 1, sampleRate), noise(1e-4, SECONDS, 2, sampleRate)));
    const { match } = await evidence([own, delayed(own, late)], sampleRate);
    expect(match!.delaySamples).toBeCloseTo(late, 1);
    // The curve's points are a fiftieth of a millisecond apart, or nearer.
    expect(Math.abs(peakOf(match!).milliseconds - (1000 * late) / sampleRate)).toBeLessThanOrEqual(0.5 / 28);
    expect(peakOf(match!).correlation).toBeGreaterThan(0.9);
    expect(match!.matchedNullDb).toBeLessThan(-40);
  },
);

test('coherence is near 1 where the sides share the sound and low where each has its own', async () => {
  const band = (match: MatchEvidence, hz: number): number =>
    match.spectrum.coherence[match.spectrum.hz.findIndex((centre) => centre > hz)];
  const shared = (await evidence([mix(voice, hiss(-75, 2)), mix(voice, hiss(-75, 3))])).match!;
  const own = (await evidence([mix(voice, hiss(-75, 2)), mix(lowPassed(chatter(0.08, SECONDS, 9)), hiss(-75, 3))]))
    .match!;
  expect(band(shared, 1000)).toBeGreaterThan(0.98);
  expect(band(own, 1000)).toBeLessThan(0.4);
  expect(own.matchedNullDb).toBeGreaterThan(-6);
});

test('the spectra are drawn up to what is heard, also of two voices that share nothing', async () => {
  const own = [4, 5].map((seed) => noise(0.05, SECONDS, seed)) as [Float64Array, Float64Array];
  const { hz, leftDb, rightDb } = (await evidence(own)).match!.spectrum;
  expect(hz.at(-1)).toBeGreaterThan(18_000);
  // White noise is as loud from end to end.
  for (const level of [...leftDb, ...rightDb]) expect(level).toBeGreaterThan(-4);
});

test('the spectra lie as far apart as the levels', async () => {
  const {
    match: { spectrum },
  } = (await evidence([voice, scale(voice, 0.5)])) as { match: MatchEvidence };
  for (const hz of [200, 500, 1000, 2000]) {
    const at = spectrum.hz.findIndex((centre) => centre > hz);
    expect(spectrum.leftDb[at] - spectrum.rightDb[at]).toBeCloseTo(6.02, 1);
  }
});

test('the balance over time says by how much a side is quieter, and when it falls silent', async () => {
  const {
    balance: { stepSeconds, leftDb, rightDb },
  } = await evidence([voice, scale(voice, 0.5).map((x, i) => (i >= 3 * 48000 ? 0 : x))]);
  const step = (seconds: number): number => Math.floor(seconds / stepSeconds);
  expect(leftDb[step(1)]! - rightDb[step(1)]!).toBeCloseTo(6.02, 1);
  expect(rightDb[step(4)]).toBeNull();
  expect(leftDb[step(4)]).not.toBeNull();
});

test('it stays small however long the clip is', async () => {
  const [long, other] = [chatter(0.1, 900, 4, 8000), chatter(0.1, 900, 5, 8000)];
  const measurement = measure([long, other], 8000);
  const found = evidenceOf(measurement, [1, 2], await lookAgain(measurement, [1, 2], readerOf([long, other])), {
    startSeconds: 0,
    endSeconds: 900,
  });
  expect(JSON.stringify(found).length).toBeLessThan(150_000);
  expect(found.balance.leftDb.length).toBeLessThanOrEqual(240);
});
