import fc from 'fast-check';
import { gaussians } from '../kernels/gaussians.ts';
import { convolve } from './convolve.ts';

test('a sound through a response is the plain sum, whatever their lengths', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 900 }), fc.integer({ min: 1, max: 130 }), fc.nat(), (frames, taps, seed) => {
      const sound = gaussians(frames, 1, seed);
      const response = gaussians(taps, 1, seed + 1);
      const made = convolve(sound, response);
      expect(made).toHaveLength(frames);
      let furthest = 0;
      for (let n = 0; n < frames; n++) {
        let sum = 0;
        for (let k = 0; k <= Math.min(n, taps - 1); k++) sum += response[k] * sound[n - k];
        furthest = Math.max(furthest, Math.abs(made[n] - sum));
      }
      expect(furthest).toBeLessThan(1e-10);
    }),
    { numRuns: 60 },
  );
});
