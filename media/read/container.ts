import { ascii, type ByteSource } from '@pocket-twin/core/riff/byteSource.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';

/** A container by its own mark: the demuxer that FFmpeg is forced to use, and the name people know. */
export interface Container {
  name: string;
  /** null for WAV, which is read by core/riff. */
  demuxer: string | null;
}

const WAV: Container = { name: 'wav', demuxer: null };
const HEAD_BYTES = 4096;
const TS_PACKET = 188;

/**
 * What a file is by its first bytes, never by its name. Only these containers are read: no
 * playlists, no formats that point at other files.
 */
export async function identifyContainer(source: ByteSource, name: string): Promise<Container> {
  const head = await source.read(0, HEAD_BYTES);
  const mark = (at: number, length: number): string => (head.length >= at + length ? ascii(head, at, length) : '');
  const form = mark(0, 4);
  if (form === 'RIFF' && mark(8, 4) === 'AVI ') return { name: 'avi', demuxer: 'avi' };
  if (form === 'RIFF' || form === 'RF64' || form === 'BW64') return WAV;
  if (mark(4, 4) === 'ftyp' || ['moov', 'mdat', 'wide', 'free'].includes(mark(4, 4))) {
    return { name: mark(8, 2) === 'qt' || mark(4, 4) !== 'ftyp' ? 'mov' : 'mp4', demuxer: 'mov' };
  }
  if (form === 'fLaC') return { name: 'flac', demuxer: 'flac' };
  if (form === 'OggS') return { name: 'ogg', demuxer: 'ogg' };
  if (form === 'FORM' && mark(8, 3) === 'AIF')
    return { name: mark(8, 4) === 'AIFC' ? 'aifc' : 'aiff', demuxer: 'aiff' };
  if (form === 'caff') return { name: 'caf', demuxer: 'caf' };
  if (form === '\x1aE\xdf\xa3')
    return { name: ascii(head, 0, head.length).includes('webm') ? 'webm' : 'mkv', demuxer: 'matroska' };
  if (form === '\x06\x0e\x2b\x34') return { name: 'mxf', demuxer: 'mxf' };
  if (mark(0, 3) === 'ID3') return { name: 'mp3', demuxer: 'mp3' };
  if (head[0] === 0xff && (head[1] & 0xf6) === 0xf0) return { name: 'aac', demuxer: 'aac' };
  if (head[0] === 0xff && (head[1] & 0xe0) === 0xe0) return { name: 'mp3', demuxer: 'mp3' };
  if (head[0] === 0x47 && head[TS_PACKET] === 0x47) return { name: 'ts', demuxer: 'mpegts' };
  throw new Refusal('not-audio', refusal(head, name));
}

function refusal(head: Uint8Array, name: string): string {
  const looksLikeText = head.every((byte) => byte >= 32 || byte === 9 || byte === 10 || byte === 13);
  if (looksLikeText) return `${name} is a text file inside, not a recording. Choose the recording itself.`;
  return `${name} is not a kind of recording that can be read here. Export it as WAV.`;
}
