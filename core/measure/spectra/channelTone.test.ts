import { measure, readerOf } from '../../test/inspecting.ts';
import { mix, scale } from '../../synth/mono.ts';
import { chatter, noise } from '../../synth/noise.ts';
import { sine } from '../../synth/tones.ts';
import { channelTone } from './channelTone.ts';

const SECONDS = 12;

async function toneOf(sound: Float64Array) {
  const measurement = measure([sound]);
  return channelTone(measurement, measurement.channels[0], readerOf([sound]));
}

function buzz(mainsHz: number, amplitudes: number[]): Float64Array {
  return mix(...amplitudes.map((amplitude, h) => sine(mainsHz * (h + 1), amplitude, SECONDS)));
}

test.each([50, 60])(
  'the power of a hum of %i Hz is that of its harmonics, under hiss and between words',
  async (mainsHz) => {
    const amplitudes = [0.01, 0.004, 0.006, 0.002];
    const truth = amplitudes.reduce((sum, amplitude) => sum + amplitude ** 2 / 2, 0);
    const found = await toneOf(mix(buzz(mainsHz, amplitudes), noise(0.0002, SECONDS, 1), chatter(0.2, SECONDS, 2)));
    expect(found.mainsHz).toBe(mainsHz);
    expect(Math.abs(10 * Math.log10(found.humPower / truth))).toBeLessThan(0.5);
  },
);

test('hiss has no hum and is no tone', async () => {
  const found = await toneOf(noise(0.003, SECONDS, 3));
  expect(found.humPower).toBe(0);
  expect(found.tonalShare).toBeLessThan(0.02);
});

test('a tone beside the mains is a tone; a hum with thirty harmonics is not', async () => {
  expect((await toneOf(mix(sine(1234, 0.05, SECONDS), noise(0.0005, SECONDS, 4)))).tonalShare).toBeGreaterThan(0.95);
  const rich = buzz(
    50,
    Array.from({ length: 30 }, (_, h) => 0.01 / (h + 1)),
  );
  expect((await toneOf(mix(rich, noise(0.0001, SECONDS, 5)))).tonalShare).toBeLessThan(0.05);
});

test('twice the sound is four times the hum and the same share of tones', async () => {
  const sound = mix(buzz(60, [0.01, 0, 0.01]), noise(0.0004, SECONDS, 6));
  const [once, twice] = [await toneOf(sound), await toneOf(scale(sound, 2))];
  expect(twice.humPower / once.humPower).toBeCloseTo(4, 6);
  expect(twice.tonalShare).toBeCloseTo(once.tonalShare, 6);
});
