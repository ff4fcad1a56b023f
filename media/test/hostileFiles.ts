import { execFileSync } from 'node:child_process';
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { seededRandom } from '@pocket-twin/core/signal/random.ts';
import { mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { writeTestWav } from './files.ts';

// Recordings in every container that is read, made here, and what a bad cable, a full card or somebody hostile makes of them.

/** By its ending, how FFmpeg makes each from a stereo WAV. */
const CONTAINERS: Record<string, string[]> = {
  wav: ['-c:a', 'pcm_s16le'],
  aiff: ['-c:a', 'pcm_s24be'],
  flac: ['-c:a', 'flac'],
  mp3: ['-c:a', 'libmp3lame'],
  aac: ['-c:a', 'aac', '-f', 'adts'],
  m4a: ['-c:a', 'aac'],
  mov: [
    '-f',
    'lavfi',
    '-i',
    'testsrc=size=64x36:rate=25:duration=1',
    '-c:v',
    'mpeg4',
    '-c:a',
    'pcm_s24le',
    '-shortest',
  ],
  mkv: ['-map', '0:a', '-map', '0:a', '-c:a', 'flac'],
  ogg: ['-c:a', 'libvorbis'],
  caf: ['-c:a', 'alac'],
  avi: ['-c:a', 'pcm_s16le'],
  ts: ['-c:a', 'mp2', '-f', 'mpegts'],
};

export interface Recording {
  name: string;
  bytes: Buffer;
}

/** One recording of a second in each of the twelve containers. */
export async function recordings(folder: string): Promise<Recording[]> {
  const wav = await writeTestWav(join(folder, 'source.wav'), [
    mix(chatter(0.1, 1, 1), noise(0.0005, 1, 3)),
    noise(0.0008, 1, 2),
  ]);
  return Promise.all(
    Object.entries(CONTAINERS).map(async ([ending, args]) => {
      const path = join(folder, `made.${ending}`);
      execFileSync('ffmpeg', ['-nostdin', '-loglevel', 'error', '-i', wav, ...args, '-y', path]);
      return { name: `clip.${ending}`, bytes: await readFile(path) };
    }),
  );
}

/** Bits turned, bytes set, a piece cut out, doubled or taken from another file, the end cut off: one to six of these. */
function mutate(bytes: Buffer, others: Recording[], seed: number): Buffer {
  const random = seededRandom(seed);
  const below = (most: number): number => Math.floor(random() * Math.max(1, most));
  let changed = Buffer.from(bytes);
  for (let times = 1 + below(6); times > 0; times--) {
    // Heads are where it matters most.
    const at = random() < 0.6 ? below(Math.min(600, changed.length)) : below(changed.length);
    const length = 1 + below(random() < 0.5 ? 8 : changed.length / 4);
    switch (below(6)) {
      case 0:
        if (at < changed.length) changed[at] ^= 1 << below(8);
        break;
      case 1:
        changed.fill(
          [0, 0xff, 0x7f, 0x80][below(4)],
          Math.min(at, changed.length),
          Math.min(changed.length, at + length),
        );
        break;
      case 2:
        changed = Buffer.concat([changed.subarray(0, at), changed.subarray(at + length)]);
        break;
      case 3:
        changed = Buffer.concat([changed.subarray(0, at + length), changed.subarray(at)]);
        break;
      case 4: {
        const other = others[below(others.length)].bytes;
        const from = below(other.length);
        changed = Buffer.concat([changed.subarray(0, at), other.subarray(from, from + length), changed.subarray(at)]);
        break;
      }
      default:
        changed = changed.subarray(0, Math.max(1, changed.length - length));
    }
  }
  return changed;
}

export async function writeMutated(
  folder: string,
  recording: Recording,
  others: Recording[],
  seed: number,
): Promise<string> {
  const path = join(folder, `${seed}-${recording.name}`);
  await writeFile(path, mutate(recording.bytes, others, seed));
  return path;
}
