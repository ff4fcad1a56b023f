import fc from 'fast-check';
import { PairTransform } from './fourier.ts';
import { withEitherKernels } from '../test/eitherKernels.ts';

/** The spectrum of one real signal by the plain sum, bins from 0 to half the rate. */
function plainSpectrum(samples: Float64Array, size: number): { re: number; im: number }[] {
  return Array.from({ length: size / 2 + 1 }, (_, k) => {
    let [re, im] = [0, 0];
    samples.forEach((x, n) => {
      re += x * Math.cos((2 * Math.PI * k * n) / size);
      im -= x * Math.sin((2 * Math.PI * k * n) / size);
    });
    return { re, im };
  });
}

const signals = fc.integer({ min: 2, max: 8 }).chain((log) => {
  const size = 2 ** log;
  const samples = fc
    .array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: 1, maxLength: size })
    .map(Float64Array.from.bind(Float64Array));
  return fc.record({ size: fc.constant(size), left: samples, right: samples });
});

withEitherKernels(() => {
  test('powers and products of two signals are those of the plain sum, at every size', () => {
    fc.assert(
      fc.property(signals, ({ size, left, right }) => {
        const window = new Float64Array(size).map((_, i) => 1 + i / size);
        const transform = new PairTransform(size, window);
        transform.add(left, right);
        transform.add(left, left);
        const sums = transform.take();
        const weighted = (samples: Float64Array): Float64Array => samples.map((x, i) => x * window[i]);
        const [l, r] = [plainSpectrum(weighted(left), size), plainSpectrum(weighted(right), size)];
        for (let k = 0; k <= size / 2; k++) {
          const power = l[k].re ** 2 + l[k].im ** 2;
          expect(sums.left[k]).toBeCloseTo(2 * power, 8);
          expect(sums.right[k]).toBeCloseTo(power + r[k].re ** 2 + r[k].im ** 2, 8);
          expect(sums.crossRe[k]).toBeCloseTo(power + l[k].re * r[k].re + l[k].im * r[k].im, 8);
          expect(sums.crossIm[k]).toBeCloseTo(l[k].re * r[k].im - l[k].im * r[k].re, 8);
        }
        const alone = transform.spectrum(right);
        expect([...alone.re]).toEqual(r.map(({ re }) => expect.closeTo(re, 8)));
        expect([...alone.im]).toEqual(r.map(({ im }) => expect.closeTo(im, 8)));
        expect(transform.take().left.every((sum) => sum === 0)).toBe(true);
      }),
      { numRuns: 40 },
    );
  });

  test('the cross spectrum of some bins is that of all of them, and leaves nothing in the sums', () => {
    fc.assert(
      fc.property(signals, fc.nat(), fc.nat(), ({ size, left, right }, one, other) => {
        const transform = new PairTransform(size);
        transform.add(left, right);
        const all = transform.take();
        const [first, last] = [one % (size / 2 + 1), other % (size / 2 + 1)].sort((a, b) => a - b);
        const some = transform.cross(left, right, first, last);
        expect(some).toEqual({
          first,
          re: all.crossRe.slice(first, last + 1),
          im: all.crossIm.slice(first, last + 1),
        });
        const rest = transform.take();
        for (const sums of [rest.left, rest.right, rest.crossRe, rest.crossIm])
          expect(sums.every((sum) => sum === 0)).toBe(true);
      }),
      { numRuns: 60 },
    );
  });

  test('a whitened cross spectrum has its phases, magnitudes to the power of an eighth, and their sum; silence stays silent', () => {
    fc.assert(
      fc.property(signals, fc.nat(), fc.nat(), ({ size, left, right }, one, other) => {
        const transform = new PairTransform(size);
        const [first, last] = [one % (size / 2 + 1), other % (size / 2 + 1)].sort((a, b) => a - b);
        const { re, im } = transform.cross(left, right, first, last);
        // What its square is too small for is silence.
        const plain = Array.from(re, (real, i) => {
          const magnitude = Math.sqrt(real * real + im[i] * im[i]);
          return { real, imaginary: im[i], factor: magnitude > 0 ? magnitude ** -0.875 : 0, magnitude };
        });
        const total = plain.reduce((sum, { factor, magnitude }) => sum + factor * magnitude, 0);
        const white = transform.cross(left, right, first, last, 7);
        for (const [i, { real, imaginary, factor }] of plain.entries()) {
          const scale = total > 0 ? (7 * factor) / total : 0;
          expect(white.re[i]).toBeCloseTo(scale * real, 9);
          expect(white.im[i]).toBeCloseTo(scale * imaginary, 9);
        }
        expect(transform.take().crossRe.every((sum) => sum === 0)).toBe(true);
      }),
      { numRuns: 60 },
    );
  });

  test('two signals go through a filter as the plain sum takes them round', () => {
    fc.assert(
      fc.property(signals, ({ size, left, right }) => {
        const response = Float64Array.from({ length: Math.ceil(size / 2) }, (_, i) => Math.cos(3 * i * i) / (1 + i));
        const transform = new PairTransform(size);
        const round = (samples: Float64Array): number[] =>
          Array.from({ length: size }, (_, n) =>
            response.reduce((sum, factor, k) => sum + factor * (samples[(n - k + size) % size] ?? 0), 0),
          );
        const { one, other } = transform.filtered(left, right, transform.spectrum(response));
        expect([...one]).toEqual(round(left).map((x) => expect.closeTo(x, 9)));
        expect([...other]).toEqual(round(right).map((x) => expect.closeTo(x, 9)));
      }),
      { numRuns: 30 },
    );
  });

  test('the inverse brings a signal back from its spectrum, alone or beside another one of fewer bins', () => {
    fc.assert(
      fc.property(signals, fc.boolean(), ({ size, left, right }, alone) => {
        const bins = (samples: Float64Array, first: number) => {
          const some = plainSpectrum(samples, size).slice(first);
          return { first, re: Float64Array.from(some, ({ re }) => re), im: Float64Array.from(some, ({ im }) => im) };
        };
        const mean = right.reduce((sum, x) => sum + x, 0) / size;
        const { one, other } = new PairTransform(size).inverse(bins(left, 0), alone ? undefined : bins(right, 1));
        for (let n = 0; n < size; n++) {
          expect(one[n]).toBeCloseTo(left[n] ?? 0, 10);
          expect(other[n]).toBeCloseTo(alone ? 0 : (right[n] ?? 0) - mean, 10);
        }
        const reach = Math.ceil(size / 5);
        const part = new PairTransform(size).inverse(bins(left, 0), undefined, reach).one;
        for (let n = -reach; n < reach; n++) expect(part.at(n)).toBeCloseTo(left[(n + size) % size] ?? 0, 10);
      }),
      { numRuns: 40 },
    );
  });
});
