import { madeSignal } from '../measure/spectra/madeSignal.ts';
import { inspect, measure, readerOf } from '../test/inspecting.ts';
import { Chance } from '../synth/chance.ts';
import { mix, scale } from '../synth/mono.ts';
import { chatter, noise } from '../synth/noise.ts';
import { timecodeSound } from '../synth/timecodeSound.ts';
import { sine } from '../synth/tones.ts';

// A side that carries what a machine makes has nothing to lose; what anybody plays or says has, however steady it is.

const SECONDS = 8;
const RATE = 48_000;
const FRAMES = SECONDS * RATE;
const PAL = { numerator: 25, denominator: 1, dropFrame: false };
const voice = mix(chatter(0.1, SECONDS, 1), noise(0.0003, SECONDS, 2));
const hissed = (sound: Float64Array): Float64Array => mix(sound, noise(0.0003, SECONDS, 5));
const where = (sound: Float64Array, when: (seconds: number) => boolean): Float64Array =>
  sound.map((x, i) => (when(i / RATE) ? x : 0));
const square = (hz: number): Float64Array => sine(hz, 0.08, SECONDS).map((x) => 0.08 * Math.sign(x));

const MADE: [string, Float64Array, string, RegExp][] = [
  ['timecode', scale(timecodeSound(FRAMES, 36_252, PAL), 0.1), 'timecode', /timecode: the clip starts at 10:04:12:00/],
  ['a line-up tone', sine(1000, 0.1, SECONDS), 'tone', /a tone of (999|1000|1001) Hz/],
  ['beeps', where(sine(1000, 0.2, SECONDS), (t) => t % 1 < 0.1), 'tone', /a tone of/],
  [
    'mains hum with its harmonics',
    mix(sine(50, 0.05, SECONDS), sine(150, 0.02, SECONDS), sine(250, 0.01, SECONDS)),
    'hum',
    /mains hum/,
  ],
  ['telephone buzz in bursts', where(square(217), (t) => t % 2 < 0.7), 'interference', /interference/],
  ['crackle', where(noise(0.3, SECONDS, 9), (t) => Math.round(t * RATE) % 1733 === 0), 'interference', /interference/],
];

test.each(MADE)('%s beside a voice is one-sided, told, and filled from the voice', async (_, sound, code, words) => {
  for (const [sides, side, dead] of [
    [[voice, hissed(sound)], 'left', 2],
    [[hissed(sound), voice], 'right', 1],
  ] as const) {
    const found = await inspect([...sides]);
    expect(found).toMatchObject({ verdict: 'one-sided', suggestion: { action: 'fill' } });
    expect(found.pairs[0].side).toBe(side);
    expect(found.detail).toMatch(words);
    expect(found.findings.filter((one) => one.code === code).map(({ channels }) => channels)).toEqual([[dead]]);
  }
});

test.each([50, 60])('hum of %d Hz is hum wherever its waves begin, at any rate', async (mains) => {
  for (const rate of [RATE, 44_100])
    for (let part = 0; part < 1; part += 1 / 8) {
      // As rectifiers give it off: every harmonic with another's weight.
      const hum = Float64Array.from({ length: 2 * rate }, (_, i) =>
        [1, 2, 3, 4, 5, 7, 9].reduce((sum, h) => sum + Math.sin(2 * Math.PI * h * ((mains * i) / rate + part)) / h, 0),
      );
      const measured = measure([hum], rate);
      const found = await madeSignal(measured, measured.channels[0], readerOf([hum]));
      expect([rate, part, found?.kind]).toEqual([rate, part, 'hum']);
    }
});

test('beeps are beeps where the start or the end of the clip cuts one short', async () => {
  for (const startSeconds of [0, 0.03, 0.07, 0.5])
    for (const lastSeconds of [0.02, 0.04, 0.06, 0.4]) {
      const beeps = where(sine(1300, 0.1, SECONDS), (t) => (t + startSeconds) % 0.9 < 0.1);
      const endSeconds = 7 * 0.9 - startSeconds + lastSeconds;
      const clip = hissed(beeps).subarray(0, Math.round(endSeconds * RATE));
      const measured = measure([clip]);
      const found = await madeSignal(measured, measured.channels[0], readerOf([clip]));
      expect([startSeconds, lastSeconds, found?.kind]).toEqual([startSeconds, lastSeconds, 'tone']);
    }
});

test('long beeps are beeps wherever the parts that are looked at cut them', async () => {
  for (let startSeconds = 0; startSeconds < 1.83; startSeconds += 0.03) {
    const beeps = hissed(where(sine(1300, 0.1, SECONDS), (t) => (t + startSeconds) % 1.83 < 0.37));
    const measured = measure([beeps]);
    const found = await madeSignal(measured, measured.channels[0], readerOf([beeps]));
    expect([startSeconds, found?.kind]).toEqual([startSeconds, 'tone']);
  }
});

test('a word by itself does not make it doubtful what all the rest shows', async () => {
  const said = where(voice, (t) => (t > 0.5 && t < 0.8) || (t > 2.6 && t < 5) || t > 6.5);
  const found = await inspect([hissed(said), hissed(scale(timecodeSound(FRAMES, 36_252, PAL), 0.05))]);
  expect(found).toMatchObject({ verdict: 'one-sided', suggestion: { action: 'fill', from: 1 } });
  expect(found.pairs[0].confidence).toBeGreaterThan(0.97);
});

function crackle(peak: (i: number) => number): Float64Array {
  const chance = new Chance(5);
  const sound = new Float64Array(FRAMES);
  for (let at = 0; at < FRAMES; at += chance.integer(500, 1500)) sound[at] = peak(at);
  return sound;
}

// Pauses of the voice cut the clip into parts. The level of some lies over that of a steady programme, and that of the whole under it.
const WANDERING: [string, Float64Array, string][] = [
  ['crackle', crackle((i) => (i < 2 * RATE ? 0.5 : 0.32)), 'interference'],
  ['noise', noise(0.015, SECONDS, 9).map((x, i) => (i < 2 * RATE ? 1.25 * x : 0.8 * x)), 'hiss'],
];

test.each(WANDERING)('%s as loud as a soft programme is none in any part of the clip', async (_, sound, words) => {
  const said = where(scale(voice, 2), (t) => t % 3 < 1.6);
  const found = await inspect([hissed(sound), hissed(said)]);
  expect(found).toMatchObject({ verdict: 'one-sided', suggestion: { action: 'fill', from: 2 } });
  expect(found.detail).toContain(words);
});

test('a held chord, a voice and a place on the other side are programme: nothing is thrown away', async () => {
  const swell = new Float64Array(FRAMES).map((_, i) => 0.6 + 0.4 * Math.sin((2 * Math.PI * 0.2 * i) / RATE));
  const chord = mix(sine(220, 0.05, SECONDS), sine(277, 0.04, SECONDS), sine(330, 0.04, SECONDS)).map(
    (x, i) => x * swell[i],
  );
  const others = [chord, mix(chatter(0.1, SECONDS, 44)), noise(0.05, SECONDS, 12)];
  for (const other of others) {
    const found = await inspect([voice, hissed(other)]);
    expect(['fill', 'select', 'sum']).not.toContain(found.suggestion.action);
    expect(found.channels[1].made).toBeNull();
  }
});

test('on a recorder’s fourth track timecode is told by name, and is no track to keep', async () => {
  const second = mix(chatter(0.1, SECONDS, 31), noise(0.0003, SECONDS, 32));
  const third = mix(chatter(0.1, SECONDS, 41), noise(0.0003, SECONDS, 42));
  const found = await inspect([voice, second, third, scale(timecodeSound(FRAMES, 36_252, PAL), 0.1)]);
  expect(found.detail).toContain('Channel 4 is timecode: the clip starts at 10:04:12:00.');
  expect(found.suggestion).toMatchObject({ action: 'split', to: [1, 2, 3] });
  const codes = found.findings.filter(({ channels }) => channels.includes(4)).map(({ code }) => code);
  expect(codes).toContain('timecode');
  expect(codes).not.toContain('silent-channel');
});

test('a tone alone, or on both sides, is what was recorded', async () => {
  const tone = hissed(sine(1000, 0.1, SECONDS));
  expect((await inspect([tone])).channels[0].content).toBe('programme');
  const both = await inspect([tone, tone]);
  expect(both).toMatchObject({ verdict: 'dual-mono', channels: [{ content: 'programme' }, { content: 'programme' }] });
});

// The loudest moment of each part of it is one and the same.
const LOOPED: [string, Float64Array][] = [
  ['a voice', chatter(0.1, 5, 44)],
  [
    'a bass on a drum',
    mix(
      bassLine([55, 73, 49, 82]),
      where(noise(0.01, SECONDS, 46), (t) => t % 0.5 < 0.05),
    ),
  ],
  ['noise that swells', noise(0.1, 5, 47).map((x, i) => x * (1 + Math.sin((2 * Math.PI * i) / (2.5 * RATE))))],
];

/** Half-second notes, the first of them the loudest. */
function bassLine(notes: number[]): Float64Array {
  const line = new Float64Array(notes.length * 0.5 * RATE);
  for (const [n, hz] of notes.entries()) line.set(sine(hz, n === 0 ? 0.2 : 0.06, 0.5), n * 0.5 * RATE);
  return line;
}

test.each(LOOPED)('%s that was looped is what was recorded, and not thrown away', async (_, turn) => {
  const seconds = 60;
  const looped = Float64Array.from({ length: seconds * RATE }, (_, i) => turn[i % turn.length]);
  const spoken = mix(chatter(0.1, seconds, 1), noise(0.0003, seconds, 2));
  const found = await inspect([spoken, mix(looped, noise(0.0003, seconds, 5))]);
  expect(found.channels[1].made).toBeNull();
  expect(['fill', 'select', 'sum']).not.toContain(found.suggestion.action);
});

test('what the other side hears as well is no machine’s, however evenly it comes', async () => {
  const drone = mix(sine(220, 0.05, SECONDS), sine(330, 0.05, SECONDS), sine(550, 0.03, SECONDS));
  // Further off, behind something that opens and closes.
  const late = drone.map((_, i) => (drone[i - 576] ?? 0) * (0.6 + 0.4 * Math.sin((2 * Math.PI * 0.3 * i) / RATE)));
  const found = await inspect([hissed(drone), mix(late, noise(0.0003, SECONDS, 6))]);
  expect(found.channels.map(({ made }) => made)).toEqual([null, null]);
  expect(found.verdict).not.toBe('one-sided');
});

test.each([
  ['lines that swell and fall', voiceOfLines(110, 3.1)],
  ['lines that swell and fall slowly', voiceOfLines(190, 2.3)],
  ['sweeps', sweeps()],
])('%s beside a voice are programme', async (_, other) => {
  const seconds = other.length / RATE;
  const found = await inspect([chatter(0.1, seconds, 1), other].map((x, i) => mix(x, noise(0.0003, seconds, 5 + i))));
  expect(found.channels[1].made).toBeNull();
  expect(['fill', 'select', 'sum']).not.toContain(found.suggestion.action);
});

/** Harmonics of one pitch that swell and fall so many times a second, as a voice that somebody made without a pause of chance. */
function voiceOfLines(hz: number, swells: number): Float64Array {
  return new Float64Array(20 * RATE).map((_, i) => {
    const t = i / RATE;
    if (t % 2.7 >= 2) return 0;
    let lines = 0;
    for (let h = 1; h <= 20; h++) lines += Math.sin(2 * Math.PI * hz * h * t + h) / h;
    return 0.1 * lines * (0.5 + 0.5 * Math.sin(2 * Math.PI * swells * t));
  });
}

/** Two a second. */
function sweeps(): Float64Array {
  return new Float64Array(FRAMES).map((_, i) => {
    const t = (i / RATE) % 0.5;
    return 0.2 * Math.sin(2 * Math.PI * (300 * t + 900 * t * t)) * Math.sin(2 * Math.PI * t);
  });
}
