import { ClipMeter } from '../measure/stream/clipMeter.ts';
import { noise } from '../synth/noise.ts';
import { encodeWords } from '../pcm/encodeWords.ts';
import { giveBack, MemoryPlan } from './kernelMemory.ts';

test('memory that is given back is given once, with nothing left in it, to whoever wants as much', () => {
  const plan = new MemoryPlan();
  plan.claim(3_000_001);
  const memory = plan.make();
  new Uint8Array(memory.buffer).fill(7);
  giveBack(memory);
  giveBack(memory);
  const larger = new MemoryPlan();
  larger.claim(4_000_001);
  expect(larger.make()).not.toBe(memory);
  expect(plan.make()).toBe(memory);
  expect(new Uint8Array(memory.buffer).every((byte) => byte === 0)).toBe(true);
  expect(plan.make()).not.toBe(memory);
});

test('a clip has the same numbers whatever was measured before it, and beside it', () => {
  const words = { kind: 'integer', bits: 24 } as const;
  const clip = (seed: number): Uint8Array => {
    const sides = [1, 2].map((side) => noise(0.1, 2, seed + side));
    const bytes = new Uint8Array(sides[0].length * 6);
    encodeWords(sides, words, bytes, sides[0].length, () => 0);
    return bytes;
  };
  const meter = (): ClipMeter => new ClipMeter(48_000, 2, words);
  const measured = (bytes: Uint8Array) => {
    const one = meter();
    one.push(bytes);
    return one.finishPart();
  };
  const wanted = measured(clip(1));
  measured(clip(9));
  const [one, other] = [meter(), meter()];
  one.push(clip(1));
  other.push(clip(5));
  expect(one.finishPart()).toEqual(wanted);
  expect(other.finishPart()).toEqual(measured(clip(5)));
  expect(measured(clip(1))).toEqual(wanted);
});
