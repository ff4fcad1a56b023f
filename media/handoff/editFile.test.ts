import { isRecording } from '@pocket-twin/core/edit/cmx/cmxEdit.ts';
import { readOtio } from '@pocket-twin/core/edit/otio/otioEdit.ts';
import type { HandedOffRecording } from '@pocket-twin/core/schema/handedOffRecording.ts';
import { Chance } from '@pocket-twin/core/synth/chance.ts';
import type { FrameRate } from '@pocket-twin/core/time/frameRates.ts';
import { timecodeFromSeconds } from '@pocket-twin/core/time/timecode.ts';
import { editFrom } from './editFile.ts';

// Edits at every rate, with clips that become one, two and four files, used more than once, with transitions and speed: every event keeps its times, every
// further file lies in step with the first, and nothing else moves.

const rate = (numerator: number, denominator = 1, dropFrame = false): FrameRate => ({
  numerator,
  denominator,
  dropFrame,
});
const RATES: [string, FrameRate][] = [
  ['23.976', rate(24000, 1001)],
  ['24', rate(24)],
  ['25', rate(25)],
  ['29.97', rate(30000, 1001)],
  ['29.97 drop', rate(30000, 1001, true)],
  ['30', rate(30)],
  ['50', rate(50)],
  ['59.94', rate(60000, 1001)],
];
const OUT = '/out';
const CLIPS = { one: 1, two: 2, four: 4 } as const;
const STARTS_SECONDS = 86_000;

/** A recording of so many channels that became a file each. */
function recording(name: string, files: number, startSeconds = STARTS_SECONDS): HandedOffRecording {
  return {
    ...{ source: `/card/${name}.wav`, path: `/card/${name}.wav`, reel: name.toUpperCase(), startSeconds },
    ...{ durationSeconds: 300, sampleRate: 48_000, hasPicture: false, streams: [files], lost: [] },
    pieces: [
      {
        ...{ startSeconds: 0, endSeconds: 300 },
        files: Array.from({ length: files }, (_, i) => ({
          path: files === 1 ? `${name}.wav` : `${name}-${i + 1}.wav`,
          ...{ label: files === 1 ? '' : `mic ${i + 1}`, hasPicture: false, streams: [[[i + 1]]] },
        })),
      },
    ],
  };
}
const RECORDINGS = Object.entries(CLIPS).map(([name, files]) => recording(name, files));

const perSecond = ({ numerator, denominator }: FrameRate): number => numerator / denominator;

function timeline(frameRate: FrameRate, said: number, seed: number): string {
  const chance = new Chance(seed);
  const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate: said });
  const range = (start: number, length: number) => ({
    ...{ OTIO_SCHEMA: 'TimeRange.1', start_time: time(start), duration: time(length) },
  });
  const start = Math.round(STARTS_SECONDS * perSecond(frameRate));
  const clip = (name: string) => ({
    ...{ OTIO_SCHEMA: 'Clip.2', name, active_media_reference_key: 'DEFAULT_MEDIA' },
    source_range: range(start + chance.integer(0, 1000), chance.integer(20, 200)),
    effects: chance.integer(0, 2) === 0 ? [{ OTIO_SCHEMA: 'LinearTimeWarp.1', time_scalar: 0.5 }] : [],
    media_references: { DEFAULT_MEDIA: { OTIO_SCHEMA: 'ExternalReference.1', target_url: `/card/${name}.wav` } },
  });
  const fade = { OTIO_SCHEMA: 'Transition.1', in_offset: time(4), out_offset: time(4) };
  const gap = () => ({ OTIO_SCHEMA: 'Gap.1', source_range: range(0, chance.integer(1, 99)) });
  const track = (name: string, ...children: unknown[]) => ({ OTIO_SCHEMA: 'Track.1', kind: 'Audio', name, children });
  const nested = { OTIO_SCHEMA: 'Stack.1', children: [track('inner', gap(), clip('two'))] };
  return JSON.stringify({
    ...{ OTIO_SCHEMA: 'Timeline.1', global_start_time: time(Math.round(3600 * perSecond(frameRate))) },
    tracks: {
      OTIO_SCHEMA: 'Stack.1',
      children: [
        track('A', clip('two'), fade, clip('four'), gap(), clip('one'), clip('two')),
        track('B', gap(), clip('one'), nested, clip('four')),
        track('C', gap(), clip('one')),
      ],
    },
  });
}

describe.each(RATES)('at %s frames a second', (_name, frameRate) => {
  test.each([0, 1, 2])('an edit with tracks keeps every event, and every further file is in step (%d)', (seed) => {
    // As it is written by some, with three digits.
    const exact = perSecond(frameRate);
    const text = timeline(frameRate, seed === 1 ? Number(exact.toFixed(3)) : exact, seed);
    const edit = editFrom(text, 'film.otio', '/card');
    const { text: written, events } = edit.link(RECORDINGS, OUT);
    const now = readOtio(written, 'film.otio').events;
    expect(events.map(({ state }) => state).includes('missing')).toBe(false);
    const key = ({ recordStartSeconds, recordEndSeconds, startSeconds, endSeconds, speed }: (typeof now)[number]) =>
      [recordStartSeconds, recordEndSeconds, startSeconds, endSeconds].map((one) => one!.toFixed(4)).join() + speed;
    const wanted = events.flatMap(({ event, files }) => files.map(({ path }) => `${OUT}/${path} ${key(event)}`));
    expect(now.map((event) => `${event.target} ${key(event)}`).sort()).toEqual(wanted.sort());
    // What was there stays in its order, track by track.
    const first = now.filter(({ track }) => track === 'A').map(({ target }) => target);
    expect(first).toEqual(['two-1', 'four-1', 'one', 'two-1'].map((name) => `${OUT}/${name}.wav`));
    expect(now.every(({ recordStartSeconds }) => recordStartSeconds! >= 3599)).toBe(true);
  });

  test('a list has an event a file, each on a channel that nothing else is on then, or keeps one file', () => {
    const at = (seconds: number): string => timecodeFromSeconds(seconds, frameRate);
    const line = (
      number: number,
      reel: string,
      channels: string,
      from: number,
      seconds: number,
      cut = 'C       ',
    ): string =>
      [
        `${String(number).padStart(3, '0')}  ${reel.toUpperCase().padEnd(8)} ${channels.padEnd(5)} ${cut} ${[STARTS_SECONDS + from, STARTS_SECONDS + from + seconds, 3600 + from, 3600 + from + seconds].map(at).join(' ')}`,
        `* FROM CLIP NAME: ${reel}.wav`,
      ].join('\n');
    const text = [
      `TITLE: FILM\nFCM: ${frameRate.dropFrame ? 'DROP FRAME' : 'NON-DROP FRAME'}`,
      line(1, 'two', 'AA', 1, 9),
      line(2, 'four', 'A', 10, 5),
      line(3, 'one', 'A', 20, 5),
      line(4, 'two', 'A', 30, 5),
      line(5, 'one', 'A2', 30, 9),
      'M2   TWO       012.5      23:53:20:00\n',
    ].join('\n');
    const edit = editFrom(text, 'film.edl', '/card', frameRate);
    const clips = RECORDINGS.map(({ path, reel, startSeconds, durationSeconds }) => ({
      path,
      reel,
      startSeconds,
      durationSeconds,
    }));
    expect(edit.takesSeveral(clips, [1, 2, 4])).toEqual([true, true, true]);
    const { text: written } = edit.link(RECORDINGS, OUT);
    const now = editFrom(written, 'film.edl', OUT, frameRate).events;
    expect(now).toHaveLength(2 + 4 + 1 + 2 + 1);
    for (const event of now.filter(isRecording))
      for (const other of now)
        if (
          event !== other &&
          event.recordStartSeconds! < other.recordEndSeconds! &&
          other.recordStartSeconds! < event.recordEndSeconds!
        )
          expect(event.channels!.some((channel) => other.channels!.includes(channel))).toBe(false);
    // Within a dissolve there is no room for more than one.
    const dissolved = text.replace('AA    C       ', 'AA    D    025');
    expect(editFrom(dissolved, 'film.edl', '/card', frameRate).takesSeveral(clips, [1, 2, 4])).toEqual([
      true,
      false,
      true,
    ]);
  });
});

const external = (more: object) => ({ OTIO_SCHEMA: 'ExternalReference.1', ...more });
const otio = (...clips: object[]): string =>
  `{"OTIO_SCHEMA":"Timeline.1","metadata":{"id":18446744073709551615,"gain":1.50,"tiny":1e-400},"tracks":{"OTIO_SCHEMA":"Stack.1","children":[{"OTIO_SCHEMA":"Track.1","kind":"Audio","name":"A","children":${JSON.stringify(clips)}}]}}`;
const placed = (reference: object, start = 0, length = 50, said = 25) => ({
  ...{ OTIO_SCHEMA: 'Clip.1', name: 'x', media_reference: reference },
  source_range: {
    ...{ OTIO_SCHEMA: 'TimeRange.1', start_time: { OTIO_SCHEMA: 'RationalTime.1', value: start, rate: said } },
    duration: { OTIO_SCHEMA: 'RationalTime.1', value: length, rate: said },
  },
});

test('numbers keep the digits they were written with, also beyond what is calculated with', () => {
  const { text } = editFrom(otio(placed(external({ target_url: 'one.wav' }))), 'a.otio', '/card').link(RECORDINGS, OUT);
  for (const digits of ['18446744073709551615', '1.50', '1e-400']) expect(text).toContain(digits);
});

test('what is not replaced leads to the same file from the new place; addresses and whole paths stay', () => {
  const clips = ['music/tune.wav', '/whole/a.wav', 'file:///b.wav', 'https://c/d.wav', 'C:\\e.wav', 'one.wav'].map(
    (target_url) => placed(external({ target_url })),
  );
  const { text } = editFrom(otio(...clips), 'a.otio', '/card/edits').link([recording('one', 1)], '/card/out');
  expect(readOtio(text, 'a').events.map(({ target }) => target)).toEqual([
    ...['../edits/music/tune.wav', '/whole/a.wav', 'file:///b.wav', 'https://c/d.wav', 'C:\\e.wav'],
    'one.wav',
  ]);
});

test('several recordings of one name: the event stays, and leads where it led', () => {
  const two = [recording('one', 1), { ...recording('one', 1), source: '/other/one.wav', path: '/other/one.wav' }];
  const linked = editFrom(otio(placed(external({ target_url: 'takes/one.wav' }))), 'a.otio', '/card/x').link(
    two,
    '/card/out',
  );
  expect(linked.events[0].state).toBe('ambiguous');
  expect(readOtio(linked.text, 'a').events[0].target).toBe('../x/takes/one.wav');
});

test.each([23.976, 25, 29.97])('what a cut picture holds is said in whole frames at %d, near midnight too', (said) => {
  const exact = said === 25 ? 25 : (Math.round(said) * 1000) / 1001;
  const start = Math.round(86_390 * exact);
  const film: HandedOffRecording = {
    ...recording('film', 1, start / exact),
    ...{ hasPicture: true },
    pieces: [
      {
        ...{ startSeconds: 48 / exact, endSeconds: 124 / exact },
        files: [{ path: 'film.mov', label: '', hasPicture: true, streams: [[[1]]] }],
      },
    ],
  };
  const clip = placed(external({ target_url: 'film.wav' }), start + 60, 40, said);
  const { text } = editFrom(otio(clip), 'a.otio', '/card').link([film], OUT);
  const { available_range: held } = JSON.parse(text).tracks.children[0].children[0].media_reference;
  expect([held.start_time.value, held.duration.value, held.duration.rate]).toEqual([start + 48, 76, said]);
});

test('sound alone never takes the place of a picture', () => {
  const film = { ...recording('film', 1), hasPicture: true };
  const text = otio(placed(external({ target_url: 'film.wav' }))).replace('"kind":"Audio"', '"kind":"Video"');
  const { events, text: written } = editFrom(text, 'a.otio', '/card').link([film], OUT);
  expect(events[0].state).toBe('picture');
  expect(readOtio(written, 'a').events[0].target).toBe('../card/film.wav');
});

test('a clip that names its recording and has no media yet gets some', () => {
  const { text } = editFrom(otio({ ...placed({}), name: 'two.wav', media_reference: null }), 'a.otio', '/card').link(
    RECORDINGS,
    OUT,
  );
  expect(readOtio(text, 'a').events.map(({ target }) => target)).toEqual(['two-1.wav', 'two-2.wav']);
});

test.each(['{"OTIO_SCHEMA":[]}', '{"OTIO_SCHEMA":{"a":1}}', '[]', '7', '{"OTIO_SCHEMA":"Timeline.1"', '{"a":1,"a":2}'])(
  'what is not an edit is told in a sentence: %s',
  (text) => {
    expect(() => editFrom(text, 'x.otio', null)).toThrow(/^x\.otio is not/);
  },
);
