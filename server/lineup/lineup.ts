import { QueryTypes, type Sequelize } from 'sequelize';
import { arrange } from '@pocket-twin/core/lineup/arrange.ts';
import { lineupHead } from '@pocket-twin/core/lineup/lineupHead.ts';
import { standingOf } from '@pocket-twin/core/lineup/standing.ts';
import { repairName } from '@pocket-twin/core/repair/plan/describe.ts';
import { savedRepair } from '@pocket-twin/core/repair/plan/upgrade.ts';
import type { SourceState } from '@pocket-twin/core/schema/clip.ts';
import type { Sketch } from '@pocket-twin/core/schema/sketch.ts';
import type { ClipFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { FrameRate } from '@pocket-twin/core/time/frameRates.ts';
import type {
  Lineup,
  LineupEntry,
  LineupIndex,
  LineupQuery,
  LineupRow,
  LineupSummary,
} from '@pocket-twin/core/schema/lineup.ts';
import { channelNamesOf } from '@pocket-twin/core/setups/channelNamesOf.ts';
import { naturalOrder } from '@pocket-twin/core/setups/namePattern.ts';
import { timecodeFromSeconds } from '@pocket-twin/core/time/timecode.ts';
import { ClipPairRow } from '../setups/clipPair.ts';
import { readProjectEdit } from '../edits/useOfClips.ts';
import { ProjectRow } from '../projects/project.ts';
import { recipeNames } from '../recipes/recipe.ts';
import { historyOf } from '../history/projectHistory.ts';
import { SetupRow, setupOf } from '../setups/setup.ts';
import { FROM_CLIPS, READ_BACK_DIFFERS, STANDING_COLUMNS, standingFactsOf, type StandingColumns } from './standing.ts';

type EntryColumns = Omit<LineupEntry, 'standing' | 'suggestion' | 'kept' | 'lost' | 'wantsFrameRate' | 'cameAtMs'> &
  StandingColumns & {
    sourceState: SourceState;
    /** As it was kept. */
    keptRepair: unknown;
    ownFrameRate: boolean;
    createdAt: Date;
  };

const ENTRY_COLUMNS = `
  c.id, coalesce(c."displayName", c.name) as "clipName", c.name as "fileName", c.folder, c."setupId", c.error, c."sourceState", c."createdAt", s.repair as "keptRepair",
  x.side, x.headline, x.fact, x.cause, x."durationSeconds", jsonb_array_length(x.channels) as channels,
  (x.channels->0->>'loudnessLufs')::float8 as "leftLufs", (x.channels->1->>'loudnessLufs')::float8 as "rightLufs", x."balanceLu",
  (c.facts->>'startSamples')::float8 / nullif(x."sampleRate", 0) as "startSeconds",
  c.facts->'frameRate' is not null and c.facts->'frameRate' <> 'null'::jsonb as "ownFrameRate", ${STANDING_COLUMNS}`;

function entryOf(row: EntryColumns & { clipName: string }, projectFrameRate: FrameRate | null): LineupEntry {
  const { clipName, keptRepair, sourceState, createdAt, ownFrameRate, state, action, name, kept, verified, ...same } =
    row;
  const { startSeconds } = same;
  return {
    ...same,
    name: clipName,
    standing: standingOf(standingFactsOf({ state, action, name, kept, verified, severity: same.severity })),
    suggestion: name,
    kept: keptRepair === null ? null : repairName(savedRepair(keptRepair)),
    wantsFrameRate: projectFrameRate === null && startSeconds !== null && startSeconds > 0 && !ownFrameRate,
    lost: sourceState !== 'here',
    cameAtMs: createdAt.getTime(),
  };
}

/** All that a project's lineup is made from. null where there is no such project. */
export async function readLineupIndex(sequelize: Sequelize, projectId: string): Promise<LineupIndex | null> {
  const project = await ProjectRow.findByPk(projectId);
  if (!project) return null;
  const [rows, setupRows, history, recipes] = await Promise.all([
    sequelize.query<EntryColumns & { clipName: string }>(
      `select ${ENTRY_COLUMNS} ${FROM_CLIPS} where c."projectId" = :projectId and c."removedAt" is null`,
      { replacements: { projectId }, type: QueryTypes.SELECT },
    ),
    SetupRow.findAll({ where: { projectId } }),
    historyOf(projectId),
    recipeNames(),
  ]);
  const entries = rows.map((row) => entryOf(row, project.frameRate));
  const sizes = new Map<string | null, number>();
  for (const { setupId } of entries) sizes.set(setupId, (sizes.get(setupId) ?? 0) + 1);
  const setups = setupRows
    .map((row) => setupOf(row, sizes.get(row.id) ?? 0, project.intake, recipes))
    .sort((a, b) => naturalOrder(a.name, b.name));
  return {
    ...{ entries, setups, history },
    pairs: await pairsOf(projectId, entries),
    edit: await readProjectEdit(sequelize, projectId),
  };
}

/** The order of a project's clips for one way of looking at them. null where there is no such project. */
export async function readLineup(sequelize: Sequelize, projectId: string, query: LineupQuery): Promise<Lineup | null> {
  const index = await readLineupIndex(sequelize, projectId);
  if (!index) return null;
  const { entries, setups, pairs, edit } = index;
  return {
    head: lineupHead(entries, edit?.usedSeconds),
    total: entries.length,
    ...arrange(entries, setups, query, edit?.usedSeconds),
    setups,
    pairs,
    edit,
    withoutFrameRate: entries.filter(({ wantsFrameRate }) => wantsFrameRate).length,
  };
}

async function pairsOf(projectId: string, entries: LineupEntry[]): Promise<Lineup['pairs']> {
  const rows = await ClipPairRow.findAll({ where: { projectId } });
  const names = new Map(entries.map(({ id, name }) => [id, name]));
  return rows
    .filter(({ leftId, rightId }) => names.has(leftId) && names.has(rightId))
    .map(({ leftId, rightId, state }) => ({
      leftId,
      rightId,
      state,
      left: names.get(leftId)!,
      right: names.get(rightId)!,
    }));
}

interface RowColumns extends EntryColumns {
  clipName: string;
  projectId: string;
  bytes: string;
  linked: boolean;
  hasStill: boolean;
  summary: LineupSummary | null;
  sketch: Sketch | null;
  facts: ClipFacts | null;
  sameAs: string | null;
  roles: (string | null)[] | null;
  rolesGiven: boolean | null;
  projectFrameRate: FrameRate | null;
  readBackDiffers: boolean;
}

/** Rows by their ids; those that are gone are left out. */
export async function readRows(sequelize: Sequelize, ids: string[]): Promise<LineupRow[]> {
  if (ids.length === 0) return [];
  const rows = await sequelize.query<RowColumns>(
    `
    select ${ENTRY_COLUMNS}, ${READ_BACK_DIFFERS}, c."projectId", c.bytes, c.linked, c."hasStill", c.summary, c.sketch, c.facts, t.roles, t."rolesGiven", p."frameRate" as "projectFrameRate",
      (select coalesce(o."displayName", o.name) from clips o where o."projectId" = c."projectId" and o."contentHash" = c."contentHash" and o.id <> c.id and o."removedAt" is null
        order by o."createdAt", o.name limit 1) as "sameAs"
    ${FROM_CLIPS} join projects p on p.id = c."projectId" left join setups t on t.id = c."setupId"
    where c.id in (:ids) and c."removedAt" is null and p."removedAt" is null`,
    { replacements: { ids }, type: QueryTypes.SELECT },
  );
  return rows.map(rowOf);
}

function rowOf(row: RowColumns): LineupRow {
  const { projectId, state, linked, sourceState, hasStill, summary, sketch, sameAs, facts, readBackDiffers } = row;
  const frameRate = facts?.frameRate ?? row.projectFrameRate;
  return {
    ...entryOf(row, row.projectFrameRate),
    projectId,
    state,
    linked,
    sourceState,
    hasStill,
    summary,
    sketch,
    sameAs,
    readBackDiffers,
    bytes: Number(row.bytes),
    channelNames: channelNamesOf(row, facts, summary?.channels.length ?? 0),
    timecode: row.startSeconds
      ? frameRate
        ? timecodeFromSeconds(row.startSeconds, frameRate)
        : clockTime(row.startSeconds)
      : null,
  };
}

function clockTime(seconds: number): string {
  const two = (value: number): string => String(Math.floor(value)).padStart(2, '0');
  return `${two((seconds / 3600) % 24)}:${two((seconds / 60) % 60)}:${two(seconds % 60)}`;
}
