import { XMLBuilder, XMLParser } from 'fast-xml-parser';
import type { FrameRate } from '../time/frameRates.ts';

/** One channel of a written file: the source channel (from 1) that feeds it alone, null for a mix; and its name. */
export interface WrittenTrack {
  source: number | null;
  name: string | null;
}

// As the parser keeps order: one key, the tag, with its children.
type Node = Record<string, Node[] | string | Record<string, string>>;

// No entities but XML's own five, which stay as they are written; texts stay texts.
const SHAPE = {
  preserveOrder: true,
  processEntities: false,
  parseTagValue: false,
  ignoreAttributes: false,
  trimValues: false,
  commentPropName: '#comment',
  cdataPropName: '#cdata',
} as const;

/**
 * An `iXML` chunk whose track list says what is on each channel of the written file: names and places follow the routes, what else is known of a
 * track goes with it (iXML specification, TRACK_LIST). Everything beside the list stays as it was.
 * @returns null where the chunk is no iXML: then it cannot be made true, and is left out
 */
export function withTracks(ixml: Uint8Array, tracks: WrittenTrack[]): Uint8Array | null {
  const text = new TextDecoder('utf-8').decode(ixml).split('\0')[0];
  let document: Node[];
  try {
    document = new XMLParser(SHAPE).parse(text) as Node[];
  } catch {
    return null;
  }
  const root = child(document, 'BWFXML');
  if (!root) return null;
  const list = child(root, 'TRACK_LIST');
  if (list)
    list.splice(
      0,
      list.length,
      ...trackNodes(
        tracks,
        list.filter((node) => 'TRACK' in node),
      ),
    );
  else if (tracks.some(({ name }) => name !== null)) root.push({ TRACK_LIST: trackNodes(tracks, []) });
  return new TextEncoder().encode(new XMLBuilder(SHAPE).build(document) as string);
}

/** An `iXML` chunk for a source that had none. */
export function madeIxml(tracks: WrittenTrack[], frameRate: FrameRate | null): Uint8Array {
  const root: Node[] = [leaf('IXML_VERSION', '2.0')];
  if (frameRate) {
    root.push({
      SPEED: [
        leaf('TIMECODE_RATE', `${frameRate.numerator}/${frameRate.denominator}`),
        leaf('TIMECODE_FLAG', frameRate.dropFrame ? 'DF' : 'NDF'),
      ],
    });
  }
  if (tracks.some(({ name }) => name !== null)) root.push({ TRACK_LIST: trackNodes(tracks, []) });
  return new TextEncoder().encode(
    `<?xml version="1.0" encoding="UTF-8"?>${new XMLBuilder(SHAPE).build([{ BWFXML: root }]) as string}`,
  );
}

function trackNodes(tracks: WrittenTrack[], known: Node[]): Node[] {
  const nodes = tracks.map(({ source, name }, i): Node => {
    const before = known.find((node) => source !== null && placeOf(node.TRACK as Node[]) === source);
    const kept = ((before?.TRACK ?? []) as Node[]).filter((node) => !('INTERLEAVE_INDEX' in node) && !('NAME' in node));
    if (!kept.some((node) => 'CHANNEL_INDEX' in node)) kept.unshift(leaf('CHANNEL_INDEX', String(source ?? i + 1)));
    return {
      TRACK: [
        ...kept,
        leaf('INTERLEAVE_INDEX', String(i + 1)),
        ...(name === null ? [] : [leaf('NAME', escaped(name))]),
      ],
    };
  });
  return [leaf('TRACK_COUNT', String(nodes.length)), ...nodes];
}

function placeOf(track: Node[]): number {
  const text = (tag: string): string | undefined =>
    child(track, tag)
      ?.map((node) => node['#text'])
      .join('')
      .trim();
  return Number(text('INTERLEAVE_INDEX') ?? text('CHANNEL_INDEX'));
}

function child(nodes: Node[], tag: string): Node[] | undefined {
  return nodes.find((node) => tag in node)?.[tag] as Node[] | undefined;
}

function leaf(tag: string, text: string): Node {
  return { [tag]: [{ '#text': text }] as unknown as Node[] };
}

function escaped(text: string): string {
  return text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');
}
