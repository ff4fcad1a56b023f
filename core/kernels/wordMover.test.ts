import fc from 'fast-check';
import { WordMover } from './wordMover.ts';

/** The plain version that the kernel must equal. */
function moved(input: Uint8Array, wordBytes: number, channels: number, sources: number[], frames: number): Uint8Array {
  const out = new Uint8Array(frames * sources.length * wordBytes);
  for (let i = 0; i < frames; i++) {
    sources.forEach((source, c) => {
      const from = (i * channels + source) * wordBytes;
      out.set(input.subarray(from, from + wordBytes), (i * sources.length + c) * wordBytes);
    });
  }
  return out;
}

test('moves words of every width as the plain version does', () => {
  const plan = fc.record({
    wordBytes: fc.constantFrom(1, 2, 3, 4, 8),
    channels: fc.integer({ min: 1, max: 9 }),
    frames: fc.integer({ min: 0, max: 70 }),
    picks: fc.array(fc.array(fc.nat(), { minLength: 1, maxLength: 6 }), { minLength: 1, maxLength: 3 }),
    seed: fc.nat(255),
  });
  fc.assert(
    fc.property(plan, ({ wordBytes, channels, frames, picks, seed }) => {
      const files = picks.map((file) => file.map((pick) => pick % channels));
      const mover = new WordMover(wordBytes, channels, files, 70, 2);
      const input = mover.inputs[1];
      for (let i = 0; i < input.length; i++) input[i] = (i * 31 + seed) % 251;
      mover.move(1, frames);
      files.forEach((sources, file) => {
        const length = frames * sources.length * wordBytes;
        expect(mover.outputs[1][file].slice(0, length)).toEqual(moved(input, wordBytes, channels, sources, frames));
      });
    }),
    { numRuns: 200 },
  );
});
