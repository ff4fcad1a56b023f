import { BEXT } from './bext.ts';

interface WrittenSound {
  sampleRate: number;
  channels: number;
  bitDepth: number | null;
  /** What coded it, and at how many kbit/s; plain words where it is left out. */
  coded?: { as: string; kbits: number };
}

/** A line of coding history after EBU R 98: what the sound is, and in T what was done to it. */
export function codingHistoryLine({ sampleRate, channels, bitDepth, coded }: WrittenSound, done: string): string {
  const mode = channels === 1 ? 'mono' : channels === 2 ? 'stereo' : `${channels} channels`;
  // A comma parts the fields.
  const text = `Pocket Twin; ${done}`.replace(/[,\r\n]+/g, ';').replace(/[^\x20-\x7e]/g, '-');
  return [
    `A=${coded?.as ?? 'PCM'}`,
    `F=${sampleRate}`,
    ...(coded ? [`B=${coded.kbits}`] : bitDepth === null ? [] : [`W=${bitDepth}`]),
    `M=${mode}`,
    `T=${text}`,
  ].join(',');
}

/** A coding history with one line more, at its end (EBU Tech 3285: lines end with CR LF). */
export function longerHistory(before: string, line: string): string {
  return `${before}${before === '' || before.endsWith('\n') ? '' : '\r\n'}${line}\r\n`;
}

/** A `bext` chunk whose history has one line more. */
export function withHistory(bext: Uint8Array, line: string): Uint8Array {
  const before = new TextDecoder('latin1').decode(bext.subarray(BEXT.fixedBytes)).replace(/\0+$/, '');
  const history = longerHistory(before, line);
  const longer = new Uint8Array(BEXT.fixedBytes + history.length);
  longer.set(bext.subarray(0, BEXT.fixedBytes));
  for (let i = 0; i < history.length; i++) longer[BEXT.fixedBytes + i] = history.charCodeAt(i) & 0xff;
  return longer;
}
