import { seededRandom } from '../signal/random.ts';
import { coarseOffset } from './coarseOffset.ts';
import { NO_KINSHIP, planJoin, type Kinship } from './plan.ts';

const NAMES = ['left.wav', 'right.wav', 'third.wav'];
const FIRST: Kinship = NO_KINSHIP;
const copy = (offsetSamples: number): Kinship => ({ ...FIRST, offsetSamples, isCopy: true });

test('a file whose sound comes later starts earlier: the others wait, and nothing is cut', () => {
  const joining = planJoin(
    [1000, 900, 1000],
    [FIRST, copy(17), { ...FIRST, offsetSamples: -5.4 }],
    'measured',
    48_000,
    NAMES,
  );
  expect(joining.padsFrames.map((pad) => Number(pad.toFixed(6)))).toEqual([17, 0, 22.4]);
  expect(joining.frames).toBe(1023);
  expect(joining.offsetsSamples).toEqual([0, 17, -5.4]);
  expect(joining.warnings).toEqual([]);
});

test('the first file moves by whole samples alone, whichever comes earlier', () => {
  for (const offset of [17.5, -17.5, 0.25, -0.25]) {
    const { padsFrames } = planJoin([1000, 1000], [FIRST, copy(offset)], 'measured', 48_000, NAMES);
    expect(Number.isInteger(padsFrames[0])).toBe(true);
    expect(padsFrames[0] - padsFrames[1]).toBeCloseTo(offset, 9);
    expect(Math.min(...padsFrames)).toBeGreaterThanOrEqual(0);
  }
});

test('copies slightly apart are warned of, other microphones and echoes are not', () => {
  const warned = (kinship: Kinship) =>
    planJoin([1000, 1000], [FIRST, kinship], null, 48_000, NAMES).warnings.map(({ code }) => code);
  expect(warned(copy(17))).toEqual(['comb-filtering']);
  expect(warned(copy(0))).toEqual([]);
  expect(warned(copy(4800))).toEqual([]);
  expect(warned({ ...FIRST, offsetSamples: 17 })).toEqual([]);
  expect(warned({ ...FIRST, offsetSamples: 17, driftPpm: -40 })).toEqual(['drift']);
  expect(warned({ ...copy(17), driftPpm: 40 })).toEqual(['drift', 'comb-filtering']);
  const [shifted] = planJoin([1000, 1000], [FIRST, copy(17)], [0, 3], 48_000, NAMES).warnings;
  expect(shifted.message).toMatch('right.wav is a copy of left.wav, 20 samples (0.42 ms) apart');
});

test('an offset that a person gives pads whichever comes first', () => {
  expect(planJoin([10, 10], [FIRST, FIRST], [0, -4], 48_000, NAMES)).toMatchObject({ padsFrames: [4, 0], frames: 14 });
});

test('recordings of one event are found wherever they began, unrelated ones are not', () => {
  const next = seededRandom(3);
  const powers = (count: number) => new Float64Array(count).map(() => 10 ** (-6 * next()));
  const event = powers(2000);
  const recorded = (from: number, gain: number) =>
    event.subarray(from, from + 1200).map((power) => gain * power + 1e-7);
  expect(coarseOffset(recorded(0, 1), recorded(300, 0.02))).toBe(-300);
  expect(coarseOffset(recorded(700, 1), recorded(0, 5))).toBe(700);
  expect(coarseOffset(recorded(0, 1), powers(1200))).toBeNull();
  expect(coarseOffset(new Float64Array(0), event)).toBeNull();
  expect(coarseOffset(new Float64Array(100), event)).toBeNull();
});
