import type { SampleFormat } from '../pcm/sampleFormat.ts';
import { Refusal } from '../schema/refusal.ts';
import { ascii, type ByteSource } from './byteSource.ts';
import { dataExtent, padded, type DataExtent } from './dataExtent.ts';
import { wordDepth } from './wordDepth.ts';

/** Where a chunk's body lies in the file. */
interface Chunk {
  id: string;
  offset: number;
  bytes: number;
}

export interface WavLayout {
  form: 'RIFF' | 'RF64' | 'BW64';
  format: SampleFormat;
  channels: number;
  sampleRate: number;
  /** WAVE_FORMAT_EXTENSIBLE's speaker mask; 0 where the file does not say. */
  speakerMask: number;
  dataOffset: number;
  frames: number;
  /** Frames that the header promises; more than `frames` in a file that was cut off. */
  promisedFrames: number;
  /** The header's size of the sound began again at 0 past 4 GiB, and was mended. */
  wrapped: boolean;
  /** Bytes behind the sound that are no chunks. */
  strayBytes: number;
  /** The header contradicts itself about the width of a sample; two of three fields were believed. */
  depthDoubtful: boolean;
  chunks: Chunk[];
}

const FORMAT_INTEGER = 1;
const FORMAT_FLOAT = 3;
const FORMAT_EXTENSIBLE = 0xfffe;
const SIZE_IN_DS64 = 0xffffffff;
const DS64_BYTES = 24;
const MOST_CHANNELS = 64;
const MOST_CHUNKS = 1000;

/**
 * Reads the chunks of a WAV (RIFF), RF64 (EBU Tech 3306) or BW64 (ITU-R BS.2088) file.
 * Sizes that cannot be true, as recorders leave them when the power goes, are mended from the
 * length of the file where only one reading is possible.
 * @param name how the file is called in sentences for people
 * @throws Refusal when it is not a WAV file or holds words that are not PCM
 */
export async function readWav(source: ByteSource, name: string): Promise<WavLayout> {
  const head = await source.read(0, 12);
  const form = head.length === 12 ? ascii(head, 0, 4) : '';
  if (!isWavForm(form) || ascii(head, 8, 4) !== 'WAVE') {
    throw new Refusal('not-audio', `${name} is not a WAV file inside. Export it again from where it was made.`);
  }
  const { chunks, sound } = await walkChunks(source, form !== 'RIFF');
  const fmt = chunks.find((chunk) => chunk.id === 'fmt ');
  const data = chunks.find((chunk) => chunk.id === 'data');
  if (!fmt || !data || !sound) {
    throw new Refusal(
      'damaged',
      `${name} is a WAV file without ${fmt ? 'sound' : 'a format'} in it: it was cut off. Copy it from the card again.`,
    );
  }
  const shape = parseFormat(await source.read(fmt.offset, Math.min(fmt.bytes, 40)), name);
  const frameBytes = shape.channels * (shape.format.bits / 8);
  return {
    form,
    ...shape,
    dataOffset: data.offset,
    frames: Math.floor(data.bytes / frameBytes),
    promisedFrames: Math.floor(Math.max(sound.bytes, data.bytes) / frameBytes),
    wrapped: sound.wrapped,
    strayBytes: sound.strayBytes,
    chunks,
  };
}

function isWavForm(form: string): form is WavLayout['form'] {
  return form === 'RIFF' || form === 'RF64' || form === 'BW64';
}

async function walkChunks(
  source: ByteSource,
  sixtyFour: boolean,
): Promise<{ chunks: Chunk[]; sound: DataExtent | null }> {
  const chunks: Chunk[] = [];
  let sound: DataExtent | null = null;
  let dataBytesInDs64 = 0;
  let offset = 12;
  while (offset + 8 <= source.size && chunks.length < MOST_CHUNKS) {
    const head = await source.read(offset, 8);
    const id = ascii(head, 0, 4);
    // Nothing was ever written here.
    if (id === '\0\0\0\0') break;
    let bytes = new DataView(head.buffer, head.byteOffset).getUint32(4, true);
    const body = offset + 8;
    if (id === 'ds64' && sixtyFour) {
      const sizes = await source.read(body, DS64_BYTES);
      if (sizes.length >= 16)
        dataBytesInDs64 = Number(new DataView(sizes.buffer, sizes.byteOffset).getBigUint64(8, true));
    }
    if (id === 'data' && !sound) {
      const inDs64 = sixtyFour && bytes === SIZE_IN_DS64;
      sound = await dataExtent(source, body, inDs64 ? dataBytesInDs64 : bytes, !inDs64);
      bytes = sound.bytes;
    }
    const present = Math.max(0, Math.min(bytes, source.size - body));
    chunks.push({ id, offset: body, bytes: present });
    offset = body + padded(bytes);
  }
  return { chunks, sound };
}

function parseFormat(
  bytes: Uint8Array,
  name: string,
): Pick<WavLayout, 'format' | 'channels' | 'sampleRate' | 'speakerMask' | 'depthDoubtful'> {
  const damaged = () => new Refusal('damaged', `${name} has a damaged WAV header. Copy it from the card again.`);
  if (bytes.length < 16) throw damaged();
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let tag = view.getUint16(0, true);
  const channels = view.getUint16(2, true);
  const sampleRate = view.getUint32(4, true);
  const bytesPerSecond = view.getUint32(8, true);
  const blockAlign = view.getUint16(12, true);
  const bitsPerSample = view.getUint16(14, true);
  let speakerMask = 0;
  if (tag === FORMAT_EXTENSIBLE && bytes.length >= 26) {
    speakerMask = view.getUint32(20, true);
    tag = view.getUint16(24, true);
  }
  if (channels < 1 || sampleRate < 1) throw damaged();
  if (channels > MOST_CHANNELS) {
    throw new Refusal(
      'not-allowed',
      `${name} has ${channels} channels; up to ${MOST_CHANNELS} can be read. Split it where it was recorded.`,
    );
  }
  // The container's width counts: 20-bit sound in 24-bit words reads as 24-bit.
  const depth = wordDepth({ channels, sampleRate, bitsPerSample, blockAlign, bytesPerSecond });
  const format = depth && sampleFormat(tag, depth.bits);
  if (format) return { format, channels, sampleRate, speakerMask, depthDoubtful: depth.doubtful };
  if (tag !== FORMAT_INTEGER && tag !== FORMAT_FLOAT) {
    throw new Refusal(
      'not-allowed',
      `${name} holds compressed or unusual samples (WAV format ${tag}, ${bitsPerSample} bit). Export it as PCM WAV.`,
    );
  }
  throw depth
    ? new Refusal(
        'not-allowed',
        `${name} holds samples of an unusual width (${depth.bits} bit). Export it as PCM WAV of 16, 24 or 32 bit.`,
      )
    : new Refusal(
        'damaged',
        `The header of ${name} contradicts itself: frames of ${blockAlign} bytes for ${channels} channels of ${bitsPerSample} bit. Export it again from where it was made.`,
      );
}

function sampleFormat(tag: number, bits: number): SampleFormat | null {
  if (tag === FORMAT_INTEGER && (bits === 8 || bits === 16 || bits === 24 || bits === 32))
    return { kind: 'integer', bits };
  if (tag === FORMAT_FLOAT && (bits === 32 || bits === 64)) return { kind: 'float', bits };
  return null;
}
