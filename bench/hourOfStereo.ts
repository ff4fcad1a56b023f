import { open } from 'node:fs/promises';
import { wavFrame } from '@pocket-twin/core/riff/wavFrame.ts';
import { seededRandom } from '@pocket-twin/core/signal/random.ts';

const SAMPLE_RATE = 48000;

/** Writes a 48 kHz 24-bit stereo WAV: a minute of noise that swells like speech on the left, hiss on the right, over and over. */
export async function writeHourOfStereo(path: string, minutes = 60): Promise<void> {
  const frames = SAMPLE_RATE * 60 * minutes;
  const { head } = wavFrame({ format: { kind: 'integer', bits: 24 }, channels: 2, sampleRate: SAMPLE_RATE, frames, speakerMask: 0, chunks: [] });
  const minute = new Uint8Array(SAMPLE_RATE * 60 * 6);
  const random = seededRandom(1);
  for (let i = 0, at = 0; at < minute.length; i++, at += 6) {
    const loud = Math.max(0, Math.sin(i / 9000)) * 1_500_000;
    put(minute, at, Math.round((random() - 0.5) * (loud + 3000)));
    put(minute, at + 3, Math.round((random() - 0.5) * 9000));
  }
  const file = await open(path, 'w');
  await file.write(head);
  for (let m = 0; m < minutes; m++) await file.write(minute);
  await file.close();
}

function put(bytes: Uint8Array, at: number, word: number): void {
  bytes[at] = word;
  bytes[at + 1] = word >> 8;
  bytes[at + 2] = word >> 16;
}
