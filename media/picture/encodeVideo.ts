import { once } from 'node:events';
import { fileWord } from '../ffmpeg/coded.ts';
import { runEncoder } from '../ffmpeg/encode.ts';

export interface VideoEncoding {
  picture: { width: number; height: number; framesPerSecond: number; frames: Iterable<Uint8Array> };
  wavPath: string;
  audioCodec: 'aac' | 'pcm_s24le';
  target: string;
}

/** Makes an MP4 or MOV from grey pictures and a WAV file, always the same bytes for the same input. */
export async function encodeVideo({ picture, wavPath, audioCodec, target }: VideoEncoding): Promise<void> {
  const container = target.endsWith('.mov') ? 'mov' : 'mp4';
  const encoder = runEncoder([
    '-f',
    'rawvideo',
    '-pixel_format',
    'gray',
    '-video_size',
    `${picture.width}x${picture.height}`,
    '-framerate',
    String(picture.framesPerSecond),
    '-i',
    'pipe:0',
    '-f',
    'wav',
    '-i',
    fileWord(wavPath),
    '-map',
    '0:v',
    '-map',
    '1:a',
    '-c:v',
    'libx264',
    '-preset',
    'veryfast',
    '-threads',
    '1',
    '-pix_fmt',
    'yuv420p',
    '-c:a',
    audioCodec,
    ...(audioCodec === 'aac' ? ['-b:a', '256k'] : []),
    '-fflags',
    '+bitexact',
    '-flags:v',
    '+bitexact',
    '-flags:a',
    '+bitexact',
    '-map_metadata',
    '-1',
    '-movflags',
    '+faststart',
    '-f',
    container,
    '-y',
    fileWord(target),
  ]);
  for (const frame of picture.frames) {
    if (!encoder.input.write(frame)) await once(encoder.input, 'drain');
  }
  encoder.input.end();
  await encoder.finished;
}
