import fc from 'fast-check';
import { TapTable } from '../signal/interpolationTaps.ts';
import { withEitherKernels } from '../test/eitherKernels.ts';
import { MovingCopy } from './movingCopy.ts';

const TAKEN = 24;
const TABLE = new TapTable(64, TAKEN / 2, 6);
const [MARGIN, COUNT, PLACES, STEP] = [60, 500, 6, 100];

const wave = (hz: number, phase: number): Float64Array =>
  Float64Array.from({ length: COUNT + 2 * MARGIN }, (_, i) => Math.sin(hz * i + phase) + 0.3 * Math.cos(0.37 * hz * i));
const delayAt = (delays: number[], i: number): number => {
  const place = Math.min(PLACES - 2, Math.floor(i / STEP));
  return delays[place] + (i / STEP - place) * (delays[place + 1] - delays[place]);
};
const anyDelays = fc.array(fc.double({ min: 0, max: 40, noNaN: true }), { minLength: PLACES, maxLength: PLACES });
const anyHz = fc.double({ min: 0.02, max: 0.9, noNaN: true });

withEitherKernels(() => {
  const made = (hz: number, delays: number[]) => {
    const [reference, other] = [wave(hz, 0), wave(0.7 * hz, 1)];
    const moving = new MovingCopy({
      ...{ soundLength: reference.length, margin: MARGIN, places: PLACES, step: STEP },
      table: { taps: TABLE.whole(), taken: TAKEN, steps: TABLE.steps },
    });
    moving.take(reference, other);
    moving.follow(delays);
    return { moving, reference, other, copy: moving.copy() };
  };

  test('the copy of a sine is that sine as much earlier as the delay is there, to what the steps of the table leave', () => {
    fc.assert(
      fc.property(anyHz, anyDelays, (hz, delays) => {
        const { copy } = made(hz, delays);
        const at = (i: number): number => {
          const exact = MARGIN + i - delayAt(delays, i);
          const stepped = Math.floor(exact) + Math.round((exact - Math.floor(exact)) * TABLE.steps) / TABLE.steps;
          return Math.sin(hz * stepped) + 0.3 * Math.cos(0.37 * hz * stepped);
        };
        expect(copy).toHaveLength(COUNT);
        expect(copy.reduce((most, value, i) => Math.max(most, Math.abs(value - at(i))), 0)).toBeLessThan(2e-3);
      }),
      { numRuns: 40 },
    );
  });

  test('its products and what is left are the plain sums over the samples', () => {
    fc.assert(
      fc.property(anyHz, anyDelays, fc.double({ min: -2, max: 2, noNaN: true }), (hz, delays, gain) => {
        const { moving, reference, other, copy } = made(hz, delays);
        const a = reference.subarray(MARGIN, MARGIN + COUNT);
        const x = other.subarray(MARGIN, MARGIN + COUNT);
        const sum = (of: (i: number) => number): number => copy.reduce((total, _, i) => total + of(i), 0);
        const leftAt = (i: number): number => x[i] - 0.5 * a[i] - gain * copy[i];
        const plain = [
          sum((i) => a[i] * a[i]),
          sum((i) => a[i] * copy[i]),
          sum((i) => copy[i] * copy[i]),
          sum((i) => a[i] * x[i]),
          sum((i) => copy[i] * x[i]),
          sum((i) => leftAt(i) ** 2),
        ];
        for (const [k, value] of [...moving.products(), moving.powerLeft(0.5, gain)].entries())
          expect(Math.abs(value - plain[k])).toBeLessThan(1e-9 * (COUNT + Math.abs(plain[k])));
      }),
      { numRuns: 40 },
    );
  });

  test('a step by its equations brings a delay that is a little off to where it is', () => {
    const delays = [10, 12, 14, 13, 11, 10];
    const reference = wave(0.3, 0);
    const moving = new MovingCopy({
      ...{ soundLength: reference.length, margin: MARGIN, places: PLACES, step: STEP },
      table: { taps: TABLE.whole(), taken: TAKEN, steps: TABLE.steps },
    });
    const other = reference.map((_, i) => {
      const at = i - delayAt(delays, i - MARGIN < 0 ? 0 : i - MARGIN);
      return Math.sin(0.3 * at) + 0.3 * Math.cos(0.111 * at);
    });
    moving.take(reference, other);
    const off = delays.map((delay, k) => delay + 0.3 * (k % 2 === 0 ? 1 : -1));
    moving.follow(off);
    const { diagonal, beside, right } = moving.stepEquations(0, 1);
    // Solved by relaxation, as little is beside the diagonal.
    const step = new Float64Array(PLACES);
    for (let round = 0; round < 200; round++)
      for (let k = 0; k < PLACES; k++) {
        const others = (k > 0 ? beside[k - 1] * step[k - 1] : 0) + (k < PLACES - 1 ? beside[k] * step[k + 1] : 0);
        step[k] = (right[k] - others) / diagonal[k];
      }
    off.forEach((delay, k) => expect(Math.abs(delay + step[k] - delays[k])).toBeLessThan(0.05));
  });
});
