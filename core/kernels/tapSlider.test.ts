import { seededRandom } from '../signal/random.ts';
import { TapSlider } from './tapSlider.ts';
import { withEitherKernels } from '../test/eitherKernels.ts';

const random = seededRandom(5);
const values = (count: number) => new Float64Array(count).map(() => random() - 0.5);

withEitherKernels(() => {
  test.each([1, 7, 8, 100, 2047, 2048, 2049, 5000])('%d frames are the plain sums', (frames) => {
    const taps = values(64);
    const sound = values(frames + taps.length - 1);
    const out = new Float64Array(frames + 3).fill(7);
    new TapSlider(taps).slide(sound, out, frames);
    for (let i = 0; i < frames; i++) {
      const plain = taps.reduce((sum, tap, k) => sum + tap * sound[i + k], 0);
      expect(Math.abs(out[i] - plain)).toBeLessThan(1e-12);
    }
    expect([...out.subarray(frames)]).toEqual([7, 7, 7]);
  });

  test('what was slid before leaves nothing behind', () => {
    const slider = new TapSlider(Float64Array.from([0, 1]));
    slider.slide(values(3001), new Float64Array(3000), 3000);
    const out = new Float64Array(3);
    slider.slide(Float64Array.from([1, 2, 3, 4]), out, 3);
    expect([...out]).toEqual([2, 3, 4]);
  });
});
