import { bytesPerSample, type SampleFormat } from '../pcm/sampleFormat.ts';
import { asciiBytes } from './byteSource.ts';

/** A chunk whose body is carried along as it is. */
export interface KeptChunk {
  id: string;
  body: Uint8Array;
}

export interface WavShape {
  format: SampleFormat;
  channels: number;
  sampleRate: number;
  frames: number;
  speakerMask: number;
  chunks: KeptChunk[];
}

/** What stands before and after the sample words of a WAV file. */
export interface WavFrame {
  head: Uint8Array;
  tail: Uint8Array;
}

const LARGEST_RIFF = 0xffffffff;
const DS64_BYTES = 28;
// GUID tail of KSDATAFORMAT_SUBTYPE_PCM and _IEEE_FLOAT (Microsoft, WAVEFORMATEXTENSIBLE).
const SUBFORMAT_TAIL = [0, 0, 0, 0, 0x10, 0, 0x80, 0, 0, 0xaa, 0, 0x38, 0x9b, 0x71];

/**
 * Builds the header (and the padding byte) around `frames` frames of sample words.
 * A file that RIFF's 32-bit sizes cannot hold becomes RF64 (EBU Tech 3306) with its sizes in `ds64`.
 */
export function wavFrame(shape: WavShape): WavFrame {
  const dataBytes = shape.frames * shape.channels * bytesPerSample(shape.format);
  const pad = dataBytes % 2;
  const chunks = [chunk('fmt ', formatBody(shape)), ...shape.chunks.map((kept) => chunk(kept.id, kept.body))];
  const chunkBytes = chunks.reduce((sum, bytes) => sum + bytes.length, 0);
  const riffBytes = 4 + chunkBytes + 8 + dataBytes + pad;
  const large = riffBytes > LARGEST_RIFF;
  if (large) chunks.unshift(chunk('ds64', ds64Body(riffBytes + 8 + DS64_BYTES, dataBytes, shape.frames)));
  const head = concatenate([
    asciiBytes(large ? 'RF64' : 'RIFF'),
    uint32(large ? LARGEST_RIFF : riffBytes),
    asciiBytes('WAVE'),
    ...chunks,
    asciiBytes('data'),
    uint32(large ? LARGEST_RIFF : dataBytes),
  ]);
  return { head, tail: new Uint8Array(pad) };
}

function formatBody({ format, channels, sampleRate, speakerMask }: WavShape): Uint8Array {
  const wordBytes = bytesPerSample(format);
  const extensible = channels > 2 || speakerMask !== 0;
  const body = new Uint8Array(extensible ? 40 : 16);
  const view = new DataView(body.buffer);
  const tag = format.kind === 'float' ? 3 : 1;
  view.setUint16(0, extensible ? 0xfffe : tag, true);
  view.setUint16(2, channels, true);
  view.setUint32(4, sampleRate, true);
  view.setUint32(8, sampleRate * channels * wordBytes, true);
  view.setUint16(12, channels * wordBytes, true);
  view.setUint16(14, format.bits, true);
  if (extensible) {
    view.setUint16(16, 22, true);
    view.setUint16(18, format.bits, true);
    view.setUint32(20, speakerMask, true);
    view.setUint16(24, tag, true);
    body.set(SUBFORMAT_TAIL, 26);
  }
  return body;
}

function ds64Body(riffBytes: number, dataBytes: number, frames: number): Uint8Array {
  const view = new DataView(new ArrayBuffer(DS64_BYTES));
  view.setBigUint64(0, BigInt(riffBytes), true);
  view.setBigUint64(8, BigInt(dataBytes), true);
  view.setBigUint64(16, BigInt(frames), true);
  return new Uint8Array(view.buffer);
}

function chunk(id: string, body: Uint8Array): Uint8Array {
  return concatenate([asciiBytes(id), uint32(body.length), body, new Uint8Array(body.length % 2)]);
}

function uint32(value: number): Uint8Array {
  const bytes = new Uint8Array(4);
  new DataView(bytes.buffer).setUint32(0, value, true);
  return bytes;
}

function concatenate(parts: Uint8Array[]): Uint8Array {
  const whole = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    whole.set(part, at);
    at += part.length;
  }
  return whole;
}
