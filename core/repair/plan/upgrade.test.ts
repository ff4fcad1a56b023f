import type { Inspection } from '../../schema/inspection.ts';
import { repairName } from './describe.ts';
import { sameRepair } from './compare.ts';
import { fillFrom, leaveAsItIs, splitToMonos } from './plans.ts';
import { savedReceipt, savedRepair } from './upgrade.ts';

const INSPECTION: Inspection = {
  ...{
    channels: [],
    pairs: [],
    verdict: 'mono',
    sections: [],
    duplicates: [],
    mixes: [],
    clearestChannel: null,
    findings: [],
  },
  format: {
    ...{ container: 'wav', codec: 'pcm_s16le', sampleRate: 48000, channels: 1, bitDepth: 16, frames: 1 },
    ...{ durationSeconds: 1, hasVideo: false, warning: null },
  },
  suggestion: { action: 'none', from: null, to: [], reason: '' },
  ...{ headline: '', detail: '', cause: null, advice: null },
};

// Kept by version 1, as a database gave them back: never to be edited.
const VERSION_1 = {
  fill: '{"level":null,"trims":[],"action":"fill","outputs":[{"routes":[[{"from":1,"gainDb":0}],[{"from":1,"gainDb":0}]],"suffix":""}],"version":1,"inputChannels":2}',
  split:
    '{"level":null,"trims":[],"action":"split","outputs":[{"routes":[[{"from":1,"gainDb":0}]],"suffix":"-left"},{"routes":[[{"from":2,"gainDb":0}]],"suffix":"-right"}],"version":1,"inputChannels":2}',
  match:
    '{"level":{"peakDbtp":null,"ceilingDbtp":-1,"loudnessLufs":-23},"trims":[{"gainDb":-3,"channel":1,"polarity":"normal","delaySamples":217.25},{"gainDb":0,"channel":2,"polarity":"inverted","delaySamples":0}],"action":"trim","outputs":[{"routes":[[{"from":1,"gainDb":0}],[{"from":2,"gainDb":0}]],"suffix":""}],"version":1,"inputChannels":2}',
};

test('what version 1 kept is read, means the same, and is called the same', () => {
  const [fill, split, match] = Object.values(VERSION_1).map((text) => savedRepair(JSON.parse(text)));
  expect(sameRepair(fill, fillFrom(1, 2))).toBe(true);
  expect(sameRepair(split, splitToMonos(2))).toBe(true);
  const matched = {
    ...leaveAsItIs(2),
    action: 'trim' as const,
    trims: [
      { channel: 1, gainDb: -3, polarity: 'normal' as const, delaySamples: 217.25 },
      { channel: 2, gainDb: 0, polarity: 'inverted' as const, delaySamples: 0 },
    ],
    level: { commonGainDb: null, loudnessLufs: -23, peakDbtp: null, ceilingDbtp: -1 },
  };
  expect(sameRepair(match, matched)).toBe(true);
  expect([fill, split, match].map(repairName)).toEqual([
    'Fill right from left',
    'Split into two mono files',
    'Match the sides, at −23.0 LUFS',
  ]);
});

test('a receipt of version 1 is read, its repair with it', () => {
  const written = {
    name: 'a.wav',
    bytes: 10,
    frames: 1,
    exact: true,
    proof: { comparedFrames: 1, differingFrames: 0 },
  };
  const receipt = savedReceipt({
    ...{ version: 1, source: 'a.wav', repair: JSON.parse(VERSION_1.fill) as object, levelGainDb: 0 },
    ...{ before: INSPECTION, files: [{ ...written, after: INSPECTION }], writtenAt: '2026-01-01T00:00:00.000Z' },
  });
  expect(sameRepair(receipt.repair, fillFrom(1, 2))).toBe(true);
  expect(receipt.files[0].exactOutside).toEqual([]);
});

test('what a later version kept is told apart from what is no repair', () => {
  const later = { ...(JSON.parse(VERSION_1.fill) as object), version: 99 };
  expect(() => savedRepair(later)).toThrow('kept by a later version');
  for (const nothing of [null, 'fill', {}, { ...later, version: 0 }, { ...later, version: 'one' }])
    expect(() => savedRepair(nothing)).toThrow(expect.objectContaining({ name: 'ZodError' }));
});
