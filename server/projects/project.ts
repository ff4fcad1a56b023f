import { DataTypes, Model, QueryTypes } from 'sequelize';
import { cameAt, ownId, text } from '../platform/database/columns.ts';
import type { CreationOptional, InferAttributes, InferCreationAttributes, Sequelize, Transaction } from 'sequelize';
import { playsWrong, standingOf } from '@pocket-twin/core/lineup/standing.ts';
import type { FrameRate } from '@pocket-twin/core/time/frameRates.ts';
import { Project } from '@pocket-twin/core/schema/project.ts';
import { Standing } from '@pocket-twin/core/schema/lineup.ts';
import type { Intake } from '@pocket-twin/core/schema/setup.ts';
import type { ClipVerdict } from '@pocket-twin/core/schema/verdict.ts';
import { FROM_CLIPS, STANDING_COLUMNS, standingFactsOf, type StandingColumns } from '../lineup/standing.ts';

export class ProjectRow extends Model<InferAttributes<ProjectRow>, InferCreationAttributes<ProjectRow>> {
  declare id: CreationOptional<string>;
  declare name: string;
  declare archivedAt: CreationOptional<Date | null>;
  declare intake: CreationOptional<Intake | null>;
  declare frameRate: CreationOptional<FrameRate | null>;
  /** Until it is forgotten it can be put back. */
  declare removedAt: CreationOptional<Date | null>;
  declare createdAt: CreationOptional<Date>;
}

export function initProject(sequelize: Sequelize): void {
  ProjectRow.init(
    {
      id: ownId(),
      name: text(),
      archivedAt: DataTypes.DATE,
      intake: DataTypes.TEXT,
      frameRate: DataTypes.JSONB,
      removedAt: DataTypes.DATE,
      createdAt: cameAt(),
    },
    { sequelize, tableName: 'projects', timestamps: false, defaultScope: { where: { removedAt: null } } },
  );
}

/**
 * One change at a time to a project's setups and history. Rows that only name the project (a new clip, a writing) do not wait for it: those who hold a
 * clip while they write such a row would wait for each other with those who hold the project and want the clip. null where there is no such project.
 */
export function lockProject(projectId: string, transaction: Transaction): Promise<ProjectRow | null> {
  return ProjectRow.findByPk(projectId, { transaction, lock: transaction.LOCK.NO_KEY_UPDATE });
}

const PROJECTS = `
  select p.id, p.name, p."createdAt", p."archivedAt" is not null as archived, p.intake, p."frameRate",
    greatest(p."createdAt",
      (select max(c."createdAt") from clips c where c."projectId" = p.id and c."removedAt" is null),
      (select max(s."createdAt") from repair_steps s join clips c on c.id = s."clipId" where c."projectId" = p.id)) as "lastWorkedAt"
  from projects p where p."removedAt" is null and (cast(:id as uuid) is null or p.id = :id) order by p."createdAt"`;

// Clips that are alike in all that counts, with how many there are.
const COUNTED = `
  select "projectId", state, severity, verdict, action, name, kept, verified, count(*)::int as clips from (
    select c."projectId", ${STANDING_COLUMNS} ${FROM_CLIPS} where c."removedAt" is null and (cast(:id as uuid) is null or c."projectId" = :id)) c
  group by 1, 2, 3, 4, 5, 6, 7, 8`;

interface Counted extends StandingColumns {
  projectId: string;
  verdict: ClipVerdict | null;
  clips: number;
}

/** Projects with their counts; one, where an id is given. */
export async function listProjects(sequelize: Sequelize, id: string | null = null): Promise<Project[]> {
  const [rows, counted] = await Promise.all([
    sequelize.query<
      Omit<Project, 'clips' | 'standings' | 'wrong' | 'verdicts'> & { createdAt: unknown; lastWorkedAt: unknown }
    >(PROJECTS, { replacements: { id }, type: QueryTypes.SELECT }),
    sequelize.query<Counted>(COUNTED, { replacements: { id }, type: QueryTypes.SELECT }),
  ]);
  return rows.map((row) =>
    Project.parse({
      ...row,
      ...countsOf(counted.filter(({ projectId }) => projectId === row.id)),
      createdAt: new Date(row.createdAt).toISOString(),
      lastWorkedAt: new Date(row.lastWorkedAt).toISOString(),
    }),
  );
}

function countsOf(counted: Counted[]): Pick<Project, 'clips' | 'standings' | 'wrong' | 'verdicts'> {
  const standings = Object.fromEntries(Standing.options.map((standing) => [standing, 0])) as Project['standings'];
  const verdicts: Project['verdicts'] = {};
  let [clips, wrong] = [0, 0];
  for (const row of counted) {
    const standing = standingOf(standingFactsOf(row));
    clips += row.clips;
    standings[standing] += row.clips;
    if (playsWrong({ standing, severity: row.severity })) wrong += row.clips;
    if (row.verdict && standing !== 'measuring') verdicts[row.verdict] = (verdicts[row.verdict] ?? 0) + row.clips;
  }
  return { clips, standings, wrong, verdicts };
}
