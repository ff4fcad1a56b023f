import { createRequire } from 'node:module';
import { wholeClip } from '@pocket-twin/core/measure/stream/clipParts.ts';
import { decodeWords } from '@pocket-twin/core/pcm/decodeWords.ts';
import { bytesPerSample } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { openSource } from '@pocket-twin/media/read/openSource.ts';
import { doubleRate } from '@pocket-twin/core/synth/doubleRate.ts';
import { inTurn, type Mono } from '@pocket-twin/core/synth/mono.ts';

export type VoiceName = 'ottilie-deck' | 'ottilie-winch' | 'corin-winch' | 'narrator' | 'lock-office';

const read = new Map<VoiceName, Promise<Mono>>();

/** A dry voice at 48 kHz; the same array for all who ask. */
export function voice(name: VoiceName): Promise<Mono> {
  if (!read.has(name)) read.set(name, readVoice(name));
  return read.get(name)!;
}

async function readVoice(name: VoiceName): Promise<Mono> {
  const source = await openSource(createRequire(import.meta.url).resolve(`@pocket-twin/demo/voices/${name}.flac`));
  const pieces: Mono[] = [];
  try {
    // A FLAC comes decoded, in memory of its own.
    for await (const run of source.runs(wholeClip(), [])) {
      const frames = run.length / bytesPerSample(source.words);
      const piece = new Float64Array(frames);
      decodeWords(run, source.words, [piece], frames);
      pieces.push(piece);
    }
  } finally {
    await source.close();
  }
  return doubleRate(inTurn(...pieces));
}

/** The phrases of a voice, parted where it pauses for longer than 0.4 s. */
export function phrases(sound: Mono, sampleRate = 48000): Mono[] {
  const longestPause = 0.4 * sampleRate;
  const found: Mono[] = [];
  let start = -1;
  let quiet = 0;
  sound.forEach((x, i) => {
    if (Math.abs(x) > 0.003) {
      if (start < 0) start = i;
      quiet = 0;
    } else if (start >= 0 && ++quiet > longestPause) {
      found.push(sound.slice(start, i));
      start = -1;
    }
  });
  if (start >= 0) found.push(sound.slice(start));
  return found;
}
