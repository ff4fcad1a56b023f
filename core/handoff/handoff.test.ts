import fc from 'fast-check';
import { XMLParser } from 'fast-xml-parser';
import { madeBext } from '../riff/bext.ts';
import { noFacts } from '../schema/clipFacts.ts';
import { codingHistoryLine, withHistory } from '../riff/codingHistory.ts';
import { conformLines, type ConformFacts } from './conform.ts';
import { mhlText, readMhl, readSha256, sha256Text } from './manifest.ts';
import { checkPattern, FreeNames, nameFrom, safeName } from './names.ts';

const FACTS = { name: 'take 1', setup: 'Deck', scene: '12', take: '', role: 'boom', channel: '2', date: '2026-11-27' };

test('a pattern is filled, and what is not known leaves no gap', () => {
  expect(nameFrom('{scene}-{take}-{name}', FACTS)).toBe('12-take 1');
  expect(nameFrom('{date} {setup}_{role}{channel}', FACTS)).toBe('2026-11-27 Deck_boom2');
  expect(nameFrom('{take}', FACTS)).toBe('take 1');
  expect(() => checkPattern('{name}{colour}')).toThrow('no “{colour}”');
  expect(() => checkPattern('same')).toThrow('call all files the same');
});

test.each([
  ['a/b\\c:d*e?', 'a_b_c_d_e_'],
  ['CON', '_CON'],
  ['nul.take', '_nul.take'],
  ['ends. . ', 'ends'],
  ['', '_'],
  ['..', '_'],
])('%j becomes a name that every system takes: %j', (hostile, safe) => {
  expect(safeName(hostile)).toBe(safe);
});

test('long names are cut between letters, within what a name may hold', () => {
  const name = safeName('ä'.repeat(300));
  expect(new TextEncoder().encode(name).length).toBeLessThanOrEqual(200);
  expect(name).toBe('ä'.repeat(100));
});

test('names that differ only in case, or in how accents are written, are told apart', () => {
  const names = new FreeNames();
  expect(['A/x.wav', 'a/X.wav', 'a/x.WAV', 'é.wav', 'e\u0301.wav', 'x'].map((path) => names.claim(path))).toEqual([
    'A/x.wav',
    'a/X (2).wav',
    'a/x (3).WAV',
    'é.wav',
    'e\u0301 (2).wav',
    'x',
  ]);
});

const entry = (path: string) => ({
  ...{ path, bytes: 3, modifiedAt: '2026-11-27T00:00:00Z' },
  ...{ sha256: 'ab'.repeat(32), xxh128: 'cd'.repeat(16) },
});

test('a manifest of checksums is read as it was written, whatever the names hold', () => {
  const entries = ['plain.wav', 'with  spaces.wav', 'back\\slash.wav', 'new\nline.wav'].map(entry);
  expect(readSha256(sha256Text(entries))).toEqual(entries.map(({ path, sha256 }) => ({ path, sha256 })));
  expect(() => readSha256('nonsense')).toThrow('no checksum');
});

test('the hash list is XML in which every file stands by its path', () => {
  const text = mhlText([entry('a & b <c>.wav')], { createdAt: '2026-11-27T00:00:00Z', host: 'here', version: '1' });
  const { hashlist } = new XMLParser({ ignoreAttributes: false, htmlEntities: true }).parse(text);
  expect(hashlist.hashes.hash.path).toMatchObject({ '#text': 'a & b <c>.wav', '@_size': '3' });
  expect(hashlist.hashes.hash.xxh128['#text']).toBe('cd'.repeat(16));
});

/** XML holds no control characters, and makes one of two ends of a line. */
const printable = (text: string): boolean => !/[\u0000-\u001f\u007f-\u009f\ufffe\uffff]/.test(text);

test('a hash list is read back as it was written, whatever the names are', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.string({ unit: 'grapheme', minLength: 1 }).filter(printable), { maxLength: 5 }),
      (names) => {
        const text = mhlText(names.map(entry), { createdAt: '2026-11-27T00:00:00Z', host: 'here', version: '1' });
        expect(readMhl(text).map(({ path }) => path)).toEqual(names);
      },
    ),
  );
  const mixed = ['two\nlines\r.wav', 'a & b <c>.wav', ' spaces .wav', '12', '007.wav', '&amp;.wav', 'it\'s "so"'];
  expect(
    readMhl(mhlText(mixed.map(entry), { createdAt: 'x', host: 'h', version: '1' })).map(({ path }) => path),
  ).toEqual(mixed);
  expect(readMhl('<hashlist>')).toEqual([]);
});

test('coding history gets a line that names what was done, after those that were there', () => {
  const line = codingHistoryLine(
    { sampleRate: 48_000, bitDepth: 24, channels: 2 },
    'Fill right from left, at −23 LUFS',
  );
  expect(line).toBe('A=PCM,F=48000,W=24,M=stereo,T=Pocket Twin; Fill right from left; at -23 LUFS');
  const once = withHistory(madeBext(noFacts(2)), 'A=ANALOGUE');
  const text = new TextDecoder('latin1').decode(withHistory(once, line).subarray(602));
  expect(text).toBe(`A=ANALOGUE\r\n${line}\r\n`);
});

test('old against new is told line by line, and what neither has is no line', () => {
  const facts: ConformFacts = {
    ...{ frames: 100, sampleRate: 48_000, bitDepth: 24, codec: 'pcm_s24le', channels: 2, layout: null },
    ...{ timecode: '01:00:00:00', durationSeconds: 1, pictureHash: null, pictureFrames: null },
  };
  const lines = conformLines(facts, { ...facts, channels: 1 });
  expect(lines.map(({ what }) => what)).not.toContain('picture frames');
  expect(lines.filter(({ equal }) => !equal)).toEqual([{ what: 'channels', old: 2, new: 1, equal: false }]);
});
