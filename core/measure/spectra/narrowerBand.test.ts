import { passFilter } from '../../signal/biquad.ts';
import { filtered } from '../../synth/filters.ts';
import { gain, mix, RATE, type Mono } from '../../synth/mono.ts';
import { chatter, hiss } from '../../synth/noise.ts';
import { inspect } from '../../test/inspecting.ts';
import { crossSpectrumOf } from './crossSpectrum.ts';
import { narrowerBand } from './narrowerBand.ts';

// Of two copies the one that holds less is told, and never kept.

const VOICE = chatter(0.1, 10, 3);
const onFloor = (sides: Mono[], floorDb = -84): Mono[] =>
  sides.map((side, i) => mix(side, hiss(side.length, floorDb, 30 + i)));

function through(sound: Mono, lowHz: number, highHz: number): Mono {
  let out = sound;
  for (let n = 0; n < 2; n++)
    out = filtered(
      filtered(out, passFilter('high-pass', lowHz, Math.SQRT1_2, RATE)),
      passFilter('low-pass', highHz, Math.SQRT1_2, RATE),
    );
  return out;
}

function bandOf(left: Mono, right: Mono) {
  return narrowerBand({ spectrum: crossSpectrumOf([[left, right]], RATE, 4096).spectrum, noise: null });
}

test.each([
  [300, 3400],
  [150, 2500],
  [400, 4000],
])('a side from %d to %d Hz of the other is told with its band, whichever it is and however loud', (lowHz, highHz) => {
  for (const gainDb of [-10, 0, 10]) {
    const narrow = gain(through(VOICE, lowHz, highHz), gainDb);
    for (const [band, side] of [
      [bandOf(VOICE, narrow), 'right'],
      [bandOf(narrow, VOICE), 'left'],
    ] as const) {
      expect(band).toMatchObject({ side });
      // To a third of an octave or two: a filter of this kind takes 12 dB off at 0.7 and 1.4 of its corners.
      expect(band!.lowHz).toBeGreaterThan(lowHz / 2);
      expect(band!.lowHz).toBeLessThan(lowHz * 1.3);
      expect(band!.highHz).toBeGreaterThan(highHz / 1.3);
      expect(band!.highHz).toBeLessThan(highHz * 2);
    }
  }
});

test('copies at any level, and sides that each lack something, have none that is narrower', () => {
  expect(bandOf(VOICE, gain(VOICE, -14))).toBeNull();
  const low = through(VOICE, 20, 2000);
  const high = through(VOICE, 400, 20_000);
  expect(bandOf(low, high)).toBeNull();
});

test.each([
  ['right', 1],
  ['left', 2],
])('a %s side over a telephone is not the one that is kept, nor the clearest', async (side, whole) => {
  const narrow = through(VOICE, 300, 3400);
  const found = await inspect(onFloor(side === 'right' ? [VOICE, narrow] : [narrow, VOICE]));
  expect(found.pairs[0]).toMatchObject({ verdict: 'fake-stereo', narrower: { side } });
  expect(found.detail).toMatch(
    side === 'left' ? /the left one holds nothing but/ : /The right side is the left one.*holds nothing but/,
  );
  expect(found.cause).toMatch('telephone');
  expect(found.clearestChannel).toBe(whole);
  expect(found.suggestion).toMatchObject({ action: 'select', from: whole });
  expect(found.suggestion.reason).toMatch(`The ${side} side holds nothing but`);
  expect(found.findings.find(({ code }) => code === 'band-limited')).toMatchObject({ channels: [3 - whole] });
});

test.each([
  ['right', 1],
  ['left', 2],
])(
  'nor is a %s side that a link with a rate of 16 kHz has cut off, though voices have little up there',
  async (side, whole) => {
    const narrow = through(VOICE, 30, 6000);
    const found = await inspect(onFloor(side === 'right' ? [VOICE, narrow] : [narrow, VOICE]));
    expect(found.pairs[0]).toMatchObject({ verdict: 'fake-stereo', narrower: { side } });
    expect(found.pairs[0].narrower!.highHz).toBeGreaterThan(5000);
    expect(found.suggestion).toMatchObject({ action: 'select', from: whole });
  },
);

test.each([
  ['right', 1],
  ['left', 2],
])(
  'nor is a %s side of which a gentle filter took little, with all that it took of the treble under the noise',
  async (side, whole) => {
    // As voices are that are recorded close: loud below 500 Hz, 40 dB down at 4 kHz.
    const cut = passFilter('low-pass', 500, Math.SQRT1_2, RATE);
    const voice = filtered(VOICE, cut);
    const gentle = gain(
      filtered(
        filtered(voice, passFilter('high-pass', 170, Math.SQRT1_2, RATE)),
        passFilter('low-pass', 4000, Math.SQRT1_2, RATE),
      ),
      3,
    );
    const found = await inspect(onFloor(side === 'right' ? [voice, gentle] : [gentle, voice], -66));
    expect(found.pairs[0]).toMatchObject({ verdict: 'fake-stereo', narrower: null });
    expect(found.suggestion).toMatchObject({ action: 'select', from: whole });
  },
);
