import { execFileSync } from 'node:child_process';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { scratchFolder, wavBytes } from '@pocket-twin/media/test/files.ts';

// A card as it comes from a shoot: takes with a voice on the left and the noise of an open input on the right, and what nobody can read.

export const VOICE = mix(chatter(0.12, 4, 1), noise(0.0003, 4, 3));
export const HISS = noise(0.0008, 4, 2);
export const GOOD = 35;
/** The take that was recorded differently: the same on both sides. */
export const ODD_ONE = 20;
export const BAD = ['notes.txt', 'empty.wav', 'list.mp3', 'mute.mp4', 'noise.bin'];

export function takeName(take: number): string {
  return `deck-A${String(take).padStart(3, '0')}.wav`;
}

export function takeBytes(take: number): Buffer {
  return wavBytes([VOICE.map((x, i) => x + 1e-4 * Math.sin(i * take)), take === ODD_ONE ? VOICE : HISS]);
}

/** 40 files as a card may hold them. @returns the folder they are in */
export async function writeCard(): Promise<string> {
  const folder = await scratchFolder();
  for (let take = 1; take <= GOOD; take++) await writeFile(join(folder, takeName(take)), takeBytes(take));
  await writeFile(join(folder, 'notes.txt'), 'take 12 is the good one');
  await writeFile(join(folder, 'empty.wav'), '');
  await writeFile(join(folder, 'list.mp3'), '#EXTM3U\nfile:///etc/hostname\n');
  await writeFile(join(folder, 'noise.bin'), Buffer.from(Array.from({ length: 4000 }, (_, i) => (i * 7919) % 251)));
  execFileSync('ffmpeg', [
    '-nostdin',
    '-loglevel',
    'error',
    '-f',
    'lavfi',
    '-i',
    'testsrc=size=320x180:rate=25:duration=1',
    '-c:v',
    'mpeg4',
    join(folder, 'mute.mp4'),
  ]);
  return folder;
}

export function cardFiles(folder: string): string[] {
  return [...Array.from({ length: GOOD }, (_, i) => takeName(i + 1)), ...BAD].map((name) => join(folder, name));
}
