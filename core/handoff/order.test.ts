import fc from 'fast-check';
import { outputWords, packingFor } from '../pcm/packing.ts';
import { bytesPerSample, type SampleFormat } from '../pcm/sampleFormat.ts';
import { changesNothing } from '../repair/plan/compare.ts';
import { fillFrom, splitToMonos } from '../repair/plan/plans.ts';
import { HandoffBits, HandoffFormat } from '../schema/handoff.ts';
import { Intake } from '../schema/setup.ts';
import { expectedBytes } from './expectedBytes.ts';
import { intakeRepair } from './intakeRepair.ts';
import { pathsFor, type NamedByFormat } from './paths.ts';
import { sketchSvg } from './sketchSvg.ts';

// What a handoff makes of each clip: its words, its files, its room.

const named = (rest: Partial<NamedByFormat>): NamedByFormat => ({
  ...{ fileName: 'Deck 1.WAV', container: 'wav', hasVideo: false, repair: null, format: 'same', trackNames: [] },
  ...rest,
});

test('files keep their own ending where they stay what they were, and get that of what they become', () => {
  const at = (rest: Partial<NamedByFormat>): string[] => pathsFor(named(rest), 'day 2/Deck 1');
  expect(at({})).toEqual(['day 2/Deck 1.WAV']);
  expect(at({ repair: fillFrom(1, 2) })).toEqual(['day 2/Deck 1.WAV']);
  expect(at({ repair: fillFrom(1, 2), format: 'flac' })).toEqual(['day 2/Deck 1.flac']);
  expect(at({ format: 'wav', fileName: 'a.m4a', container: 'm4a' })).toEqual(['day 2/Deck 1.wav']);
  expect(at({ repair: fillFrom(1, 2), fileName: 'a.aif', container: 'aiff' })).toEqual(['day 2/Deck 1.aif']);
  expect(at({ repair: splitToMonos(2), trackNames: ['boom', 'lapel'] })).toEqual([
    'day 2/Deck 1-boom.WAV',
    'day 2/Deck 1-lapel.WAV',
  ]);
  // With its picture a recording stays one file; its sound alone does not.
  const film = { hasVideo: true, container: 'mov', fileName: 'B002.mov', repair: splitToMonos(2) };
  expect(at(film)).toEqual(['day 2/Deck 1.mov']);
  expect(at({ ...film, format: 'wav' })).toEqual(['day 2/Deck 1-left.wav', 'day 2/Deck 1-right.wav']);
});

const FORMATS: SampleFormat[] = [
  { kind: 'integer', bits: 8 },
  { kind: 'integer', bits: 16 },
  { kind: 'integer', bits: 24 },
  { kind: 'integer', bits: 32 },
  { kind: 'float', bits: 32 },
  { kind: 'float', bits: 64 },
];

test('words stay the source’s unless others are wanted, and FLAC never gets what it cannot hold', () => {
  for (const source of FORMATS)
    for (const format of HandoffFormat.options)
      for (const bits of HandoffBits.options) {
        const packing = packingFor(format, 'wav');
        if (packing === 'flac' && (bits === '32' || bits === '32f')) {
          expect(() => outputWords(bits, source, packing)).toThrow('FLAC holds whole numbers');
          continue;
        }
        const words = outputWords(bits, source, packing);
        if (packing === 'flac') expect([words.kind, words.bits <= 24]).toEqual(['integer', true]);
        else if (bits === 'same') expect(words).toEqual(source);
        if (bits === '16' || bits === '24') expect(words).toEqual({ kind: 'integer', bits: Number(bits) });
      }
});

test('an intake rule changes nothing but how channels are handed over, and nothing where it is so already', () => {
  fc.assert(
    fc.property(fc.constantFrom(...Intake.options), fc.integer({ min: 1, max: 12 }), (intake, channels) => {
      const repair = intakeRepair(intake, channels, null);
      if (repair === null) return;
      // Every source channel is still there, at the level it had.
      const cables = repair.outputs.flatMap(({ routes }) => routes.flat());
      expect(new Set(cables.map(({ from }) => from)).size).toBe(channels);
      expect(cables.every(({ gainDb, polarity }) => gainDb === 0 && polarity === 'normal')).toBe(true);
      expect(repair.outputs[0].layout === '5.1' || !changesNothing(repair)).toBe(true);
    }),
  );
  expect(intakeRepair('stereo-pair', 2, null)).toBeNull();
  expect(intakeRepair('separate-monos', 1, null)).toBeNull();
  expect(intakeRepair('surround', 6, '5.1(side)')).toBeNull();
  expect(intakeRepair('surround', 6, null)?.outputs[0].layout).toBe('5.1');
});

test('room is reckoned for all that is written, and never too little', () => {
  const words: SampleFormat = { kind: 'integer', bits: 24 };
  const of = (rest: object) =>
    expectedBytes({
      ...{ bytes: 1000, frames: 48_000, hasVideo: false, channels: 2, repair: null, words, format: 'same' as const },
      ...rest,
    });
  expect(of({})).toBe(1000);
  const sound = 48_000 * bytesPerSample(words);
  expect(of({ repair: fillFrom(1, 2) })).toBeGreaterThanOrEqual(2 * sound);
  expect(of({ repair: splitToMonos(6), channels: 6 })).toBeGreaterThanOrEqual(6 * sound);
  expect(of({ repair: fillFrom(1, 2), hasVideo: true })).toBeGreaterThanOrEqual(1000 + 2 * sound);
  expect(of({ format: 'wav', channels: 4 })).toBeGreaterThanOrEqual(4 * sound);
});

test('a ribbon in little draws what is there, each side on its own side of the seam', () => {
  const sketch = [
    { channel: 1, peaksDbfs: [-6, null, -90] },
    { channel: 2, peaksDbfs: [null, -6, -30] },
  ];
  const svg = sketchSvg(sketch, 'Before');
  const bars = (side: string): string[] =>
    [...new RegExp(`class="${side}" d="([^"]*)"`).exec(svg)![1].matchAll(/v(-?[\d.]+)/g)].map(([, v]) => v);
  expect(
    bars('left')
      .map(Number)
      .every((v) => v < 0),
  ).toBe(true);
  expect(bars('left').length).toBe(1);
  expect(
    bars('right')
      .map(Number)
      .every((v) => v > 0),
  ).toBe(true);
  expect(bars('right').length).toBe(2);
  expect(sketchSvg([sketch[0]], 'Before')).toContain('class="mono"');
});
