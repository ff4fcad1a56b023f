import { open } from 'node:fs/promises';
import { encodeWords } from '@pocket-twin/core/pcm/encodeWords.ts';
import { wavFrame } from '@pocket-twin/core/riff/wavFrame.ts';
import { hiss, inTurn, mix } from '@pocket-twin/demo/sound/mono.ts';
import { voice } from '@pocket-twin/demo/sound/voice.ts';

const SAMPLE_RATE = 48000;
const WORDS = { kind: 'integer', bits: 24 } as const;

/**
 * Writes a 48 kHz 24-bit WAV of an interview: the demo's voices on the first channel, a second talker on the second, hiss under both, over
 * and over; further channels repeat the two.
 */
export async function writeInterview(path: string, minutes = 60, channels = 2): Promise<void> {
  const frames = Math.round(SAMPLE_RATE * 60 * minutes);
  const { head } = wavFrame({ format: WORDS, channels, sampleRate: SAMPLE_RATE, frames, speakerMask: 0, chunks: [] });
  const voices = [inTurn(await voice('ottilie-deck'), await voice('narrator')), inTurn(await voice('corin-winch'), await voice('lock-office'))];
  const length = Math.min(frames, voices[0].length, voices[1].length);
  const sides = voices.map((sound, i) => mix(sound.subarray(0, length), hiss(length, -66, i + 1)));
  const turn = new Uint8Array(length * channels * 3);
  encodeWords(Array.from({ length: channels }, (_, c) => sides[c % 2]), WORDS, turn, length, () => 0);
  const file = await open(path, 'w');
  await file.write(head);
  for (let written = 0; written < frames; written += length) {
    await file.write(turn, 0, Math.min(length, frames - written) * channels * 3);
  }
  await file.close();
}
