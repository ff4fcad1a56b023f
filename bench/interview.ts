import { open } from 'node:fs/promises';
import { encodeWords } from '@pocket-twin/core/pcm/encodeWords.ts';
import { wavFrame } from '@pocket-twin/core/riff/wavFrame.ts';
import { inTurn, mix, type Mono } from '@pocket-twin/core/synth/mono.ts';
import { hiss } from '@pocket-twin/core/synth/noise.ts';
import { voice } from '@pocket-twin/demo/voice.ts';

const SAMPLE_RATE = 48000;
const WORDS = { kind: 'integer', bits: 24 } as const;

/**
 * Writes a 48 kHz 24-bit WAV of an interview: the demo's voices on the first channel, a second talker on the second, hiss under both, over
 * and over; further channels repeat the two.
 */
export async function writeInterview(path: string, minutes = 60, channels = 2): Promise<void> {
  const voices = [
    inTurn(await voice('ottilie-deck'), await voice('narrator')),
    inTurn(await voice('corin-winch'), await voice('lock-office')),
  ];
  const length = Math.min(...voices.map((sound) => sound.length));
  const sides = voices.map((sound, i) => mix(sound.subarray(0, length), hiss(length, -66, i + 1)));
  await writeTurns(path, minutes, channels, [Array.from({ length: channels }, (_, c) => sides[c % 2])], () => 0);
}

const LOSS_SECONDS = 3;

/** Writes an hour of one microphone on both sides that the second side loses a number of times, for three seconds, to nothing but hiss. */
export async function writeWithLosses(path: string, losses: number): Promise<void> {
  const spoken = inTurn(await voice('ottilie-deck'), await voice('narrator'));
  const one = mix(spoken, hiss(spoken.length, -66, 1));
  const other = one.slice();
  const lost = hiss(LOSS_SECONDS * SAMPLE_RATE, -66, 2);
  other.set(lost, (one.length - lost.length) >> 1);
  const turns = Math.floor((60 * 60 * SAMPLE_RATE) / one.length);
  const isLost = (turn: number): boolean =>
    Math.floor(((turn + 1) * losses) / turns) > Math.floor((turn * losses) / turns);
  await writeTurns(
    path,
    60,
    2,
    [
      [one, one],
      [one, other],
    ],
    (turn) => (isLost(turn) ? 1 : 0),
  );
}

/** @param kinds turns of equal length, the channels of each; `kindOf` says which one comes when */
async function writeTurns(
  path: string,
  minutes: number,
  channels: number,
  kinds: Mono[][],
  kindOf: (turn: number) => number,
): Promise<void> {
  const frames = Math.round(SAMPLE_RATE * 60 * minutes);
  const { head } = wavFrame({ format: WORDS, channels, sampleRate: SAMPLE_RATE, frames, speakerMask: 0, chunks: [] });
  const { length } = kinds[0][0];
  const words = kinds.map((sides) => {
    const bytes = new Uint8Array(length * channels * 3);
    encodeWords(sides, WORDS, bytes, length, () => 0);
    return bytes;
  });
  const file = await open(path, 'w');
  await file.write(head);
  for (let written = 0; written < frames; written += length) {
    await file.write(words[kindOf(written / length)], 0, Math.min(length, frames - written) * channels * 3);
  }
  await file.close();
}
