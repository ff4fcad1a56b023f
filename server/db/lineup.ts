import { QueryTypes, type Sequelize } from 'sequelize';
import { repairName } from '@pocket-twin/core/repair/describe.ts';
import { lineupHead } from '@pocket-twin/core/lineup/lineupHead.ts';
import type { ClipState, Sketch, SourceState } from '@pocket-twin/core/schema/clip.ts';
import type { ClipFacts, FrameRate } from '@pocket-twin/core/schema/clipFacts.ts';
import type { Handling, Lineup, LineupColumn, LineupFilter, LineupQuery, LineupRow, LineupSummary } from '@pocket-twin/core/schema/lineup.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { naturalOrder } from '@pocket-twin/core/setups/namePattern.ts';
import { soundOf } from '@pocket-twin/core/setups/setupClip.ts';
import { timecodeFromSeconds } from '@pocket-twin/core/signal/timecode.ts';
import { ClipPairRow } from './clipPair.ts';
import { ProjectRow } from './project.ts';
import { SetupRow, setupOf } from './setup.ts';

/** A clip without what only its own row shows. */
interface Light {
  id: string;
  name: string;
  fileName: string;
  folder: string;
  state: ClipState;
  error: string | null;
  sourceState: SourceState;
  summary: LineupSummary | null;
  startSeconds: number | null;
  ownFrameRate: boolean;
  setupId: string | null;
  kept: Repair | null;
  /** Of the last time that this repair was written. */
  written: { state: string; differing: number } | null;
  createdAt: Date;
}

// The last writing counts only where it wrote the repair that is kept now.
const LIGHT = `
  c.id, coalesce(c."displayName", c.name) as name, c.name as "fileName", c.folder, c.state, c.error, c."sourceState", c.summary, c."setupId",
  c."createdAt", s.repair as kept,
  (c.facts->>'startSamples')::float8 / nullif((c.summary->>'sampleRate')::float8, 0) as "startSeconds",
  c.facts->'frameRate' is not null and c.facts->'frameRate' <> 'null'::jsonb as "ownFrameRate",
  (select jsonb_build_object('state', w.state, 'differing', (select coalesce(sum((f->'proof'->>'differingFrames')::bigint), 0) from jsonb_array_elements(
     case when jsonb_typeof(w.receipt->'files') = 'array' then w.receipt->'files' else '[]'::jsonb end) f))
   from writings w where w."clipId" = c.id and w.repair = s.repair order by w."createdAt" desc limit 1) as written`;
const FROM_CLIPS = `from clips c left join repair_steps s on s."clipId" = c.id and s.position = c."stepsKept"`;

/** The order of a project's clips for one way of looking at them. null where there is no such project. */
export async function readLineup(sequelize: Sequelize, projectId: string, query: LineupQuery): Promise<Lineup | null> {
  const project = await ProjectRow.findByPk(projectId);
  if (!project) return null;
  const all = await sequelize.query<Light>(`select ${LIGHT} ${FROM_CLIPS} where c."projectId" = :projectId and c."removedAt" is null`, { replacements: { projectId }, type: QueryTypes.SELECT });
  const setups = new Map((await SetupRow.findAll({ where: { projectId } })).map((row) => [row.id, row]));
  const found = all.filter(matching(query.search, setups));
  const shown = found.filter((clip) => !query.only || filtersOf(clip).includes(query.only)).sort(comparing(query.sort, query.descending));
  const sizes = countBy(all, ({ setupId }) => setupId);
  return {
    head: lineupHead(all.map((clip) => ({
      state: clip.state, severity: clip.summary?.severity ?? null, cause: clip.summary?.cause ?? null, handled: clip.kept !== null, lost: clip.sourceState !== 'here',
    }))),
    total: all.length,
    shown: shown.length,
    counts: Object.fromEntries(countBy(found.flatMap(filtersOf), (filter) => filter)),
    setups: [...setups.values()].map((row) => setupOf(row, sizes.get(row.id) ?? 0, project.intake)).sort((a, b) => naturalOrder(a.name, b.name)),
    groups: query.grouped ? groupsOf(shown) : [{ setupId: null, ids: shown.map(({ id }) => id) }],
    withoutFrameRate: project.frameRate ? 0 : all.filter(({ startSeconds, ownFrameRate }) => startSeconds !== null && startSeconds > 0 && !ownFrameRate).length,
    pairs: await pairsOf(projectId, all),
  };
}

function countBy<Item, Key>(items: Item[], keyOf: (item: Item) => Key): Map<Key, number> {
  const counts = new Map<Key, number>();
  for (const item of items) counts.set(keyOf(item), (counts.get(keyOf(item)) ?? 0) + 1);
  return counts;
}

function filtersOf({ state, summary }: Light): LineupFilter[] {
  if (state === 'failed') return ['failed'];
  return summary ? [summary.verdict] : ['open'];
}

/** Every word of the search is somewhere in what the row says. */
function matching(search: string, setups: Map<string, SetupRow>): (clip: Light) => boolean {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  return ({ name, fileName, folder, summary, setupId, error }) => {
    if (words.length === 0) return true;
    const setup = setupId === null ? '' : setups.get(setupId)?.name ?? '';
    const text = [name, fileName, folder, setup, summary?.headline, summary?.fact, summary?.suggestion.name, error].join(' ').toLowerCase();
    return words.every((word) => text.includes(word));
  };
}

const HANDLINGS: Handling[] = ['new', 'kept', 'written', 'verified'];

const SORT_KEYS: Record<Exclude<LineupColumn, 'came'>, (clip: Light) => string | number | null> = {
  verdict: ({ summary }) => summary?.verdict ?? null,
  name: ({ name }) => name,
  length: ({ summary }) => summary?.durationSeconds ?? null,
  channels: ({ summary }) => summary?.channels.length ?? null,
  what: ({ summary, error }) => summary?.headline ?? error,
  left: ({ summary }) => summary?.channels[0]?.loudnessLufs ?? null,
  right: ({ summary }) => summary?.channels[1]?.loudnessLufs ?? null,
  balance: ({ summary }) => summary?.balanceLu ?? null,
  suggestion: ({ summary }) => summary?.suggestion.name ?? summary?.suggestion.action ?? null,
  state: (clip) => HANDLINGS.indexOf(handlingOf(clip)),
  timecode: ({ startSeconds }) => startSeconds,
};

function comparing(column: LineupColumn, descending: boolean): (a: Light, b: Light) => number {
  const came = (a: Light, b: Light): number => a.createdAt.getTime() - b.createdAt.getTime() || naturalOrder(a.folder, b.folder) || naturalOrder(a.fileName, b.fileName) || (a.id < b.id ? -1 : 1);
  if (column === 'came') return descending ? (a, b) => came(b, a) : came;
  const keyOf = SORT_KEYS[column];
  return (a, b) => {
    const [x, y] = [keyOf(a), keyOf(b)];
    // What has no value stands last, whichever way round.
    if (x === null || y === null) return Number(x === null) - Number(y === null) || came(a, b);
    const order = typeof x === 'number' && typeof y === 'number' ? x - y : naturalOrder(String(x), String(y));
    return (descending ? -order : order) || came(a, b);
  };
}

/** Setups in the order of their first clip; clips without one last. */
function groupsOf(clips: Light[]): Lineup['groups'] {
  const groups = new Map<string | null, string[]>();
  for (const { id, setupId } of clips) {
    const ids = groups.get(setupId);
    if (ids) ids.push(id);
    else groups.set(setupId, [id]);
  }
  return [...groups].map(([setupId, ids]) => ({ setupId, ids })).sort((a, b) => Number(a.setupId === null) - Number(b.setupId === null));
}

async function pairsOf(projectId: string, clips: Light[]): Promise<Lineup['pairs']> {
  const rows = await ClipPairRow.findAll({ where: { projectId } });
  const names = new Map(clips.map(({ id, name }) => [id, name]));
  return rows.filter(({ leftId, rightId }) => names.has(leftId) && names.has(rightId)).map(({ leftId, rightId, state }) => ({ leftId, rightId, state, left: names.get(leftId)!, right: names.get(rightId)! }));
}

function handlingOf({ kept, written }: Pick<Light, 'kept' | 'written'>): Handling {
  if (!kept) return 'new';
  if (written?.state === 'done') return 'verified';
  // It was written, and reading it back found a difference.
  return written?.state === 'failed' && Number(written.differing) > 0 ? 'written' : 'kept';
}

interface Full extends Light {
  projectId: string;
  bytes: string;
  linked: boolean;
  hasStill: boolean;
  sketch: Sketch | null;
  facts: ClipFacts | null;
  sameAs: string | null;
  roles: (string | null)[] | null;
  rolesGiven: boolean | null;
  usual: string | null;
  projectFrameRate: FrameRate | null;
}

/** Rows by their ids; those that are gone are left out. */
export async function readRows(sequelize: Sequelize, ids: string[]): Promise<LineupRow[]> {
  if (ids.length === 0) return [];
  const rows = await sequelize.query<Full>(`
    select ${LIGHT}, c."projectId", c.bytes, c.linked, c."hasStill", c.sketch, c.facts, t.roles, t."rolesGiven",
      case when t.side is null then t.verdict else t.verdict || ' ' || t.side end as usual, p."frameRate" as "projectFrameRate",
      (select coalesce(o."displayName", o.name) from clips o where o."projectId" = c."projectId" and o."contentHash" = c."contentHash" and o.id <> c.id and o."removedAt" is null
        order by o."createdAt", o.name limit 1) as "sameAs"
    ${FROM_CLIPS} join projects p on p.id = c."projectId" left join setups t on t.id = c."setupId"
    where c.id in (:ids) and c."removedAt" is null`, { replacements: { ids }, type: QueryTypes.SELECT });
  return rows.map(rowOf);
}

function rowOf(row: Full): LineupRow {
  const { id, projectId, name, fileName, folder, state, error, linked, sourceState, hasStill, summary, sketch, setupId, sameAs, facts, roles } = row;
  const frameRate = facts?.frameRate ?? row.projectFrameRate;
  const channels = summary?.channels.length ?? 0;
  return {
    id, projectId, name, fileName, folder, state, error, linked, sourceState, hasStill, summary, sketch, setupId, sameAs,
    bytes: Number(row.bytes),
    channelNames: Array.from({ length: channels }, (_, c) => (row.rolesGiven ? roles?.[c] : null) ?? facts?.trackNames[c] ?? roles?.[c] ?? null),
    kept: row.kept && repairName(row.kept),
    handling: handlingOf(row),
    timecode: row.startSeconds ? (frameRate ? timecodeFromSeconds(row.startSeconds, frameRate) : clockTime(row.startSeconds)) : null,
    differs: summary !== null && row.usual !== null && soundOf(summary) !== row.usual,
  };
}

function clockTime(seconds: number): string {
  const two = (value: number): string => String(Math.floor(value)).padStart(2, '0');
  return `${two((seconds / 3600) % 24)}:${two((seconds / 60) % 60)}:${two(seconds % 60)}`;
}
