import fc from 'fast-check';
import { encodeWords } from '../../pcm/encodeWords.ts';
import { decodeWords } from '../../pcm/decodeWords.ts';
import { INTERLEAVED, interleave } from '../../pcm/interleave.ts';
import { bytesPerSample, largestValue, type SampleFormat } from '../../pcm/sampleFormat.ts';
import { dbFromAmplitude, dbFromPower } from '../../signal/decibels.ts';
import { kWeighting } from '../../signal/kWeighting.ts';
import { seededRandom } from '../../signal/random.ts';
import { measure } from '../../test/inspecting.ts';
import { blocksOf, filteredEnergies, plainClipped, plainTruePeak } from '../../test/referenceMeter.ts';
import { scale } from '../../synth/mono.ts';
import { chatter, noise } from '../../synth/noise.ts';
import { sine } from '../../synth/tones.ts';
import { ClipMeter } from './clipMeter.ts';
import { withEitherKernels } from '../../test/eitherKernels.ts';

test('K-weighting at 48 kHz is the table of BS.1770-5', () => {
  const [shelf, highPass] = kWeighting(48000);
  expect([shelf.b0, shelf.b1, shelf.b2, shelf.a1, shelf.a2]).toEqual(
    [1.53512485958697, -2.69169618940638, 1.19839281085285, -1.69065929318241, 0.73248077421585].map((value) =>
      expect.closeTo(value, 8),
    ),
  );
  expect([highPass.a1, highPass.a2]).toEqual([
    expect.closeTo(-1.99004745483398, 8),
    expect.closeTo(0.99007225036621, 8),
  ]);
});

test('of a clip longer than what is held at once every block comes, once and in its place, whatever it is pushed in', () => {
  const [sampleRate, blocks, blockFrames] = [8000, 2200, 800];
  // Each block holds one value of its own, another on each channel, and the last block is half as long.
  const frames = (blocks - 0.5) * blockFrames;
  const valueOf = (channel: number, block: number): number => ((block * 37 + channel * 11) % 500) / 1024 + 1 / 1024;
  const planar = [0, 1, 2].map((channel) =>
    new Float64Array(frames).map((_, i) => valueOf(channel, Math.floor(i / blockFrames))),
  );
  const bytes = interleave(planar, frames);
  const measured = (pieceFrames: number) => {
    const meter = new ClipMeter(sampleRate, 3, INTERLEAVED);
    const pieceBytes = pieceFrames * 3 * bytesPerSample(INTERLEAVED);
    for (let at = 0; at < bytes.length; at += pieceBytes) meter.push(bytes.subarray(at, at + pieceBytes));
    return meter.finish();
  };
  const { channels, pairs } = measured(frames);
  channels.forEach(({ blockPower, mean }, c) => {
    expect(blockPower).toHaveLength(blocks);
    blockPower.forEach((power, b) => expect(power).toBeCloseTo(valueOf(c, b) ** 2, 12));
    expect(mean).toBeCloseTo(planar[c].reduce((sum, x) => sum + x, 0) / frames, 12);
  });
  pairs[0].blockProduct.forEach((product, b) => expect(product).toBeCloseTo(valueOf(0, b) * valueOf(1, b), 12));
  expect(measured(12_345)).toEqual(measured(frames));
});

const FORMATS: SampleFormat[] = [
  ...([8, 16, 24, 32] as const).map((bits) => ({ kind: 'integer' as const, bits })),
  { kind: 'float', bits: 32 },
  { kind: 'float', bits: 64 },
];

withEitherKernels(() => {
  test('the kernels equal the plain meters at every word, rate and number of channels, however the stream is cut', () => {
    const plan = fc.record({
      format: fc.constantFrom(...FORMATS),
      sampleRate: fc.constantFrom(8000, 11025, 16000, 44100, 48000),
      channels: fc.integer({ min: 1, max: 5 }),
      frames: fc.integer({ min: 1, max: 9000 }),
      seed: fc.nat(9999),
      loudness: fc.constantFrom(0.001, 0.3, 1.4),
      zeros: fc.nat(3000),
      pieces: fc.array(fc.integer({ min: 0, max: 4000 }), { maxLength: 4 }),
    });
    fc.assert(
      fc.property(plan, ({ format, sampleRate, channels, frames, seed, loudness, zeros, pieces }) => {
        const random = seededRandom(seed);
        const planar = Array.from({ length: channels }, () =>
          new Float64Array(frames).map((_, i) =>
            i < zeros ? 0 : Math.max(-1, Math.min(1, (random() - 0.5) * 2 * loudness)),
          ),
        );
        const bytes = new Uint8Array(frames * channels * bytesPerSample(format));
        encodeWords(planar, format, bytes, frames, () => 0);
        decodeWords(bytes, format, planar, frames);

        const buckets: number[] = [];
        const meter = new ClipMeter(sampleRate, channels, format, { onBuckets: (values) => buckets.push(...values) });
        let start = 0;
        for (const piece of [...pieces, frames]) {
          const end = Math.min(bytes.length, start + piece * channels * bytesPerSample(format));
          meter.push(bytes.subarray(start, end));
          start = end;
        }
        const found = meter.finish();
        const block = Math.round(sampleRate / 10);
        const lanes = channels + Math.floor(channels / 2);
        const near = (value: number): unknown => expect.closeTo(value, 12);
        planar.forEach((samples, c) => {
          const channel = found.channels[c];
          expect(channel.peak).toBe(samples.reduce((most, x) => Math.max(most, Math.abs(x)), 0));
          expect(channel.truePeak).toBeCloseTo(plainTruePeak(samples), 12);
          expect(channel.clippedSamples).toBe(plainClipped(samples, largestValue(format)));
          expect(channel.mean).toBeCloseTo(samples.reduce((sum, x) => sum + x, 0) / frames, 12);
          expect([...channel.blockPower]).toEqual(
            blocksOf(samples, block).map((part) => near(part.reduce((sum, x) => sum + x * x, 0) / part.length)),
          );
          blocksOf(samples, 256).forEach((part, b) => {
            const at = (b * lanes + c) * 3;
            expect(buckets.slice(at, at + 2)).toEqual([Math.min(...part), Math.max(...part)]);
          });
        });
        found.pairs.forEach(({ product, differenceSquare, channels: [left, right] }, p) => {
          const [l, r] = [planar[left - 1], planar[right - 1]];
          expect(product).toBeCloseTo(
            l.reduce((sum, x, i) => sum + x * r[i], 0),
            9,
          );
          expect(differenceSquare).toBeCloseTo(
            l.reduce((sum, x, i) => sum + (x - r[i]) ** 2, 0),
            9,
          );
          const difference = l.map((x, i) => x - r[i]).subarray(0, 256);
          expect(buckets.slice((channels + p) * 3, (channels + p) * 3 + 2)).toEqual([
            near(Math.min(...difference)),
            near(Math.max(...difference)),
          ]);
        });
      }),
      { numRuns: 60 },
    );
  });

  test('loudness comes from the plain K-filter’s energies', () => {
    const sound = chatter(0.2, 1.2, 3);
    const energies = filteredEnergies(sound, kWeighting(48000), 4800);
    const loudest = Math.max(
      ...energies
        .map((_, i) => energies.slice(i, i + 4))
        .filter((four) => four.length === 4)
        .map((four) => four.reduce((a, b) => a + b) / 4),
    );
    expect(measure([sound]).channels[0].momentaryMaxLufs).toBeCloseTo(-0.691 + dbFromPower(loudest), 9);
  });

  test('true peak of sines, steady and loud, is the filter’s own answer', () => {
    for (const hz of [997, 6000, 11025, 19000]) {
      const sound = sine(hz, 0.9, 0.1).map((x, i) => x * Math.min(1, i / 400));
      expect(measure([sound]).channels[0].truePeak).toBeCloseTo(plainTruePeak(sound), 12);
    }
  });

  test('a peak between samples is found wherever it lies, beside the edges of buckets, blocks and pieces too', () => {
    // 256 frames are a bucket and 4800 a block; the interpolation reaches eleven frames back.
    const place = fc.oneof(
      fc.nat(9999),
      fc
        .tuple(fc.constantFrom(256, 4800, 4864, 9600), fc.integer({ min: -14, max: 14 }))
        .map(([edge, aside]) => edge + aside),
    );
    const burst = fc.record({
      place,
      level: fc.double({ min: 0.1, max: 0.9, noNaN: true }),
      shape: fc.constantFrom([1], [1, 1], [1, -1], [1, -1, 1, 1, -1, 1], [0.5, 1, 1, 0.5]),
    });
    fc.assert(
      fc.property(
        fc.array(burst, { minLength: 1, maxLength: 4 }),
        fc.array(fc.nat(6000), { maxLength: 3 }),
        (bursts, pieces) => {
          const sound = noise(0.001, 10000 / 48000, 7);
          for (const { place: at, level, shape } of bursts)
            shape.forEach((x, i) => {
              if (at + i < sound.length) sound[at + i] = level * x;
            });
          expect(measure([sound], 48000, pieces).channels[0].truePeak).toBeCloseTo(plainTruePeak(sound), 12);
        },
      ),
      { numRuns: 150 },
    );
  });

  test('what is read into the meter’s own memory, by turns, measures as what is copied there', () => {
    const channels = [chatter(0.2, 2, 3), noise(0.01, 2, 4)];
    const meter = new ClipMeter(48000, 2, INTERLEAVED);
    const bytes = interleave(channels, channels[0].length);
    for (let start = 0, slot = 0; start < bytes.length; slot = 1 - slot) {
      const place = meter.inputs[slot].subarray(0, Math.min(16 * 30001, bytes.length - start));
      place.set(bytes.subarray(start, start + place.length));
      meter.push(place);
      start += place.length;
    }
    expect(meter.finish()).toEqual(measure(channels));
  });

  test('levels of a sine and of a constant are those of the textbook', () => {
    const {
      channels: [one],
    } = measure([sine(997, 0.5, 2).map((x) => x + 0.1)]);
    expect(dbFromAmplitude(one.peak)).toBeCloseTo(dbFromAmplitude(0.6), 2);
    expect(one.meanSquare).toBeCloseTo(0.125 + 0.01, 4);
    expect(one.mean).toBeCloseTo(0.1, 4);
  });

  test('the speech band passes 1 kHz whole and leaves hum, rumble and offsets out', () => {
    const bandDb = (hz: number, rate = 48000): number => {
      const { blockSpeechPower, blockPower } = measure([sine(hz, 0.5, 1, rate)], rate).channels[0];
      return dbFromPower(blockSpeechPower[8] / blockPower[8]);
    };
    for (const rate of [16000, 44100, 48000, 96000, 192000]) expect(Math.abs(bandDb(1000, rate))).toBeLessThan(0.35);
    expect(bandDb(50)).toBeLessThan(-18);
    expect(measure([new Float64Array(48000).fill(0.5)]).channels[0].blockSpeechPower[9]).toBeLessThan(1e-9);
  });

  test('only three samples in a row at full scale count as clipped, and silence is timed', () => {
    const samples = new Float64Array(48000);
    samples.set([1, 1, 0, -1, -1, -1, -1, 0, 1], 12000);
    const { clippedSamples, longestSilenceSeconds } = measure([samples]).channels[0];
    expect(clippedSamples).toBe(4);
    expect(longestSilenceSeconds).toBeCloseTo((48000 - 12009) / 48000, 9);
  });

  test('equal sides leave exactly nothing, and sides a thousandth apart leave -60 dB', () => {
    const side = chatter(0.1, 1, 1);
    expect(measure([side, side]).pairs[0].differenceSquare).toBe(0);
    const { differenceSquare, squares } = measure([side, scale(side, 1.001)]).pairs[0];
    expect(dbFromPower(differenceSquare / squares[0])).toBeCloseTo(-60, 1);
  });

  test('however the stream is cut, the numbers are the same to the last bit', () => {
    const channels = [chatter(0.2, 1.3, 3), noise(0.01, 1.3, 4)];
    const wanted = measure(channels);
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 20000 }), { maxLength: 8 }), (pieces) => {
        expect(measure(channels, 48000, pieces)).toEqual(wanted);
      }),
      { numRuns: 12 },
    );
  });

  test('turning a channel upside down changes no level and turns the products', () => {
    const [left, right] = [chatter(0.2, 1, 5), chatter(0.1, 1, 5)];
    const [normal, turned] = [measure([left, right]), measure([left, scale(right, -1)])];
    expect(turned.channels[1].loudnessLufs).toBe(normal.channels[1].loudnessLufs);
    expect(turned.pairs[0].product).toBeCloseTo(-normal.pairs[0].product, 9);
  });

  test('numbers too large to be sound, which would overflow, count as those that are not finite', () => {
    const meter = new ClipMeter(48000, 1, { kind: 'float', bits: 64 });
    meter.push(new Uint8Array(Float64Array.of(0.25, 1e300, -1e200, -0.5).buffer));
    const {
      channels: [channel],
      notFinite,
    } = meter.finish();
    expect(notFinite).toBe(2);
    expect(channel).toMatchObject({ peak: 0.5, meanSquare: (0.25 ** 2 + 0.5 ** 2) / 4 });
  });

  test('NaN and infinity in float data count as silence and are counted', () => {
    const meter = new ClipMeter(48000, 1, { kind: 'float', bits: 32 });
    meter.push(new Uint8Array(Float32Array.of(0.25, NaN, Infinity, -Infinity, -0.5).buffer));
    expect(meter.finish()).toMatchObject({ notFinite: 3, channels: [{ peak: 0.5, mean: -0.05 }] });
  });
});
