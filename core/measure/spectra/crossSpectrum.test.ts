import fc from 'fast-check';
import { mix, scale } from '../../synth/mono.ts';
import { noise } from '../../synth/noise.ts';
import { coherence, crossSpectrumOf, differenceCoherence, incoherentShare } from './crossSpectrum.ts';
import { bestGain, nullDepth, plainRatio, powersAt, sharedPowers } from './nullDepths.ts';
import { dbFromPower } from '../../signal/decibels.ts';

const SECONDS = 8;
const shared = noise(0.1, SECONDS, 1);
const [own, other] = [noise(0.1, SECONDS, 2), noise(0.1, SECONDS, 3)];

function spectrumOf(left: Float64Array, right: Float64Array) {
  return crossSpectrumOf([[left, right]], 48000, 2048).spectrum;
}

test('the coherence of a signal with noise of its own on either side is the textbook’s, and what is apart is the rest', () => {
  for (const share of [0, 0.1, 0.5, 1]) {
    const spectrum = spectrumOf(mix(shared, scale(own, share)), mix(shared, scale(other, share)));
    // |S_xy|^2 / (S_xx S_yy) with S_xx = S_yy = 1 + share^2.
    const truth = 1 / (1 + share ** 2) ** 2;
    const values = coherence(spectrum).subarray(10, 1000);
    expect(values.reduce((sum, value) => sum + value, 0) / values.length).toBeCloseTo(truth, 1.7);
    expect(incoherentShare(spectrum)).toBeCloseTo(1 - truth, 1.7);
  }
});

test('what differs is foretold by the sum where one programme stands aside, and not where each side has noise', () => {
  expect(differenceCoherence(spectrumOf(shared, scale(shared, 0.5)), 8000)).toBeCloseTo(1, 6);
  expect(
    differenceCoherence(spectrumOf(mix(shared, scale(own, 0.1)), mix(shared, scale(other, 0.1))), 8000),
  ).toBeLessThan(0.05);
});

test('gain, plain null and null after the gain are those of the closed form', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0.1, max: 8, noNaN: true }),
      fc.boolean(),
      fc.double({ min: 0.001, max: 0.1, noNaN: true }),
      (size, turned, noiseShare) => {
        const gain = turned ? -size : size;
        const right = mix(scale(shared, gain), scale(own, noiseShare * size));
        const powers = sharedPowers(shared, right);
        expect(Math.sign(bestGain(powers, null))).toBe(Math.sign(gain));
        expect(Math.abs(dbFromPower(bestGain(powers, null) ** 2 / gain ** 2))).toBeLessThan(0.1);
        // What is left of the right side is its noise, beside which left and right add up to nearly twice it.
        expect(
          Math.abs(nullDepth(powers, null) - dbFromPower(noiseShare ** 2 / (1 + noiseShare ** 2) / 4)),
        ).toBeLessThan(0.3);
        const [difference, sum] = [
          (1 - gain) ** 2 + (noiseShare * size) ** 2,
          (1 + gain) ** 2 + (noiseShare * size) ** 2,
        ];
        expect(Math.abs(dbFromPower(plainRatio(powers, null) / (difference / sum)))).toBeLessThan(0.6);
      },
    ),
    { numRuns: 40 },
  );
});

test('noise that the pauses show is taken off: a copy under noise of its own nulls deeper than its noise', () => {
  const [left, right] = [mix(shared, scale(own, 0.03)), mix(shared, scale(other, 0.03))];
  const powers = sharedPowers(left, right);
  const noisePowers = sharedPowers(scale(own, 0.03), scale(other, 0.03));
  expect(nullDepth(powers, noisePowers)).toBeLessThan(nullDepth(powers, null) - 10);
});

test('powers at a fractional lag are largest where the sides agree', () => {
  const spectrum = spectrumOf(shared.subarray(0, shared.length - 1), shared.subarray(1));
  const products = [-1.5, -1, -0.5, 0].map((lag) => powersAt(spectrum, lag).product);
  expect(products.indexOf(Math.max(...products))).toBe(1);
});

test('of several sounds the mean is over the windows of all, and what is apart is told of each alone', () => {
  const [one, two] = [
    [shared, scale(shared, 0.3)],
    [own, other],
  ] as const;
  const both = crossSpectrumOf([one, two], 48000, 2048);
  const [first, second] = [one, two].map((sides) => crossSpectrumOf([sides], 48000, 2048));
  expect(both.spectrum.windows).toBe(first.spectrum.windows + second.spectrum.windows);
  for (const series of ['left', 'right', 'crossRe', 'crossIm'] as const)
    for (const k of [0, 1, 40, 777, 1024]) {
      const mean = (first.spectrum[series][k] + second.spectrum[series][k]) / 2;
      expect(Math.abs(both.spectrum[series][k] - mean)).toBeLessThanOrEqual(1e-9 * Math.abs(mean));
    }
  expect(both.apart[0]).toBeCloseTo(incoherentShare(first.spectrum), 12);
  expect(both.apart[1]).toBeCloseTo(incoherentShare(second.spectrum), 12);
  expect(both.apart[0]).toBeLessThan(1e-9);
  expect(both.apart[1]).toBeGreaterThan(0.9);
  expect(crossSpectrumOf([[new Float64Array(4096), new Float64Array(4096)]], 48000, 2048).apart).toEqual([1]);
});
