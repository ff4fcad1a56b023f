import { XMLParser } from 'fast-xml-parser';
import { noFacts, type ClipFacts } from '../schema/clipFacts.ts';
import { type FrameRate } from '../time/frameRates.ts';
import { BEXT } from './bext.ts';
import { tracksFromDescription, withoutTrackLines } from './describedTracks.ts';

const LONGEST_WORDS = 500;

const ENTITIES: Record<string, string> = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" };

/** The chunks of a WAV that speak of the recording. */
export interface BroadcastChunks {
  bext: Uint8Array | null;
  ixml: Uint8Array | null;
}

/**
 * What a Broadcast Wave's `bext` (EBU Tech 3285) and `iXML` chunks say. Where both say a thing, iXML has it in full. Chunks that
 * make no sense are passed over: they do not keep anyone from the sound.
 */
export function broadcastFacts({ bext, ixml }: BroadcastChunks, channels: number): ClipFacts {
  const facts = noFacts(channels);
  if (bext && bext.length >= BEXT.timeReference.at + BEXT.timeReference.bytes)
    Object.assign(facts, factsFromBext(bext, channels));
  if (ixml) Object.assign(facts, factsFromIxml(ixml, facts, channels));
  return facts;
}

function factsFromBext(bext: Uint8Array, channels: number): Partial<ClipFacts> {
  const field = ({ at, bytes }: { at: number; bytes: number }): string =>
    new TextDecoder('utf-8').decode(bext.subarray(at, at + bytes)).split('\0')[0];
  const text = (place: { at: number; bytes: number }): string | null => wordsOrNull(field(place));
  const description = field(BEXT.description);
  const date = text(BEXT.date)?.replace(/[^\d]/g, '-') ?? '';
  const time = text(BEXT.time)?.replace(/[^\d]/g, ':') ?? '';
  const when = `${date}T${/^\d\d:\d\d:\d\d$/.test(time) ? time : '00:00:00'}`;
  const startSamples = Number(new DataView(bext.buffer, bext.byteOffset).getBigUint64(BEXT.timeReference.at, true));
  return {
    note: wordsOrNull(withoutTrackLines(description)),
    trackNames: (tracksFromDescription(description, channels) ?? noFacts(channels).trackNames).map(wordsOrNull),
    recorder: text(BEXT.originator),
    recordedAt: /^\d{4}-\d\d-\d\d$/.test(date) && !Number.isNaN(Date.parse(when)) ? when : null,
    startSamples: Number.isSafeInteger(startSamples) ? startSamples : null,
  };
}

type Branch = Record<string, unknown>;

function factsFromIxml(bytes: Uint8Array, known: ClipFacts, channels: number): Partial<ClipFacts> {
  // No entities but XML's own five: others are how a small text becomes a huge one. Everything stays text: a take of "07" is no number.
  const parser = new XMLParser({ processEntities: false, parseTagValue: false, ignoreAttributes: true });
  let root: unknown;
  try {
    root = (parser.parse(new TextDecoder('utf-8').decode(bytes).split('\0')[0]) as Branch).BWFXML;
  } catch {
    return {};
  }
  if (!isBranch(root)) return {};
  const text = (key: string): string | null => wordsOrNull(root[key]);
  const speed = isBranch(root.SPEED) ? root.SPEED : {};
  const samples =
    Number(speed.TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_HI ?? 0) * 2 ** 32 +
    Number(speed.TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_LO ?? NaN);
  return {
    scene: text('SCENE'),
    take: text('TAKE'),
    tape: text('TAPE'),
    note: text('NOTE') ?? known.note,
    trackNames: trackNames(root.TRACK_LIST, channels).map((name, i) => name ?? known.trackNames[i]),
    startSamples: Number.isSafeInteger(samples) && samples >= 0 ? samples : known.startSamples,
    frameRate: frameRate(wordsOrNull(speed.TIMECODE_RATE), wordsOrNull(speed.TIMECODE_FLAG)),
  };
}

function trackNames(list: unknown, channels: number): (string | null)[] {
  const tracks = isBranch(list) ? [list.TRACK].flat().filter(isBranch) : [];
  return Array.from({ length: channels }, (_, channel) => {
    const place = (track: Branch): number => Number(track.INTERLEAVE_INDEX ?? track.CHANNEL_INDEX);
    return wordsOrNull(tracks.find((track) => place(track) === channel + 1)?.NAME);
  });
}

/** "25/1", "30000/1001", with the flag "DF" or "NDF". */
function frameRate(rate: string | null, flag: string | null): FrameRate | null {
  const match = /^(\d+)\/(\d+)$/.exec(rate ?? '');
  if (!match || Number(match[1]) === 0 || Number(match[2]) === 0) return null;
  return { numerator: Number(match[1]), denominator: Number(match[2]), dropFrame: flag === 'DF' };
}

function isBranch(value: unknown): value is Branch {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** Text as a person can read it; null where there is none. */
function wordsOrNull(value: unknown): string | null {
  if (typeof value !== 'string') return null;
  const clean = value
    .replace(/&(amp|lt|gt|quot|apos);/g, (_, name: string) => ENTITIES[name])
    .replace(/[\u0000-\u001f\u007f]+/g, ' ')
    .trim()
    .slice(0, LONGEST_WORDS);
  return clean === '' ? null : clean;
}
