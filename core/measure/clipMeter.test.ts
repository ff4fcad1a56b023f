import fc from 'fast-check';
import { chatter, noise, scale, sine } from '../test/signals.ts';
import { dbFromAmplitude, dbFromPower, amplitudeFromDb } from '../signal/decibels.ts';
import { kWeighting } from '../signal/kWeighting.ts';
import { ClipMeter } from './clipMeter.ts';
import type { Measurement } from './measurement.ts';

function measure(channels: Float64Array[], sampleRate = 48000, ceiling = 1, pieces: number[] = []): Measurement {
  const meter = new ClipMeter(sampleRate, channels.length, ceiling);
  let start = 0;
  for (const piece of [...pieces, channels[0].length]) {
    const end = Math.min(channels[0].length, start + piece);
    meter.push(channels.map((channel) => channel.subarray(start, end)), end - start);
    start = end;
  }
  return meter.finish();
}

test('K-weighting at 48 kHz is the table of BS.1770-5', () => {
  const [shelf, highPass] = kWeighting(48000);
  expect([shelf.b0, shelf.b1, shelf.b2, shelf.a1, shelf.a2]).toEqual([
    1.53512485958697, -2.69169618940638, 1.19839281085285, -1.69065929318241, 0.73248077421585,
  ].map((value) => expect.closeTo(value, 8)));
  expect([highPass.a1, highPass.a2]).toEqual([expect.closeTo(-1.99004745483398, 8), expect.closeTo(0.99007225036621, 8)]);
});

// EBU Tech 3341, cases 1 and 2: a stereo 1 kHz sine at a peak of -23 (-33) dBFS reads -23.0 (-33.0) LUFS, within 0.1 LU.
test.each([[-23, 48000], [-33, 48000], [-23, 44100], [-23, 96000]])('a stereo sine at %d dBFS and %d Hz reads as many LUFS', (levelDb, rate) => {
  const side = sine(1000, amplitudeFromDb(levelDb), 5, rate);
  expect(Math.abs(measure([side, side], rate).pairs[0].loudnessLufs - levelDb)).toBeLessThan(0.1);
});

// EBU Tech 3341, case 3: quiet parts fall under the relative gate.
test('the relative gate leaves quiet stretches out', () => {
  const parts = [[-36, 3], [-23, 18], [-36, 3]].map(([db, seconds]) => sine(1000, amplitudeFromDb(db), seconds));
  const side = Float64Array.from(parts.flatMap((part) => [...part]));
  expect(Math.abs(measure([side, side]).pairs[0].loudnessLufs + 23)).toBeLessThan(0.1);
});

// EBU Tech 3341, cases 15 to 19: quarter-rate sines whose samples miss their crests.
test.each([[0, 0.5], [45, 0.5], [60, 0.5], [67.5, 0.5]])('true peak of a quarter-rate sine with a phase of %d degrees is -6 dBTP', (degrees, amplitude) => {
  const samples = Float64Array.from({ length: 4800 }, (_, i) => (
    amplitude * Math.sin((Math.PI / 2) * i + (degrees * Math.PI) / 180) * Math.min(1, i / 480, (4799 - i) / 480)
  ));
  const truePeakDb = dbFromAmplitude(measure([samples]).channels[0].truePeak);
  expect(truePeakDb).toBeGreaterThan(-6.0 - 0.4);
  expect(truePeakDb).toBeLessThan(-6.0 + 0.2);
});

test('levels of a sine and of a constant are those of the textbook', () => {
  const { channels: [one] } = measure([sine(997, 0.5, 2).map((x) => x + 0.1)]);
  expect(dbFromAmplitude(one.peak)).toBeCloseTo(dbFromAmplitude(0.6), 2);
  expect(one.meanSquare).toBeCloseTo(0.125 + 0.01, 4);
  expect(one.mean).toBeCloseTo(0.1, 4);
});

test('only three samples in a row at full scale count as clipped', () => {
  const samples = new Float64Array(4800);
  samples.set([1, 1, 0, -1, -1, -1, -1, 0, 1], 100);
  expect(measure([samples]).channels[0].clippedSamples).toBe(4);
});

test('equal sides leave exactly nothing, and sides a thousandth apart leave -60 dB', () => {
  const side = chatter(0.1, 2, 1);
  expect(measure([side, side]).pairs[0].differenceSquare).toBe(0);
  const { differenceSquare, squares } = measure([side, scale(side, 1.001)]).pairs[0];
  expect(dbFromPower(differenceSquare / squares[0])).toBeCloseTo(-60, 1);
});

test('however the stream is cut, the numbers are the same', () => {
  const channels = [chatter(0.2, 1.3, 3), noise(0.01, 1.3, 4)];
  const wanted = measure(channels);
  fc.assert(fc.property(fc.array(fc.integer({ min: 0, max: 20000 }), { maxLength: 8 }), (pieces) => {
    expect(measure(channels, 48000, 1, pieces)).toEqual(wanted);
  }), { numRuns: 15 });
});

test('turning a channel upside down changes no level and turns the correlation', () => {
  const [left, right] = [chatter(0.2, 1, 5), chatter(0.1, 1, 5)];
  const [normal, turned] = [measure([left, right]), measure([left, scale(right, -1)])];
  expect(turned.channels[1].loudnessLufs).toBe(normal.channels[1].loudnessLufs);
  expect(turned.pairs[0].product).toBeCloseTo(-normal.pairs[0].product, 9);
});
