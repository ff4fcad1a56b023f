import { BEXT } from './bext.ts';

/** A line of coding history after EBU R 98: what the sound is, and in T what was done to it. */
export function codingHistoryLine(
  format: { sampleRate: number; bitDepth: number | null; channels: number },
  done: string,
): string {
  const mode = format.channels === 1 ? 'mono' : format.channels === 2 ? 'stereo' : `${format.channels} channels`;
  // A comma parts the fields.
  const text = `Pocket Twin; ${done}`.replace(/[,\r\n]+/g, ';').replace(/[^\x20-\x7e]/g, '-');
  return [
    'A=PCM',
    `F=${format.sampleRate}`,
    ...(format.bitDepth === null ? [] : [`W=${format.bitDepth}`]),
    `M=${mode}`,
    `T=${text}`,
  ].join(',');
}

/** A `bext` chunk whose history has one line more, at its end (EBU Tech 3285: lines end with CR LF). */
export function withHistory(bext: Uint8Array, line: string): Uint8Array {
  const before = new TextDecoder('latin1').decode(bext.subarray(BEXT.fixedBytes)).replace(/\0+$/, '');
  const history = `${before}${before === '' || before.endsWith('\n') ? '' : '\r\n'}${line}\r\n`;
  const longer = new Uint8Array(BEXT.fixedBytes + history.length);
  longer.set(bext.subarray(0, BEXT.fixedBytes));
  for (let i = 0; i < history.length; i++) longer[BEXT.fixedBytes + i] = history.charCodeAt(i) & 0xff;
  return longer;
}
