import { Chance } from '../synth/chance.ts';
import { timecodeFromSeconds } from '../time/timecode.ts';
import type { FrameRate } from '../time/frameRates.ts';
import { isRecording, readCmx } from './cmx/cmxEdit.ts';
import { writeCmx } from './cmx/writeCmx.ts';
import { fileNameOf, pathOf, type EditEvent, type Replacement, type WriteEdit } from './edit.ts';
import { matchEvents, type EditClip } from './match.ts';
import { readOtio } from './otio/otioEdit.ts';
import { writeOtio } from './otio/writeOtio.ts';
import { anyEvent } from './test/anyEvent.ts';

const time = (value: number, rate: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate });
const range = (start: number, length: number, rate: number) => ({
  OTIO_SCHEMA: 'TimeRange.1',
  start_time: time(start, rate),
  duration: time(length, rate),
});
const file = (url: string) => ({
  OTIO_SCHEMA: 'ExternalReference.1',
  target_url: url,
  metadata: { kept: 1 },
  name: '',
});
const clip = (name: string, url: string, rate: number, start = 90_000, length = 50) => ({
  OTIO_SCHEMA: 'Clip.1',
  name,
  source_range: range(start, length, rate),
  media_reference: file(url),
  metadata: {},
});
const track = (kind: string, children: unknown[]) => ({ OTIO_SCHEMA: 'Track.1', kind, children, metadata: {} });
const timeline = (...tracks: unknown[]) =>
  JSON.stringify({ OTIO_SCHEMA: 'Timeline.1', name: 'Film', tracks: { OTIO_SCHEMA: 'Stack.1', children: tracks } });

const NEW: Replacement = { target: 'sound/new.wav', name: 'new.wav', further: [], note: null, range: null };
const changing = (replacementOf: (event: EditEvent) => Replacement | null): WriteEdit => ({
  replacementOf,
  movedTarget: () => null,
});

/** Every time that stands anywhere in an edit. */
function timesIn(node: unknown): string[] {
  if (Array.isArray(node)) return node.flatMap(timesIn);
  if (typeof node !== 'object' || node === null) return [];
  const { OTIO_SCHEMA: schema } = node as { OTIO_SCHEMA?: string };
  return schema?.startsWith('TimeRange') ? [JSON.stringify(node)] : Object.values(node).flatMap(timesIn);
}

test.each([24000 / 1001, 24, 25, 30000 / 1001, 30, 50, 60000 / 1001])(
  'an OpenTimelineIO edit at %d keeps every time, count and unknown word when it is written with new files',
  (rate) => {
    const chance = new Chance(Math.round(rate * 1000));
    const clips = Array.from({ length: 8 }, (_, i) =>
      clip(`take ${i}`, `file:///card/take%20${i}.wav`, rate, chance.integer(0, 10 ** 6), chance.integer(1, 500)),
    );
    const nested = {
      OTIO_SCHEMA: 'Stack.1',
      children: [track('Audio', clips.slice(6))],
      source_range: range(0, 99, rate),
    };
    const text = timeline(
      track('Video', [
        { OTIO_SCHEMA: 'Gap.1', source_range: range(0, 10, rate) },
        ...clips.slice(0, 3),
        { OTIO_SCHEMA: 'Transition.1', in_offset: time(5, rate), out_offset: time(5, rate) },
      ]),
      track('Audio', [...clips.slice(3, 6), nested, { OTIO_SCHEMA: 'Unheard.7', words: ['kept'] }]),
    );
    const edit = readOtio(text, 'film.otio');
    expect(edit.events.map(({ target }) => pathOf(target!))).toEqual(clips.map((_, i) => `/card/take ${i}.wav`));
    const written = writeOtio(
      edit,
      changing(({ index }) => (index % 2 === 0 ? NEW : null)),
    );
    const again = readOtio(written, 'again.otio');
    expect(again.events).toHaveLength(8);
    again.events.forEach((event, i) => {
      const before = edit.events[i];
      expect([event.startSeconds, event.endSeconds, event.name]).toEqual([
        before.startSeconds,
        before.endSeconds,
        before.name,
      ]);
      expect(event.target).toBe(i % 2 === 0 ? 'sound/new.wav' : before.target);
    });
    expect(timesIn(JSON.parse(written))).toEqual(timesIn(JSON.parse(text)));
    expect(written).toContain('"words"');
    expect(JSON.stringify(JSON.parse(written))).toContain(
      '"pocket_twin":{"was":"file:///card/take%200.wav","note":null}',
    );
  },
);

test('of several media the active one is meant, and a note stands on the track', () => {
  const many = {
    ...clip('a', 'unused.wav', 25),
    OTIO_SCHEMA: 'Clip.2',
    media_references: { full: file('full.wav'), proxy: file('proxy.wav') },
    active_media_reference_key: 'full',
  };
  const edit = readOtio(timeline(track('Audio', [many])), 'a.otio');
  expect(edit.events[0].target).toBe('full.wav');
  const written = JSON.parse(
    writeOtio(
      edit,
      changing(() => ({ ...NEW, note: 'Now mono.' })),
    ),
  );
  const [audio] = written.tracks.children;
  expect(audio.metadata.pocket_twin.notes).toEqual(['a: Now mono.']);
  expect(audio.children[0].media_references.proxy.target_url).toBe('proxy.wav');
});

test.each(['', '{', '[]', '{"OTIO_SCHEMA":"Box.1"}'])('what is no edit is told in a sentence: %j', (text) => {
  expect(() => readOtio(text, 'x.otio')).toThrow(/^x\.otio is/);
  expect(() => readCmx(text, { numerator: 25, denominator: 1, dropFrame: false }, 'x.edl')).toThrow(
    /^x\.edl is not a CMX/,
  );
});

const RATES: [string, FrameRate][] = [
  ['23.976', { numerator: 24000, denominator: 1001, dropFrame: false }],
  ['25', { numerator: 25, denominator: 1, dropFrame: false }],
  ['29.97 drop', { numerator: 30000, denominator: 1001, dropFrame: true }],
  ['29.97', { numerator: 30000, denominator: 1001, dropFrame: false }],
  ['50', { numerator: 50, denominator: 1, dropFrame: false }],
];

test.each(RATES)('an edit list at %s frames is written as it was read, but for the names', (_what, rate) => {
  const at = (seconds: number): string => timecodeFromSeconds(seconds, rate);
  const times = (start: number): string => [start, start + 61, start - 3599, start - 3538].map(at).join(' ');
  const text = [
    'TITLE: FILM',
    `FCM: ${rate.dropFrame ? 'DROP FRAME' : 'NON-DROP FRAME'}`,
    `001  DECK01   AA/V  C        ${times(3600)}`,
    '* FROM CLIP NAME: deck 1.wav',
    `002  BL       V     C        ${times(3661)}`,
    `002  DECK02   V     D    025 ${times(3661)}`,
    '* FROM CLIP NAME: BLACK',
    '* TO CLIP NAME: deck 2',
    '* SOURCE FILE: /card/deck 2.wav',
    'M2   DECK02       025.0      01:00:00:00',
    '',
  ].join('\r\n');
  const edit = readCmx(text, rate, 'film.edl');
  expect(edit.events.map(({ reel, name }) => [reel, name])).toEqual([
    ['DECK01', 'deck 1.wav'],
    [null, 'BLACK'],
    ['DECK02', 'deck 2'],
  ]);
  expect(edit.events.map(isRecording)).toEqual([true, false, true]);
  expect(edit.events[0].startSeconds).toBeCloseTo(3600, 1);
  expect(
    writeCmx(
      edit,
      changing(() => null),
    ),
  ).toBe(text);
  const written = writeCmx(
    edit,
    changing(({ index }) => (index === 1 ? null : NEW)),
  );
  expect(written).toContain('* FROM CLIP NAME: new.wav\r\n');
  expect(written).toContain('* TO CLIP NAME: new\r\n');
  const again = readCmx(written, rate, 'again.edl');
  expect(again.events.map(({ startSeconds, endSeconds }) => [startSeconds, endSeconds])).toEqual(
    edit.events.map(({ startSeconds, endSeconds }) => [startSeconds, endSeconds]),
  );
});

const recording = (path: string, more: Partial<EditClip> = {}): EditClip => ({
  path,
  reel: null,
  startSeconds: null,
  durationSeconds: 60,
  ...more,
});
const event = anyEvent;

test('events find their recordings by path, name, name without ending, and reel', () => {
  const clips = [recording('/card/A/take 1.wav', { reel: 'ROLL7' }), recording('/card/B/other.mov')];
  const found = matchEvents(
    [
      event({ target: 'file:///card/A/take%201.wav' }),
      event({ target: '/elsewhere/TAKE 1.WAV' }),
      event({ name: 'other' }),
      event({ reel: 'roll-7' }),
      event({ name: 'nowhere.wav' }),
    ],
    clips,
  );
  expect(found).toEqual([[0], [0], [1], [0], []]);
});

test('of recordings of one name the folder tells, then the timecode; where nothing tells, all are named', () => {
  const clips = [
    recording('/card/A/take.wav', { startSeconds: 100 }),
    recording('/card/B/take.wav', { startSeconds: 500 }),
  ];
  expect(matchEvents([event({ target: 'D:\\moved\\B\\take.wav' })], clips)).toEqual([[1]]);
  expect(matchEvents([event({ name: 'take.wav', startSeconds: 510, endSeconds: 520 })], clips)).toEqual([[1]]);
  expect(matchEvents([event({ name: 'take.wav' })], clips)).toEqual([[0, 1]]);
});

test('a file’s name is read from paths and addresses alike', () => {
  expect(['a/b c.wav', 'C:\\a\\b.wav', 'file:///a/b%20c.wav?x=1', 'file:///a/100%.wav'].map(fileNameOf)).toEqual([
    'b c.wav',
    'b.wav',
    'b c.wav',
    '100%.wav',
  ]);
});
