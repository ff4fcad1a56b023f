import { execFileSync, spawnSync } from 'node:child_process';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { asciiBytes } from '@pocket-twin/core/riff/byteSource.ts';
import { madeBext } from '@pocket-twin/core/riff/bext.ts';
import { noFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import { mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { INT24, scratchFolder, wavBytes, writeTestWav } from '@pocket-twin/media/test/files.ts';

// What a recording says of itself goes where its sound goes, and what was done is said there too; read back by FFmpeg's own tool.

const BIN = new URL('./bin/pocket-twin.mjs', import.meta.url).pathname;
const VOICE = mix(chatter(0.1, 4, 1), noise(0.0003, 4, 3));
const HISS = noise(0.0006, 4, 4);

interface Told {
  format: { tags: Record<string, string> };
  streams: { codec_type: string; tags: Record<string, string> }[];
}

function told(path: string): { tags: Record<string, string>; sounds: Record<string, string>[] } {
  const lower = (tags: Record<string, string> = {}): Record<string, string> =>
    Object.fromEntries(Object.entries(tags).map(([key, value]) => [key.toLowerCase(), value]));
  const { format, streams } = JSON.parse(
    execFileSync('/usr/bin/ffprobe', ['-v', 'error', '-show_format', '-show_streams', '-of', 'json', path], {
      encoding: 'utf8',
    }),
  ) as Told;
  return {
    tags: lower(format.tags),
    sounds: streams.filter(({ codec_type: type }) => type === 'audio').map(({ tags }) => lower(tags)),
  };
}

let card = '';
let out = '';
beforeAll(async () => {
  const folder = await scratchFolder();
  card = join(folder, 'card');
  out = join(folder, 'out');
  await mkdir(card);
  const wav = await writeTestWav(join(folder, 'sound.wav'), [VOICE, HISS]);
  const ffmpeg = (...words: string[]): void => void execFileSync('ffmpeg', ['-v', 'error', '-y', ...words]);
  const said = ['artist=Wharf Two', 'title=Ferry', 'scene=4', 'time_reference=48000'];
  const tags = [...said, 'coding_history=A=ANALOGUE,M=mono,T=Tape'].flatMap((tag) => ['-metadata', tag]);
  ffmpeg('-i', wav, ...tags, join(card, 'voice.flac'));
  ffmpeg('-i', wav, ...tags, '-c:a', 'pcm_s24be', '-write_id3v2', '1', join(card, 'voice.aiff'));
  const picture = ['-f', 'lavfi', '-i', 'testsrc=d=4:s=64x48:r=25', '-i', wav];
  const monos = '[1:a]asplit[a][b];[a]pan=mono|c0=c0[l];[b]pan=mono|c0=c1[r]';
  const named = ['Lavalier', 'Boom'].flatMap((name, i) => [
    ...[`title=${name}`, `handler_name=${name}`, 'language=fra'].flatMap((tag) => [`-metadata:s:a:${i}`, tag]),
  ]);
  for (const [name, sound] of [
    ['plain.mov', ['-c:a', 'pcm_s24le']],
    ['coded.mov', ['-c:a', 'aac']],
    ['coded.mp4', ['-c:a', 'aac']],
    ['plain.mkv', ['-c:a', 'pcm_s24le']],
    ['plain.mxf', ['-c:a', 'pcm_s24le']],
  ] as const)
    ffmpeg(...picture, ...['-map', '0:v', '-map', '1:a', '-c:v', 'mpeg2video'], ...sound, ...tags, join(card, name));
  for (const ending of ['mov', 'mkv'])
    ffmpeg(
      ...[...picture, '-filter_complex', monos, '-map', '0:v', '-map', '[l]', '-map', '[r]', ...named],
      ...['-c:v', 'mpeg4', '-c:a', ending === 'mkv' ? 'pcm_s16le' : 'aac', join(card, `named.${ending}`)],
    );
  // A recorder without iXML, that names its tracks in the description.
  const bext = madeBext({ ...noFacts(2), note: '', startSamples: 96_000 });
  bext.set(asciiBytes('sSCENE=7\r\nsTRK1=Keeper\r\nsTRK2=Mate'));
  await writeFile(join(card, 'deck.wav'), wavBytes([VOICE, HISS], INT24, [{ id: 'bext', body: bext }]));
  const names = ['voice.flac', 'voice.aiff', 'plain.mov', 'coded.mov', 'coded.mp4', 'plain.mkv', 'plain.mxf'];
  const files = [...names, 'named.mov', 'named.mkv'].map((name) => join(card, name));
  for (const args of [
    [...files, '--out', out],
    [join(card, 'deck.wav'), '--format', 'flac', '--out', join(out, 'flac')],
    [join(card, 'voice.flac'), '--format', 'wav', '--out', join(out, 'wav')],
  ]) {
    const { status, stderr } = spawnSync(process.execPath, [BIN, 'handoff', '--auto', ...args], { encoding: 'utf8' });
    expect([status, stderr.split('\n').filter((line) => /error|at /.test(line))]).toEqual([0, []]);
  }
}, 120_000);

const LINE = 'A=PCM,F=48000,W=24,M=stereo,T=Pocket Twin; Fill right from left\r\n';

test.each([
  ['voice.flac', 'coding_history', LINE],
  ['voice.aiff', 'coding_history', LINE],
  ['wav/voice.wav', 'coding_history', LINE],
  ['plain.mov', 'coding_history', LINE],
  ['plain.mkv', 'coding_history', LINE],
  ['coded.mov', 'coding_history', 'A=AAC,F=48000,B=320,M=stereo,T=Pocket Twin; Fill right from left\r\n'],
  ['coded.mp4', 'coding_history', 'A=AAC,F=48000,B=320,M=stereo,T=Pocket Twin; Fill right from left\r\n'],
  ['plain.mxf', 'comment_coding_history', LINE],
])('%s says what was done, after what had been done before', (name, tag, line) => {
  const history = told(join(out, name)).tags[tag];
  // A plain MOV and MXF have no place for such a tag where FFmpeg makes them.
  expect(history).toBe(/plain.m(ov|xf)|coded.m/.test(name) ? line : `A=ANALOGUE,M=mono,T=Tape\r\n${line}`);
});

test.each(['voice.flac', 'voice.aiff'])('%s keeps its own tags, and its start', (name) => {
  const own = (path: string): Record<string, string> =>
    Object.fromEntries(Object.entries(told(path).tags).filter(([tag]) => !['encoder', 'coding_history'].includes(tag)));
  const kept = own(join(out, name));
  expect(kept).toEqual(own(join(card, name)));
  expect(kept).toMatchObject({ artist: 'Wharf Two', scene: '4', time_reference: '48000' });
});

test('the start of a FLAC file stands in the WAV that is made of it', () => {
  expect(told(join(out, 'wav', 'voice.wav')).tags).toMatchObject({ time_reference: '48000' });
});

test.each(['named.mov', 'named.mkv'])(
  'the sound streams of %s are called by what is on them, in their language',
  (name) => {
    const named = (path: string) =>
      told(path).sounds.map(({ title, handler_name: handler, language }) => [title ?? handler, language]);
    const [first, second] = named(join(card, name));
    expect([first[0], second[0]]).toEqual(['Lavalier', 'Boom']);
    // The right one was filled from the left.
    expect(named(join(out, name))).toEqual([first, ['Lavalier', second[1]]]);
  },
);

test('tracks that a WAV names in its description are named in the FLAC that is made of it', async () => {
  const { tags } = told(join(out, 'flac', 'deck.flac'));
  expect(tags).toMatchObject({ comment: 'sSCENE=7\r\nsTRK1=Keeper\r\nsTRK2=Keeper', time_reference: '96000' });
  // And from there in the next WAV's own list.
  const again = spawnSync(process.execPath, [
    ...[BIN, 'handoff', join(out, 'flac', 'deck.flac'), '--format', 'wav', '--out', join(out, 'again')],
  ]);
  expect(again.status).toBe(0);
  expect(await readFile(join(out, 'again', 'deck.wav'), 'latin1')).toContain('<NAME>Keeper</NAME>');
});
