import { asciiBytes } from '@pocket-twin/core/riff/byteSource.ts';
import type { KeptChunk } from '@pocket-twin/core/riff/wavFrame.ts';

/** Size of a version 1 `bext` chunk without coding history (EBU Tech 3285). */
const BEXT_BYTES = 602;

export interface TakeFacts {
  recorder: string;
  /** One a channel. */
  tracks: string[];
  scene: string;
  take: number;
  startSeconds: number;
  sampleRate: number;
}

/** A `bext` chunk with a start timecode, as a field recorder writes it. */
export function bextChunk({ recorder, scene, take, startSeconds, sampleRate }: TakeFacts): KeptChunk {
  const body = new Uint8Array(BEXT_BYTES);
  const view = new DataView(body.buffer);
  const put = (text: string, at: number): void => body.set(asciiBytes(text), at);
  put(`scene ${scene} take ${take}`, 0);
  put(recorder, 256);
  put(`${recorder}-${scene}-${take}`.slice(0, 32), 288);
  put('2026-08-14', 320);
  put(clock(startSeconds), 330);
  view.setBigUint64(338, BigInt(startSeconds * sampleRate), true);
  view.setUint16(346, 1, true);
  return { id: 'bext', body };
}

/** An `iXML` chunk naming the tracks. */
export function ixmlChunk({ scene, take, tracks }: TakeFacts): KeptChunk {
  const list = tracks
    .map(
      (name, i) =>
        `<TRACK><CHANNEL_INDEX>${i + 1}</CHANNEL_INDEX><INTERLEAVE_INDEX>${i + 1}</INTERLEAVE_INDEX><NAME>${name}</NAME></TRACK>`,
    )
    .join('');
  const xml =
    `<?xml version="1.0" encoding="UTF-8"?><BWFXML><IXML_VERSION>1.61</IXML_VERSION><PROJECT>The Last Crossing</PROJECT>` +
    `<SCENE>${scene}</SCENE><TAKE>${take}</TAKE><TRACK_LIST><TRACK_COUNT>${tracks.length}</TRACK_COUNT>${list}</TRACK_LIST></BWFXML>`;
  return { id: 'iXML', body: new TextEncoder().encode(xml) };
}

function clock(seconds: number): string {
  const two = (value: number): string => String(Math.floor(value)).padStart(2, '0');
  return `${two(seconds / 3600)}:${two((seconds / 60) % 60)}:${two(seconds % 60)}`;
}
