import type { Lineup, LineupColumn, LineupEntry, LineupFilter, LineupQuery } from '../schema/lineup.ts';
import type { Setup } from '../schema/setup.ts';
import { naturalKey } from '../setups/namePattern.ts';
import { standingWords, verdictWords } from './words.ts';

export type Arranged = Pick<Lineup, 'shown' | 'counts' | 'groups'>;

/**
 * The order of a project's clips for one way of looking at them: found, counted, narrowed, sorted, grouped.
 * @param usedSeconds the clips that the edit uses, by their ids
 */
export function arrange(
  entries: readonly LineupEntry[],
  setups: readonly Setup[],
  { sort, descending, search, only, grouped }: LineupQuery,
  usedSeconds: Readonly<Record<string, number>> = {},
): Arranged {
  const found =
    search.trim() === ''
      ? entries
      : entries.filter(matching(search, new Map(setups.map(({ id, name }) => [id, name]))));
  const counts: Arranged['counts'] = {};
  const count = (filter: LineupFilter): void => {
    counts[filter] = (counts[filter] ?? 0) + 1;
  };
  for (const { id, standing, verdict } of found) {
    count(standing);
    if (id in usedSeconds) count('in-edit');
    if (verdict && standing !== 'measuring') count(verdict);
  }
  const shown = sorted(
    only ? found.filter((entry) => (only === 'in-edit' ? entry.id in usedSeconds : isLike(entry, only))) : found,
    sort,
    descending,
  );
  return {
    shown: shown.length,
    counts,
    groups: grouped
      ? groupsOf(shown, new Set(setups.map(({ id }) => id)))
      : [{ setupId: null, ids: shown.map(({ id }) => id) }],
  };
}

function isLike({ standing, verdict }: LineupEntry, filter: LineupFilter): boolean {
  return standing === filter || (verdict === filter && standing !== 'measuring');
}

/** Every word of the search is somewhere in what the row says, in its verdict or in where it stands. */
function matching(search: string, setupNames: ReadonlyMap<string, string>): (entry: LineupEntry) => boolean {
  const terms = search.toLowerCase().split(/\s+/).filter(Boolean);
  return (entry) => {
    const text = textOf(entry) + (entry.setupId === null ? '' : (setupNames.get(entry.setupId)?.toLowerCase() ?? ''));
    return terms.every((word) => text.includes(word));
  };
}

const places = new WeakMap<LineupEntry, string>();

/** Of what came together: by folder, then by name. */
function placeOf(entry: LineupEntry): string {
  const known = places.get(entry);
  if (known !== undefined) return known;
  const place = `${naturalKey(entry.folder)}\0${naturalKey(entry.fileName)}`;
  places.set(entry, place);
  return place;
}

const texts = new WeakMap<LineupEntry, string>();

function textOf(entry: LineupEntry): string {
  const known = texts.get(entry);
  if (known !== undefined) return known;
  const { name, fileName, folder, headline, fact, suggestion, kept, error, verdict, side, standing } = entry;
  const text = [
    name,
    fileName,
    folder,
    headline,
    fact,
    suggestion,
    kept,
    error,
    verdict,
    verdict && verdictWords(verdict, side),
    standing,
    standingWords(standing),
  ]
    .join('\n')
    .toLowerCase();
  texts.set(entry, text);
  return text;
}

const STANDINGS: LineupEntry['standing'][] = ['open', 'look', 'kept', 'written', 'fine', 'measuring', 'unreadable'];

type SortKey = string | number | null;
const SORT_KEYS: Record<Exclude<LineupColumn, 'came'>, (entry: LineupEntry) => SortKey> = {
  verdict: ({ verdict }) => verdict,
  name: ({ name }) => name,
  length: ({ durationSeconds }) => durationSeconds,
  channels: ({ channels }) => channels,
  what: ({ headline, error }) => headline ?? error,
  left: ({ leftLufs }) => leftLufs,
  right: ({ rightLufs }) => rightLufs,
  balance: ({ balanceLu }) => balanceLu,
  suggestion: ({ kept, suggestion }) => kept ?? suggestion,
  state: ({ standing }) => STANDINGS.indexOf(standing),
  timecode: ({ startSeconds }) => startSeconds,
};

function sorted(entries: readonly LineupEntry[], column: LineupColumn, descending: boolean): LineupEntry[] {
  const came = [...entries].sort(
    (a, b) =>
      a.cameAtMs - b.cameAtMs || (placeOf(a) < placeOf(b) ? -1 : placeOf(a) > placeOf(b) ? 1 : a.id < b.id ? -1 : 1),
  );
  if (column === 'came') return descending ? came.reverse() : came;
  const keyed = came.map((entry) => {
    const key = SORT_KEYS[column](entry);
    return { entry, key: typeof key === 'string' ? naturalKey(key) : key };
  });
  // Sorting keeps equals as they came. What has no value stands last, whichever way round.
  keyed.sort(({ key: a }, { key: b }) => {
    if (a === null || b === null) return Number(a === null) - Number(b === null);
    return a === b ? 0 : a < b === descending ? 1 : -1;
  });
  return keyed.map(({ entry }) => entry);
}

/** Setups in the order of their first clip; clips without one last, and those whose setup was formed a moment ago and is not known here yet. */
function groupsOf(entries: LineupEntry[], known: ReadonlySet<string>): Lineup['groups'] {
  const groups = new Map<string | null, string[]>();
  for (const { id, setupId: home } of entries) {
    const setupId = home !== null && known.has(home) ? home : null;
    const ids = groups.get(setupId);
    if (ids) ids.push(id);
    else groups.set(setupId, [id]);
  }
  return [...groups]
    .map(([setupId, ids]) => ({ setupId, ids }))
    .sort((a, b) => Number(a.setupId === null) - Number(b.setupId === null));
}
