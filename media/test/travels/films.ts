import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';

/** A film to be made by FFmpeg: what is in it, and how it is coded. */
interface Film {
  ending: string;
  rate: string;
  words: string[];
}

const SECONDS = 4;
const BFRAMES = ['-c:v', 'libx264', '-preset', 'ultrafast', '-bf', '2', '-g', '12', '-pix_fmt', 'yuv420p'];
const INTRA = ['-c:v', 'mjpeg', '-pix_fmt', 'yuvj420p'];
const MPEG2 = ['-c:v', 'mpeg2video', '-bf', '2', '-q:v', '5'];
const VP8 = ['-c:v', 'libvpx', '-deadline', 'realtime'];

const film = (ending: string, rate: string, ...words: string[]): Film => ({ ending, rate, words });
const tag = (...tags: string[]): string[] => tags.flatMap((one) => ['-metadata', one]);

/** Forty films: containers, codecs, rates, start times, B-frames, rotation, covers, chapters, subtitles, languages. */
export const FILMS: Film[] = [
  film('mp4', '25', ...BFRAMES, '-c:a', 'aac', '-timecode', '10:00:00:00', 'COVER'),
  film('mp4', '25', ...BFRAMES, '-c:a', 'aac', 'COVER'),
  film('mp4', '30000/1001', ...BFRAMES, '-c:a', 'aac', '-timecode', '01:00:00;00', 'CHAPTERS'),
  film('mp4', '24000/1001', ...BFRAMES, '-c:a', 'aac', 'SUBTITLES:mov_text', 'CHAPTERS'),
  film('mp4', '50', ...BFRAMES, '-c:a', 'aac', 'ROTATED'),
  film('mp4', '25', ...BFRAMES, '-c:a', 'aac', 'TWO', 'COVER', 'CHAPTERS', 'SUBTITLES:mov_text'),
  film('mp4', '25', ...BFRAMES, '-c:a', 'ac3'),
  film('mp4', '25', ...BFRAMES, '-c:a', 'alac'),
  film('mp4', '25', ...BFRAMES, '-c:a', 'aac', 'LATE'),
  film('mov', '25', ...BFRAMES, '-c:a', 'pcm_s24le', '-timecode', '10:00:00:00'),
  film('mov', '25', ...BFRAMES, '-c:a', 'aac', '-timecode', '10:00:00:00'),
  film('mov', '24000/1001', ...INTRA, '-c:a', 'pcm_s16be', 'TWO', 'CHAPTERS'),
  film('mov', '25', ...BFRAMES, '-c:a', 'alac', 'COVER'),
  film('mov', '60000/1001', ...BFRAMES, '-c:a', 'pcm_f32le', 'ROTATED'),
  film('mov', '25', ...BFRAMES, '-c:a', 'pcm_s24le', 'SUBTITLES:mov_text', 'LATE'),
  film(
    'mov',
    '25',
    ...MPEG2,
    '-c:a',
    'pcm_s16le',
    ...tag('com.apple.quicktime.author=Wharf'),
    '-movflags',
    'use_metadata_tags',
  ),
  film('mkv', '25', ...BFRAMES, '-c:a', 'pcm_s24le', 'CHAPTERS', 'SUBTITLES:srt'),
  film('mkv', '25', ...BFRAMES, '-c:a', 'flac', 'TWO', '-disposition:a:1', 'original'),
  film('mkv', '25', ...BFRAMES, '-c:a', 'aac', 'ATTACHED', 'CHAPTERS'),
  film('mkv', '30000/1001', ...BFRAMES, '-c:a', 'ac3', 'SUBTITLES:ass', 'TWO'),
  film('mkv', '24', ...VP8, '-c:a', 'libopus', 'LATE'),
  film('mkv', '25', ...INTRA, '-c:a', 'pcm_s16le', 'SOUNDFIRST'),
  film('mkv', '25', ...BFRAMES, '-c:a', 'pcm_f32le', 'ROTATED'),
  film('mkv', '25', ...BFRAMES, '-c:a', 'libmp3lame', 'STARTS'),
  film('webm', '25', ...VP8, '-c:a', 'libopus'),
  film('webm', '30', ...VP8, '-c:a', 'libvorbis', 'CHAPTERS'),
  film('webm', '25', ...VP8, '-c:a', 'libopus', 'SUBTITLES:webvtt', 'TWO'),
  film('ts', '25', ...BFRAMES, '-c:a', 'aac'),
  film('ts', '25', ...MPEG2, '-c:a', 'mp2', 'TWO'),
  film('ts', '30000/1001', ...BFRAMES, '-c:a', 'ac3'),
  film('ts', '50', ...BFRAMES, '-c:a', 'aac', 'LATE'),
  film('mxf', '25', ...MPEG2, '-c:a', 'pcm_s24le', '-timecode', '10:00:00:00'),
  film('mxf', '25', ...MPEG2, '-c:a', 'pcm_s16le', 'MONOS'),
  film('mxf', '30000/1001', ...MPEG2, '-c:a', 'pcm_s24le', '-timecode', '01:00:00;00'),
  film('avi', '25', ...INTRA, '-c:a', 'pcm_s16le'),
  film('avi', '30', '-c:v', 'mpeg4', '-c:a', 'libmp3lame'),
  film('avi', '25', ...INTRA, '-c:a', 'pcm_s16le', 'TWO'),
  film('mp4', '120', ...BFRAMES, '-c:a', 'aac', '-ar', '44100'),
  film('mov', '25', '-c:v', 'prores_ks', '-c:a', 'pcm_s24le', '-ar', '96000', '-timecode', '00:59:59:00'),
  film(
    'mkv',
    '25',
    ...BFRAMES,
    '-c:a',
    'pcm_s24le',
    ...tag('title=Ferry', 'DIRECTOR=Nobody at all'),
    'ATTACHED',
    'COVER',
  ),
];

/** @param wav its sound, stereo @returns its path */
export function makeFilm({ ending, rate, words }: Film, number: number, wav: string, folder: string): string {
  const has = (word: string): boolean => words.includes(word);
  const path = join(folder, `film-${String(number).padStart(2, '0')}.${ending}`);
  const inputs = ['-f', 'lavfi', '-i', `testsrc=d=${SECONDS}:s=128x96:r=${rate}`];
  const late = has('LATE') ? ['-itsoffset', '0.2'] : [];
  inputs.push(...late, '-i', wav);
  let next = 2;
  const maps = has('SOUNDFIRST') ? ['-map', '1:a', '-map', '0:v'] : ['-map', '0:v', '-map', '1:a'];
  const told: string[] = [];
  if (has('MONOS')) {
    maps.length = 0;
    maps.push(
      '-filter_complex',
      '[1:a]asplit[x][y];[x]pan=mono|c0=c0[l];[y]pan=mono|c0=c1[r]',
      '-map',
      '0:v',
      '-map',
      '[l]',
      '-map',
      '[r]',
    );
  }
  if (has('TWO')) {
    maps.push('-map', '1:a');
    told.push('-metadata:s:a:0', 'language=eng', '-metadata:s:a:1', 'language=fra');
    if (ending !== 'avi') told.push('-metadata:s:a:1', 'title=Voice two');
  }
  const subtitles = words.find((word) => word.startsWith('SUBTITLES:'));
  if (subtitles) {
    const srt = join(folder, 'words.srt');
    writeFileSync(srt, '1\n00:00:00,500 --> 00:00:01,500\nThe ferry\n\n2\n00:00:02,000 --> 00:00:03,000\nleaves\n');
    inputs.push('-i', srt);
    maps.push('-map', `${next++}:s`);
    told.push('-c:s', subtitles.slice(10), '-metadata:s:s:0', 'language=deu');
  }
  if (has('CHAPTERS')) {
    const chapters = join(folder, 'chapters.txt');
    writeFileSync(
      chapters,
      ';FFMETADATA1\ntitle=Crossing\n[CHAPTER]\nTIMEBASE=1/1000\nSTART=0\nEND=2000\ntitle=Pier\n[CHAPTER]\nTIMEBASE=1/1000\nSTART=2000\nEND=4000\ntitle=River\n',
    );
    inputs.push('-i', chapters);
    told.push('-map_metadata', String(next), '-map_chapters', String(next++));
  }
  if (has('ATTACHED')) {
    const note = join(folder, 'note.txt');
    writeFileSync(note, 'Kept with the film.');
    told.push('-attach', note, '-metadata:s:t:0', 'mimetype=text/plain', '-metadata:s:t:0', 'filename=note.txt');
  }
  const plain = words.filter((word) => !/^([A-Z]{3,}|SUBTITLES:.*)$/.test(word));
  if (has('STARTS')) plain.push('-output_ts_offset', '3');
  const made = has('COVER') || has('ROTATED') ? join(folder, `made.${ending}`) : path;
  run(...inputs, ...maps, ...plain, ...told, made);
  if (has('COVER')) {
    const cover = join(folder, 'cover.png');
    run('-f', 'lavfi', '-i', 'color=red:s=32x32:d=0.04', '-frames:v', '1', cover);
    run(
      '-i',
      made,
      '-i',
      cover,
      '-map',
      '0:v',
      '-map',
      '0:a',
      '-map',
      '0:s?',
      '-map',
      '1',
      '-c',
      'copy',
      '-disposition:v:1',
      'attached_pic',
      path,
    );
  }
  if (has('ROTATED')) run('-i', made, '-map', '0:v', '-map', '0:a', '-c', 'copy', '-metadata:s:v:0', 'rotate=90', path);
  return path;
}

function run(...words: string[]): void {
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...words]);
}
