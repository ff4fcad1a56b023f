import fc from 'fast-check';
import { lagProducts } from './lagProducts.ts';

const LAGS = 32;
const sound = (length: number): fc.Arbitrary<Float64Array> =>
  fc
    .array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: length, maxLength: length })
    .map((list) => Float64Array.from(list));

test('products at every lag are those of the plain sums, of all pairs, however many pieces they are taken in', () => {
  const pair = fc
    .oneof(fc.constantFrom(1, 95, 96, 97, 192), fc.integer({ min: 1, max: 300 }))
    .chain((length) => fc.record({ a: sound(length), b: sound(length + LAGS) }));
  fc.assert(
    fc.property(fc.array(pair, { minLength: 1, maxLength: 3 }), (pairs) => {
      const products = lagProducts(pairs, LAGS).slice();
      for (let j = 0; j < LAGS; j++) {
        const plain = pairs.reduce((sum, { a, b }) => sum + a.reduce((own, x, n) => own + x * b[n + j], 0), 0);
        expect(products[j]).toBeCloseTo(plain, 9);
      }
    }),
    { numRuns: 60 },
  );
});

test('of nothing there are none, whatever was asked before', () => {
  lagProducts([{ a: new Float64Array(50).fill(1), b: new Float64Array(50 + LAGS).fill(1) }], LAGS);
  const none = lagProducts([{ a: new Float64Array(50), b: new Float64Array(50 + LAGS) }], LAGS);
  expect([...none].every((product) => product === 0)).toBe(true);
});
