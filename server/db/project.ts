import { DataTypes, Model, QueryTypes, type CreationOptional, type InferAttributes, type InferCreationAttributes, type Sequelize } from 'sequelize';
import type { FrameRate } from '@pocket-twin/core/schema/clipFacts.ts';
import { Project } from '@pocket-twin/core/schema/project.ts';
import type { Intake } from '@pocket-twin/core/schema/setup.ts';

export class ProjectRow extends Model<InferAttributes<ProjectRow>, InferCreationAttributes<ProjectRow>> {
  declare id: CreationOptional<string>;
  declare name: string;
  declare archivedAt: CreationOptional<Date | null>;
  declare intake: CreationOptional<Intake | null>;
  declare frameRate: CreationOptional<FrameRate | null>;
  declare createdAt: CreationOptional<Date>;
}

export function initProject(sequelize: Sequelize): void {
  ProjectRow.init({
    id: { type: DataTypes.UUID, primaryKey: true, defaultValue: DataTypes.UUIDV4 },
    name: { type: DataTypes.TEXT, allowNull: false },
    archivedAt: DataTypes.DATE,
    intake: DataTypes.TEXT,
    frameRate: DataTypes.JSONB,
    createdAt: { type: DataTypes.DATE, allowNull: false, defaultValue: DataTypes.NOW },
  }, { sequelize, tableName: 'projects', timestamps: false });
}

// A clip counts once, by its most pressing finding.
const COUNTED = `
  select p.id, p.name, p."createdAt", p."archivedAt" is not null as archived, p.intake, p."frameRate", count(c.id)::int as clips,
    count(*) filter (where c.state in ('waiting', 'reading'))::int as open,
    count(*) filter (where c.state = 'failed')::int as failed,
    count(*) filter (where c.summary->>'severity' = 'fix')::int as "toFix",
    count(*) filter (where c.summary->>'severity' = 'look')::int as "toLook",
    count(*) filter (where c.summary->>'severity' in ('fix', 'look') and c."stepsKept" = 0)::int as "left",
    coalesce((select jsonb_object_agg(v.verdict, v.n) from (
      select d.summary->>'verdict' as verdict, count(*) as n from clips d where d."projectId" = p.id and d."removedAt" is null and d.summary is not null group by 1) v), '{}'::jsonb) as verdicts
  from projects p left join clips c on c."projectId" = p.id and c."removedAt" is null
  where cast(:id as uuid) is null or p.id = :id
  group by p.id order by p."createdAt"`;

/** Projects with their counts; one, where an id is given. */
export async function listProjects(sequelize: Sequelize, id: string | null = null): Promise<Project[]> {
  const rows = await sequelize.query<Project & { createdAt: unknown }>(COUNTED, { replacements: { id }, type: QueryTypes.SELECT });
  return rows.map((row) => Project.parse({ ...row, createdAt: new Date(row.createdAt).toISOString() }));
}
