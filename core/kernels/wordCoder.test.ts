import fc from 'fast-check';
import { decodeWords } from '../pcm/decodeWords.ts';
import { encodeWords } from '../pcm/encodeWords.ts';
import { bytesPerSample, type SampleFormat } from '../pcm/sampleFormat.ts';
import { triangularDither } from '../signal/dither.ts';
import { ChannelDecoder, WordDecoder, WordEncoder } from './wordCoder.ts';

// The kernel against the plain versions, bit by bit.

const FORMATS: SampleFormat[] = [
  ...([8, 16, 24, 32] as const).map((bits) => ({ kind: 'integer' as const, bits })),
  ...([32, 64] as const).map((bits) => ({ kind: 'float' as const, bits })),
];
const MOST = 300;

test.each(FORMATS)('words of $kind $bits bit are decoded as the plain version does', (words) => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 5 }),
      fc.integer({ min: 1, max: MOST }),
      fc.nat(),
      (channels, frames, seed) => {
        const decoder = new WordDecoder(words, channels, MOST);
        const bytes = new Uint8Array(frames * channels * bytesPerSample(words)).map(
          (_, i) => (Math.imul(i + seed, 2654435761) >>> 13) & 0xff,
        );
        const input = decoder.inputs[seed % 2];
        input.set(bytes);
        decoder.decode(input, frames);
        const plain = Array.from({ length: channels }, () => new Float64Array(frames));
        decodeWords(bytes, words, plain, frames);
        plain.forEach((plane, c) => expect(decoder.planes[c].subarray(0, frames)).toEqual(plane));
        const single = new ChannelDecoder(words, channels, MOST);
        single.input.set(bytes);
        plain.forEach((plane, c) => expect(single.decode(c, frames)).toEqual(plane));
      },
    ),
    { numRuns: 40 },
  );
});

test.each(FORMATS)(
  'values become words of $kind $bits bit with the dither of the plain version, run after run',
  (words) => {
    const value = fc.oneof(
      fc.double({ min: -1.2, max: 1.2, noNaN: true }),
      fc.constantFrom(0, 1, -1, 0.5 / 32768, -0.5 / 32768, 1 - 2 ** -31, NaN, Infinity, -Infinity),
    );
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            left: fc.array(value, { minLength: 1, maxLength: 50 }),
            which: fc.constantFrom([true, true], [false, true], [false, false]),
          }),
          { minLength: 1, maxLength: 4 },
        ),
        (runs) => {
          const encoder = new WordEncoder(words, 2, MOST, 1);
          const dither = triangularDither();
          let place = 0;
          for (const { left, which } of runs) {
            const planar = [Float64Array.from(left), Float64Array.from(left, (x) => x / 3)];
            const plain = new Uint8Array(left.length * 2 * bytesPerSample(words));
            const held = encodeWords(planar, words, plain, left.length, dither, which);
            expect(encoder.encode(0, planar, place, which)).toBe(held);
            place += left.length;
            expect(encoder.output(0, place).slice(-plain.length)).toEqual(plain);
          }
        },
      ),
      { numRuns: 60 },
    );
  },
);
