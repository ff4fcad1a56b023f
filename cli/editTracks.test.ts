import { spawnSync } from 'node:child_process';
import { copyFile, mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { faultSentence } from '@pocket-twin/core/edit/proofSentence.ts';
import { readOtio } from '@pocket-twin/core/edit/otio/otioEdit.ts';
import type { EditFaultCode } from '@pocket-twin/core/schema/editProof.ts';
import { mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { editFrom } from '@pocket-twin/media/handoff/editFile.ts';
import { readRecords } from '@pocket-twin/media/handoff/folderRecords.ts';
import { proveEdit } from '@pocket-twin/media/handoff/proveEdit.ts';
import { scratchFolder, writeTestWav } from '@pocket-twin/media/test/files.ts';

// A clip that becomes several files keeps all of them in the edit: on parallel tracks, in step, or as one file with the tracks it had.

const BIN = new URL('./bin/pocket-twin.mjs', import.meta.url).pathname;
const VOICE = mix(chatter(0.1, 6, 1), noise(0.0003, 6, 3));
const OTHER = mix(chatter(0.1, 6, 9), noise(0.0003, 6, 5));
const HISS = noise(0.0006, 6, 4);

interface Summary {
  proven: boolean;
  events: number;
  matched: number;
  missing: string[];
  ignored: string[];
}

function handOff(...args: string[]): { status: number | null; summary: Summary; stderr: string } {
  const { status, stdout, stderr } = spawnSync(process.execPath, [BIN, 'handoff', ...args, '--json'], {
    encoding: 'utf8',
  });
  const last = stdout.trim().split('\n').at(-1)!;
  return { status, stderr, summary: (JSON.parse(last || '{}') as { handoff: Summary }).handoff };
}

const RATE = 25;
const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate: RATE });
const range = (start: number, length: number) => ({
  OTIO_SCHEMA: 'TimeRange.1',
  start_time: time(start),
  duration: time(length),
});
const used = (file: string, start: number, length: number, more: object = {}) => ({
  OTIO_SCHEMA: 'Clip.2',
  name: file,
  source_range: range(start, length),
  media_references: {
    DEFAULT_MEDIA: { OTIO_SCHEMA: 'ExternalReference.1', target_url: file, available_range: range(0, 150) },
  },
  active_media_reference_key: 'DEFAULT_MEDIA',
  ...more,
});
const gap = (length: number) => ({ OTIO_SCHEMA: 'Gap.1', source_range: range(0, length) });
const fade = { OTIO_SCHEMA: 'Transition.1', in_offset: time(5), out_offset: time(5) };
const track = (name: string, children: unknown[]) => ({ OTIO_SCHEMA: 'Track.1', kind: 'Audio', name, children });
const timeline = (...tracks: unknown[]) =>
  JSON.stringify({
    OTIO_SCHEMA: 'Timeline.1',
    global_start_time: time(90_000),
    tracks: { OTIO_SCHEMA: 'Stack.1', children: tracks },
  });

let card: string;
let folder: string;
let edit: string;
beforeAll(async () => {
  folder = await scratchFolder();
  card = join(folder, 'card');
  await mkdir(card);
  await writeTestWav(join(card, 'talk.wav'), [VOICE, OTHER]);
  await writeTestWav(join(card, 'deck.wav'), [VOICE, HISS]);
  edit = join(card, 'film.otio');
  await writeFile(
    edit,
    timeline(
      track('Interviews', [used('talk.wav', 10, 50), fade, used('deck.wav', 0, 40), gap(20), used('talk.wav', 90, 30)]),
      track('More', [
        gap(30),
        used('talk.wav', 70, 20, { effects: [{ OTIO_SCHEMA: 'LinearTimeWarp.1', time_scalar: 2 }] }),
      ]),
      track('Music', [gap(15), used('deck.wav', 5, 5)]),
    ),
  );
});
afterAll(() => rm(folder, { recursive: true }));

interface Track {
  OTIO_SCHEMA: string;
  name: string;
  children: { OTIO_SCHEMA: string; media_references?: { DEFAULT_MEDIA: { target_url: string } } }[];
}

/** Each track by its name, and what lies on it. */
async function tracksOf(path: string): Promise<[string, string[]][]> {
  const written = JSON.parse(await readFile(path, 'utf8')) as { tracks: { children: Track[] } };
  return written.tracks.children.map(({ name, children }) => [
    name,
    children.map(
      ({ OTIO_SCHEMA: schema, media_references: media }) => media?.DEFAULT_MEDIA.target_url ?? schema.split('.')[0],
    ),
  ]);
}

test('a split clip lies on parallel tracks, as often as it is used, with the same times, fades and speeds; nothing else moves', async () => {
  const out = join(folder, 'repaired');
  await writeFile(join(card, 'notes.xml'), '<notes/>');
  const { status, summary } = handOff(card, '--edit', edit, '--tracks', 'repaired', '--out', out);
  // The edit is none of what was left out.
  const wanted = { proven: true, events: 5, matched: 5, missing: [], ignored: [join(card, 'notes.xml')] };
  expect([status, summary]).toEqual([0, expect.objectContaining(wanted)]);
  await rm(join(card, 'notes.xml'));
  expect(await tracksOf(join(out, 'film.otio'))).toEqual([
    ['Interviews', ['talk-left.wav', 'Transition', 'deck.wav', 'Gap', 'talk-left.wav']],
    ['Interviews · right', ['talk-right.wav', 'Transition', 'Gap', 'Gap', 'talk-right.wav']],
    ['More', ['Gap', 'talk-left.wav']],
    ['More · right', ['Gap', 'talk-right.wav']],
    ['Music', ['Gap', 'deck.wav']],
  ]);
  const { events } = readOtio(await readFile(join(out, 'film.otio'), 'utf8'), 'film.otio');
  const at = (name: string) =>
    events
      .filter(({ target }) => target === name)
      .map(({ recordStartSeconds, recordEndSeconds, startSeconds, endSeconds, speed }) =>
        [recordStartSeconds, recordEndSeconds, startSeconds, endSeconds, speed].join(),
      );
  expect(at('talk-right.wav')).toEqual(at('talk-left.wav'));
  expect(at('talk-left.wav')).toHaveLength(3);
});

test('where an edit is given the old tracks are kept: two microphones stay on the two channels they had, one side comes on both', async () => {
  const out = join(folder, 'same');
  const { status, summary } = handOff(card, '--edit', edit, '--out', out);
  expect([status, summary.proven]).toEqual([0, true]);
  expect((await tracksOf(join(out, 'film.otio'))).map(([name]) => name)).toEqual(['Interviews', 'More', 'Music']);
  expect((await readFile(join(out, 'talk.wav'))).equals(await readFile(join(card, 'talk.wav')))).toBe(true);
  const recipe = join(folder, 'left.json');
  spawnSync(process.execPath, [
    BIN,
    'repair',
    join(card, 'deck.wav'),
    '--select',
    '1',
    '--json',
    '--out',
    join(folder, 'x'),
  ]);
  const receipt = spawnSync(
    process.execPath,
    [BIN, 'repair', join(card, 'deck.wav'), '--select', '1', '--json', '--out', join(folder, 'x')],
    { encoding: 'utf8' },
  );
  const { repair } = (JSON.parse(receipt.stdout) as { receipt: { repair: unknown } }).receipt;
  await writeFile(recipe, JSON.stringify(repair));
  const left = join(folder, 'left');
  expect(handOff(join(card, 'deck.wav'), '--recipe', recipe, '--tracks', 'same', '--out', left).status).toBe(0);
  const head = await readFile(join(left, 'deck.wav'));
  expect(head.readUInt16LE(head.indexOf('fmt ') + 10)).toBe(2);
}, 60_000);

test('a list puts each file on a channel of its own, and keeps one file where it has no room for more', async () => {
  const list = join(card, 'film.edl');
  const event = (number: string, channels: string, from: number, to: number, name: string): string =>
    `${number}  AX       ${channels.padEnd(5)} C        00:00:0${from}:00 00:00:0${to}:00 01:00:0${from}:00 01:00:0${to}:00\n* FROM CLIP NAME: ${name}\n`;
  await writeFile(
    list,
    `TITLE: FILM\n${event('001', 'AA', 0, 2, 'talk.wav')}${event('002', 'A', 2, 4, 'talk.wav')}${event('003', 'A2', 2, 4, 'deck.wav')}`,
  );
  const out = join(folder, 'list');
  const { status, summary } = handOff(card, '--edit', list, '--tracks', 'repaired', '--out', out);
  expect([status, summary.proven, summary.events]).toEqual([0, true, 3]);
  const lines = (await readFile(join(out, 'film.edl'), 'utf8'))
    .split('\n')
    .filter((line) => !line.startsWith('* talk'));
  expect(lines.filter((line) => /^\d/.test(line)).map((line) => line.split(/\s+/).slice(0, 3).join(' '))).toEqual([
    ...['001 AX A', '004 AX A2', '002 AX A', '005 AX A3', '003 AX A2'],
  ]);
  expect(lines.filter((line) => line.startsWith('* FROM')).map((line) => line.slice(18))).toEqual([
    ...['talk-left.wav', 'talk-right.wav', 'talk-left.wav', 'talk-right.wav', 'deck.wav'],
  ]);
  // What the list names and nobody has brought cannot be proven.
  await writeFile(list, `TITLE: FILM\n${event('001', 'AA', 0, 2, 'talk.wav')}${event('002', 'AA', 2, 4, 'gone.wav')}`);
  expect(handOff(card, '--edit', list, '--out', join(folder, 'unknown'))).toMatchObject({
    status: 0,
    summary: { proven: false, missing: ['gone.wav'] },
  });
  await writeFile(
    list,
    `TITLE: FILM\n${event('001', 'AA', 0, 2, 'talk.wav')}${['A', 'A2', 'A3', 'A4'].map((channel, i) => event(`00${i + 2}`, channel, 2, 4, i === 0 ? 'talk.wav' : 'deck.wav')).join('')}`,
  );
  const full = join(folder, 'full');
  expect(handOff(card, '--edit', list, '--tracks', 'repaired', '--out', full)).toMatchObject({
    status: 0,
    summary: { proven: true, events: 5 },
  });
  expect(await readFile(join(full, 'film.edl'), 'utf8')).toBe(await readFile(list, 'utf8'));
  await rm(list);
}, 60_000);

describe('the proof of the edit', () => {
  let out: string;
  let written: string;
  beforeAll(() => {
    out = join(folder, 'proof');
    expect(handOff(card, '--edit', edit, '--tracks', 'repaired', '--out', out).status).toBe(0);
  });
  beforeEach(async () => {
    written = await readFile(join(out, 'film.otio'), 'utf8');
  });
  afterEach(() => writeFile(join(out, 'film.otio'), written));

  async function faultsOf(text: string): Promise<EditFaultCode[]> {
    const records = await readRecords(out, () => true);
    const { events } = editFrom(await readFile(edit, 'utf8'), 'film.otio', card).link(
      records.map(({ recording }) => recording),
      out,
    );
    const again = editFrom(text, 'film.otio', out);
    const { faults } = await proveEdit({ linked: events, home: card, written: again.events, folder: out });
    for (const fault of faults) expect(faultSentence(fault)).toMatch(/^(At|Somewhere).*\.$/);
    return [...new Set(faults.map(({ code }) => code))];
  }
  type Written = {
    tracks: {
      children: {
        children: {
          source_range: { duration: { value: number } };
          media_references: { DEFAULT_MEDIA: { target_url: string } };
        }[];
      }[];
    };
  };
  const changed = (change: (edit: Written) => void): string => {
    const copy = JSON.parse(written) as Written;
    change(copy);
    return JSON.stringify(copy);
  };

  test('finds nothing where nothing is wrong', async () => {
    expect(await faultsOf(written)).toEqual([]);
  });

  test.each<[string, (edit: Written) => void, EditFaultCode]>([
    ['a lost track', ({ tracks }) => tracks.children.splice(1, 1), 'lost-track'],
    ['a shifted event', ({ tracks }) => tracks.children[2].children[0].source_range.duration.value++, 'shifted'],
    [
      'a swapped file',
      ({ tracks }) => {
        tracks.children[0].children[0].media_references.DEFAULT_MEDIA.target_url = 'deck.wav';
      },
      'wrong-file',
    ],
    ['a track too many', ({ tracks }) => tracks.children.push(tracks.children[0]), 'added'],
  ])('finds %s', async (_what, change, code) => {
    expect(await faultsOf(changed(change))).toContain(code);
  });

  test('finds an address that leads nowhere, and a file whose sound is another one', async () => {
    await rename(join(out, 'talk-right.wav'), join(out, 'aside.wav'));
    expect(await faultsOf(written)).toContain('dangling');
    await rename(join(out, 'aside.wav'), join(out, 'talk-right.wav'));
    await copyFile(join(out, 'talk-left.wav'), join(folder, 'kept.wav'));
    await writeTestWav(join(out, 'talk-left.wav'), [new Float64Array(VOICE.length)]);
    await writeTestWav(join(out, 'talk-right.wav'), [new Float64Array(VOICE.length)]);
    expect(await faultsOf(written)).toContain('silent');
  });
});
