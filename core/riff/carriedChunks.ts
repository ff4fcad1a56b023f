import type { ClipFacts } from '../schema/clipFacts.ts';
import { madeBext, withDescribedTracks } from './bext.ts';
import { withHistory } from './codingHistory.ts';
import { madeIxml, withTracks, type WrittenTrack } from './trackList.ts';
import type { KeptChunk } from './wavFrame.ts';

/**
 * What a written WAV says of itself beside its sound: the source's own chunks, with the names of its tracks made true; from a source without such
 * chunks, what is known of its start and its tracks.
 * @param kept the source's chunks; empty where it was no WAV
 * @param history a line of coding history (EBU R 98) for what was done; null where none is wanted
 */
export function carriedChunks(
  kept: KeptChunk[],
  facts: ClipFacts,
  tracks: WrittenTrack[],
  history: string | null = null,
): KeptChunk[] {
  const noted = (bext: Uint8Array): Uint8Array => (history === null ? bext : withHistory(bext, history));
  const chunks = kept.flatMap(({ id, body }): KeptChunk[] => {
    if (id === 'bext') return [{ id, body: noted(withDescribedTracks(body, tracks)) }];
    if (id !== 'iXML') return [{ id, body }];
    const corrected = withTracks(body, tracks);
    return corrected ? [{ id, body: corrected }] : [];
  });
  const has = (id: string): boolean => kept.some((chunk) => chunk.id === id);
  const named = tracks.some(({ name }) => name !== null);
  const starts = facts.startSamples !== null && !has('bext') && !has('iXML');
  return [
    ...(starts || ((history !== null || facts.codingHistory !== null) && !has('bext'))
      ? [{ id: 'bext', body: noted(madeBext(facts)) }]
      : []),
    ...chunks,
    ...(!has('iXML') && (named || (starts && facts.frameRate))
      ? [{ id: 'iXML', body: madeIxml(tracks, facts.frameRate) }]
      : []),
  ];
}
