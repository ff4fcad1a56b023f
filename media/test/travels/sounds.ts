import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { asciiBytes } from '@pocket-twin/core/riff/byteSource.ts';
import { madeBext } from '@pocket-twin/core/riff/bext.ts';
import type { KeptChunk } from '@pocket-twin/core/riff/wavFrame.ts';
import { noFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import { mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { INT24, wavBytes } from '../files.ts';

const chunk = (id: string, text: string): KeptChunk => ({ id, body: asciiBytes(text) });
const SAID = ['title=Ferry', 'artist=Wharf Two', 'comment=By the river', 'date=2026-08-14', 'track=3'];
const TAGS = SAID.flatMap((tag) => ['-metadata', tag]);

/** Waves with every chunk there is and some that nobody knows. */
function waves(): Record<string, Buffer> {
  const sides = [mix(chatter(0.1, 4, 1), noise(0.0003, 4, 3)), noise(0.0006, 4, 4)];
  const bext = madeBext({ ...noFacts(2), note: 'Pier', recorder: 'Recorder 9', startSamples: 48_000 * 3600 });
  const made = (...chunks: KeptChunk[]): Buffer => wavBytes(sides, INT24, chunks);
  return {
    plain: made(),
    bext: made({ id: 'bext', body: bext }),
    'bext-2': made({ id: 'bext', body: versionTwo(bext) }),
    ixml: made(chunk('iXML', '<?xml version="1.0"?><BWFXML><PROJECT>Ferry</PROJECT><SCENE>4</SCENE></BWFXML>')),
    pmx: made(chunk('_PMX', '<meta><place>Alder Reach</place></meta>')),
    axml: made(chunk('axml', '<ebuCoreMain/>')),
    chna: made({ id: 'chna', body: new Uint8Array([1, 0, 1, 0, ...Array<number>(40).fill(48)]) }),
    unknown: made(chunk('Zzz9', 'whatever this is')),
    list: made(chunk('LIST', 'INFOINAM\x06\0\0\0Ferry\0IART\x06\0\0\0Wharf\0')),
    cue: made({
      id: 'cue ',
      body: new Uint8Array([1, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 100, 97, 116, 97, ...Array<number>(12).fill(0)]),
    }),
    smpl: made({ id: 'smpl', body: new Uint8Array(36) }),
    inst: made({ id: 'inst', body: new Uint8Array(7) }),
    acid: made({ id: 'acid', body: new Uint8Array(24) }),
    id3: made(chunk('id3 ', 'ID3\x03\0\0\0\0\0\0')),
    levl: made({ id: 'levl', body: new Uint8Array(120) }),
    twice: made(chunk('note', 'first'), chunk('note', 'second one')),
    float: wavBytes(sides, { kind: 'float', bits: 32 }),
    'float-bext': wavBytes(sides, { kind: 'float', bits: 32 }, [{ id: 'bext', body: bext }]),
    sixteen: wavBytes(sides, { kind: 'integer', bits: 16 }, [chunk('Zzz9', 'odd')]),
    'rate-96': wavBytes(sides, INT24, [], 96_000),
  };
}

/** EBU Tech 3285 version 2: a UMID and loudness of its own. */
function versionTwo(bext: Uint8Array): Uint8Array {
  const copy = bext.slice();
  const view = new DataView(copy.buffer);
  view.setUint16(346, 2, true);
  for (let i = 0; i < 64; i++) copy[348 + i] = i + 1;
  view.setInt16(412, -2300, true);
  view.setInt16(414, 700, true);
  view.setInt16(416, -100, true);
  view.setInt16(418, -1800, true);
  view.setInt16(420, -2000, true);
  return copy;
}

/** AIFF with chunks that FFmpeg does not write. */
function withAiffChunks(aiff: Buffer): Buffer {
  const more = [
    ['MARK', Buffer.from([0, 1, 0, 1, 0, 0, 0, 100, 4, 80, 105, 101, 114, 0])],
    ['APPL', Buffer.from('stocwhatever')],
    ['NAME', Buffer.from('Ferry!')],
  ] as const;
  const parts = more.flatMap(([id, body]) => {
    const head = Buffer.alloc(8);
    head.write(id, 0, 'latin1');
    head.writeUInt32BE(body.length, 4);
    return [head, body];
  });
  const whole = Buffer.concat([aiff, ...parts]);
  whole.writeUInt32BE(whole.length - 8, 4);
  return whole;
}

/** Forty sound files, each in a folder of its own. @returns their paths */
export async function makeSounds(folder: string, wav: string): Promise<string[]> {
  mkdirSync(folder, { recursive: true });
  const paths: string[] = [];
  const place = (name: string): string => {
    paths.push(join(folder, name));
    return paths.at(-1)!;
  };
  for (const [name, bytes] of Object.entries(waves())) writeFileSync(place(`wave-${name}.wav`), bytes);
  const cover = join(folder, 'cover.png');
  ffmpeg('-f', 'lavfi', '-i', 'color=red:s=32x32:d=0.04', '-frames:v', '1', cover);
  const withCover = ['-i', cover, '-map', '0:a', '-map', '1:v', '-c:v', 'copy', '-disposition:v', 'attached_pic'];
  ffmpeg('-i', wav, ...TAGS, place('flac-plain.flac'));
  ffmpeg('-i', wav, ...withCover, ...TAGS, place('flac-cover.flac'));
  ffmpeg('-i', wav, '-sample_fmt', 's16', ...TAGS, place('flac-16.flac'));
  for (const [name, codec] of [
    ['aiff-24.aiff', 'pcm_s24be'],
    ['aiff-16.aif', 'pcm_s16be'],
    ['aifc-le.aifc', 'pcm_s16le'],
    ['aifc-float.aifc', 'pcm_f32be'],
  ])
    ffmpeg('-i', wav, '-c:a', codec, '-write_id3v2', '1', ...TAGS, '-f', 'aiff', place(name));
  const marks = place('aiff-marks.aiff');
  ffmpeg('-i', wav, '-c:a', 'pcm_s24be', '-f', 'aiff', marks);
  writeFileSync(marks, withAiffChunks(readFileSync(marks)));
  ffmpeg('-i', wav, '-c:a', 'pcm_s24le', ...TAGS, place('caf.caf'));
  ffmpeg('-i', wav, ...TAGS, place('mp3.mp3'));
  ffmpeg('-i', wav, ...withCover, '-c:a', 'libmp3lame', ...TAGS, place('mp3-cover.mp3'));
  ffmpeg('-i', wav, '-c:a', 'aac', ...TAGS, place('aac.m4a'));
  ffmpeg('-i', wav, ...withCover, '-c:a', 'aac', ...TAGS, place('aac-cover.m4a'));
  ffmpeg('-i', wav, '-c:a', 'alac', ...TAGS, place('alac.m4a'));
  ffmpeg('-i', wav, '-c:a', 'libopus', ...TAGS, place('opus.opus'));
  ffmpeg('-i', wav, '-c:a', 'libvorbis', ...TAGS, place('vorbis.ogg'));
  ffmpeg('-i', wav, '-c:a', 'flac', ...TAGS, '-f', 'ogg', place('flac-in.ogg'));
  ffmpeg('-i', wav, '-c:a', 'flac', ...TAGS, place('flac-in.mka'));
  ffmpeg('-i', wav, '-c:a', 'aac', place('adts.aac'));
  ffmpeg('-i', wav, '-c:a', 'pcm_s24le', ...TAGS, place('words.mka'));
  return Promise.resolve(paths);
}

function ffmpeg(...words: string[]): void {
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...words]);
}
