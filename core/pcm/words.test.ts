import fc from 'fast-check';
import { decodeWords } from './decodeWords.ts';
import { encodeWords } from './encodeWords.ts';
import { bytesPerSample, type SampleFormat } from './sampleFormat.ts';

const INTEGERS: SampleFormat[] = [8, 16, 24, 32].map((bits) => ({ kind: 'integer', bits: bits as 8 | 16 | 24 | 32 }));

test.each(INTEGERS)('every $bits bit word survives decoding and encoding', (format) => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 5 }), fc.uint8Array({ minLength: 1, maxLength: 300 }), (channels, raw) => {
      const frames = Math.floor(raw.length / (channels * bytesPerSample(format)));
      const bytes = raw.subarray(0, frames * channels * bytesPerSample(format));
      const planar = Array.from({ length: channels }, () => new Float64Array(frames));
      decodeWords(bytes, format, planar, frames);
      const back = new Uint8Array(bytes.length);
      encodeWords(planar, format, back, frames, () => 0);
      expect(back).toEqual(bytes);
    }),
  );
});

test('full scale is 1 and loud values are held at the ends, not wrapped', () => {
  const bytes = new Uint8Array(9);
  encodeWords([Float64Array.of(2, -2, 0.5)], { kind: 'integer', bits: 24 }, bytes, 3, () => 0);
  const planar = [new Float64Array(3)];
  decodeWords(bytes, { kind: 'integer', bits: 24 }, planar, 3);
  expect([...planar[0]]).toEqual([1 - 2 ** -23, -1, 0.5]);
});

test('NaN and infinity in float data read as silence and are counted', () => {
  const bytes = new Uint8Array(Float32Array.of(0.25, NaN, Infinity, -0.5).buffer);
  const planar = [new Float64Array(4)];
  expect(decodeWords(bytes, { kind: 'float', bits: 32 }, planar, 4)).toBe(2);
  expect([...planar[0]]).toEqual([0.25, 0, 0, -0.5]);
});
