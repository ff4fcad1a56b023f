import { conformLines, type ConformFacts } from './conform.ts';
import { reasonFor, type WhatWasAsked } from './conformReasons.ts';
import { conformSentence } from './conformSentence.ts';

const FACTS: ConformFacts = {
  ...{ frames: 96_000, sampleRate: 48_000, bitDepth: 24, codec: 'pcm_s24le', channels: 2, layout: 'stereo' },
  ...{ timecode: null, durationSeconds: 2, pictureHash: null, pictureFrames: null },
};
const PLAIN: WhatWasAsked = {
  ...{ isRepaired: true, changesChannels: false, isCut: false, changesForm: false, isCoded: false },
  sampleRate: 48_000,
};

test('what only one file holds is a line that is not equal, and nothing is called the same that was not compared', () => {
  const lines = conformLines(FACTS, FACTS, {
    before: { chapters: 2, 'cover 1: content': 'a1' },
    after: { chapters: 2 },
  });
  expect(lines.filter(({ equal }) => !equal)).toEqual([
    { what: 'cover 1: content', old: 'a1', new: null, equal: false },
  ]);
  expect(lines.find(({ what }) => what === 'chapters')).toMatchObject({ equal: true });
  expect(lines.some(({ what }) => what === 'start timecode')).toBe(false);
  expect(conformSentence(lines)).toBe('Differs: cover 1: content a1 → none.');
  expect(conformSentence(conformLines(FACTS, FACTS))).toBe(
    'Drop-in replacement: all 7 properties compared are the same.',
  );
});

test.each<[string, string | number | null, string | number | null, Partial<WhatWasAsked>, string | undefined]>([
  ['channels', 2, 1, { changesChannels: true }, 'repair'],
  ['channels', 2, 1, {}, undefined],
  ['frames', 96_000, 97_024, { isCoded: true }, 'coder-delay'],
  // More than a coder puts before and after is a fault.
  ['frames', 96_000, 106_000, { isCoded: true }, undefined],
  ['frames', 96_000, 97_024, {}, undefined],
  ['sound 1: start', '0.000', '0.200', { isCoded: true }, undefined],
  ['sound 1: start', '0.000', '-0.021', { isCoded: true }, 'coder-delay'],
  ['chapter 1', '0 to 2', '0.08 to 2.08', {}, undefined],
  ['chapter 1', '0 to 2', null, { isCut: true }, 'cut'],
  ['cover 1: content', 'a1', null, { isCoded: true }, undefined],
  ['cover 1: content', 'a1', null, { changesForm: true }, 'no-place'],
  ['chunk Zzz9', 'a1', null, {}, undefined],
  ['chunk levl', 'a1', null, {}, 'new-sound'],
  ['chunk bext', 'a1', 'b2', {}, 'history'],
  ['picture packets (XXH128)', 'a1', 'b2', { isCoded: true }, undefined],
  ['sound 1: disposition', 'default', null, {}, undefined],
])('%s from %p to %p is explained by what was asked, or by nothing', (what, old, now, asked, why) => {
  expect(reasonFor({ what, old, new: now, equal: false }, { ...PLAIN, ...asked })).toBe(why);
});
