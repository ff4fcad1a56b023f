import { resolve } from 'node:path';
import { DECODERS } from './codecs.ts';

// How FFmpeg is called: it sees one local file through a forced demuxer, may open nothing else and no other decoders, without rights and within limits
// (confine.ts), and is stopped when it no longer moves (run.ts).
export const FFMPEG = '/usr/bin/ffmpeg';
export const FFPROBE = '/usr/bin/ffprobe';
export const QUIET = ['-hide_banner', '-loglevel', 'repeat+error'];
export const CONFINED = ['-protocol_whitelist', 'file,pipe'];

export interface CodedInput {
  path: string;
  demuxer: string;
}

/** FFmpeg stands elsewhere than we do (run.ts): a file named from where we stand is named in full. */
export function fileWord(path: string): string {
  return `file:${resolve(path)}`;
}

/** Words for the input of a decoder. @param fromSeconds where it begins */
export function reading(input: CodedInput, fromSeconds?: number): string[] {
  return [
    ...['-nostdin', ...QUIET, ...CONFINED, '-codec_whitelist', DECODERS, '-f', input.demuxer],
    ...(fromSeconds === undefined ? [] : ['-ss', fromSeconds.toFixed(6)]),
    ...['-i', fileWord(input.path)],
  ];
}

/** Words that give an output tags. */
export function taggedAs(tags: Record<string, string>): string[] {
  return Object.entries(tags).flatMap(([name, text]) => ['-metadata', `${name}=${text}`]);
}
