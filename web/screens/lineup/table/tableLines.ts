import type { Lineup } from '../../../state/useLineup.ts';

/** One line of the table: a setup's heading, a clip, or one channel of a clip that is unfolded. */
export type TableLine =
  | { kind: 'setup'; key: string; level: 1; clipIds: string[]; open: boolean }
  | { kind: 'clip'; key: string; level: 1 | 2; clipId: string; setupKey: string | null; open: boolean }
  | { kind: 'channel'; key: string; level: 2 | 3; clipId: string; channel: number };

/** Of the clips that are in no setup. */
export const WITHOUT_SETUP = 'without-setup';
/** Of the clips that are each the only one of a setup. */
export const ON_THEIR_OWN = 'on-their-own';

export interface Folding {
  grouped: boolean;
  /** Setups whose clips are folded away. */
  folded: readonly string[];
  /** Clips whose channels are shown. */
  unfolded: readonly string[];
}

/** The table from top to bottom. */
export function tableLines(
  { groups, setups, entries }: Pick<Lineup, 'groups' | 'setups' | 'entries'>,
  { grouped, folded, unfolded }: Folding,
): TableLine[] {
  const unfoldedIds = new Set(unfolded);
  const clipLines = (ids: string[], setupKey: string | null): TableLine[] =>
    ids.flatMap((clipId): TableLine[] => {
      const open = unfoldedIds.has(clipId);
      const level = setupKey === null ? 1 : 2;
      const clip: TableLine = { kind: 'clip', key: clipId, level, clipId, setupKey, open };
      const channels = open ? (entries[clipId]?.channels ?? 0) : 0;
      return [
        clip,
        ...Array.from({ length: channels }, (_, c): TableLine => ({
          kind: 'channel',
          key: `${clipId}:${c + 1}`,
          level: level === 1 ? 2 : 3,
          clipId,
          channel: c + 1,
        })),
      ];
    });
  if (!grouped)
    return clipLines(
      groups.flatMap(({ ids }) => ids),
      null,
    );
  const byId = new Map(setups.map((setup) => [setup.id, setup]));
  const isLone = (id: string): boolean => byId.get(id)?.clips === 1 && !byId.get(id)!.named;
  return gathered(groups, isLone).flatMap(({ id, ids }) => {
    const open = !folded.includes(id);
    return [
      { kind: 'setup' as const, key: id, level: 1 as const, clipIds: ids, open },
      ...(open ? clipLines(ids, id) : []),
    ];
  });
}

/** Setups in their order, then those of a single clip together, as a heading for each would be one line in two, then what is in none. */
function gathered(groups: Lineup['groups'], isLone: (setupId: string) => boolean): { id: string; ids: string[] }[] {
  const lone = groups.filter(({ setupId }) => setupId !== null && isLone(setupId));
  if (lone.length < 2) return groups.map(({ setupId, ids }) => ({ id: setupId ?? WITHOUT_SETUP, ids }));
  const others = groups.filter((group) => !lone.includes(group));
  return [
    ...others.flatMap(({ setupId, ids }) => (setupId === null ? [] : [{ id: setupId, ids }])),
    { id: ON_THEIR_OWN, ids: lone.flatMap(({ ids }) => ids) },
    ...others.flatMap(({ setupId, ids }) => (setupId === null ? [{ id: WITHOUT_SETUP, ids }] : [])),
  ];
}

/** All clips of a run from one line to another, whichever stands above. */
export function clipsBetween(lines: readonly TableLine[], from: number, to: number): string[] {
  return lines
    .slice(Math.min(from, to), Math.max(from, to) + 1)
    .flatMap((line) => (line.kind === 'clip' ? [line.clipId] : []));
}
