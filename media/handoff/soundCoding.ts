import type { SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';

/** How a sound stream of a film is written. */
export interface SoundCoding {
  /** FFmpeg's name of what codes it. */
  encoder: string;
  /** Words come back as they went in. */
  isLossless: boolean;
  /** What stands in a coding history. */
  name: string;
  /** All channels together; null where words are not coded at a rate. */
  kbits: number | null;
  /** What it puts before the first sample, in samples. */
  delaySamples: number;
  /** What it takes, where that must be said. */
  sampleType: string | null;
}

interface Coder {
  encoder: string;
  name: string;
  delaySamples: number;
  mostKbits: number;
  rates: readonly number[] | null;
  mostChannels: number;
}

const RATES_OF_DISCS = [32_000, 44_100, 48_000];
const coder = (
  encoder: string,
  name: string,
  delaySamples: number,
  mostKbits: number,
  mostChannels: number,
  rates: readonly number[] | null = null,
): Coder => ({ encoder, name, delaySamples, mostKbits, mostChannels, rates });

/** By the codec that a stream had: it stays what it was. Delays are those of Debian's FFmpeg. */
const LOSSY: Record<string, Coder> = {
  aac: coder('aac', 'AAC', 1024, 512, 8),
  opus: coder('libopus', 'OPUS', 312, 510, 8, [8000, 12_000, 16_000, 24_000, 48_000]),
  vorbis: coder('libvorbis', 'VORBIS', 0, 500, 8),
  mp3: coder('libmp3lame', 'MPEG1L3', 1105, 320, 2, RATES_OF_DISCS),
  mp2: coder('mp2', 'MPEG1L2', 481, 384, 2, RATES_OF_DISCS),
  ac3: coder('ac3', 'AC3', 256, 640, 6, RATES_OF_DISCS),
  eac3: coder('eac3', 'EAC3', 256, 640, 6, RATES_OF_DISCS),
};

/** What each container takes beside plain words; the first is taken where a stream's own codec cannot be written. */
const CODED: Record<string, readonly string[]> = {
  mov: ['aac', 'alac', 'ac3', 'mp3'],
  mp4: ['aac', 'alac', 'flac', 'ac3', 'eac3', 'mp3', 'opus'],
  mkv: ['aac', 'flac', 'alac', 'ac3', 'eac3', 'mp3', 'mp2', 'opus', 'vorbis'],
  webm: ['opus', 'vorbis'],
  ts: ['aac', 'mp2', 'ac3', 'eac3', 'mp3'],
  avi: ['mp3', 'ac3', 'mp2'],
  mxf: [],
};
const HOLDS_WORDS = new Set(['mov', 'mkv', 'mxf', 'avi']);

/** Whether a container's sound can be replaced at all. */
export function takesSound(container: string): boolean {
  return container in CODED;
}

/** What stands in the place of a stream: its own kind of sound where that can be written, else words where the container holds them, else what it takes. */
export function codingFor(
  container: string,
  codec: string,
  words: SampleFormat,
  { sampleRate, channels, codedKbits }: { sampleRate: number; channels: number; codedKbits: number },
): SoundCoding {
  const taken = CODED[container] ?? [];
  const fits = (one: string): boolean => {
    const { rates, mostChannels } = LOSSY[one];
    return channels <= mostChannels && (rates === null || rates.includes(sampleRate));
  };
  if (/^(flac|alac)$/.test(codec) && taken.includes(codec) && channels <= 8) return lossless(codec, words);
  if (codec in LOSSY && taken.includes(codec) && fits(codec)) return lossy(LOSSY[codec], channels, codedKbits);
  if (HOLDS_WORDS.has(container)) return plain(codec, words);
  return lossy(LOSSY[taken.find((one) => one in LOSSY && fits(one)) ?? taken[0]], channels, codedKbits);
}

function lossy({ encoder, name, delaySamples, mostKbits }: Coder, channels: number, codedKbits: number): SoundCoding {
  const kbits = Math.min(mostKbits, codedKbits * channels);
  return { encoder, isLossless: false, name, kbits, delaySamples, sampleType: null };
}

function lossless(codec: string, { bits }: SampleFormat): SoundCoding {
  const sampleType = `s${bits > 16 ? 32 : 16}${codec === 'alac' ? 'p' : ''}`;
  return { encoder: codec, isLossless: true, name: codec.toUpperCase(), kbits: null, delaySamples: 0, sampleType };
}

/** In the order of bytes that it had. */
function plain(codec: string, { kind, bits }: SampleFormat): SoundCoding {
  const order = codec.startsWith('pcm_') && codec.endsWith('be') ? 'be' : 'le';
  const encoder = bits === 8 ? 'pcm_u8' : `pcm_${kind === 'float' ? 'f' : 's'}${bits}${order}`;
  return { encoder, isLossless: true, name: 'PCM', kbits: null, delaySamples: 0, sampleType: null };
}

/** What a coder takes: whole numbers of up to 24 bits. */
export function wordsForCoding(words: SampleFormat, encoder: string): SampleFormat {
  if (encoder.startsWith('pcm_')) return words;
  return words.kind === 'float' || words.bits > 24 ? { kind: 'integer', bits: 24 } : words;
}
