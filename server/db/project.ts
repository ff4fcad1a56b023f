import { DataTypes, Model, QueryTypes, type CreationOptional, type InferAttributes, type InferCreationAttributes, type Sequelize } from 'sequelize';
import { Project } from '@pocket-twin/core/schema/project.ts';

export class ProjectRow extends Model<InferAttributes<ProjectRow>, InferCreationAttributes<ProjectRow>> {
  declare id: CreationOptional<string>;
  declare name: string;
  declare createdAt: CreationOptional<Date>;
}

export function initProject(sequelize: Sequelize): void {
  ProjectRow.init({
    id: { type: DataTypes.UUID, primaryKey: true, defaultValue: DataTypes.UUIDV4 },
    name: { type: DataTypes.TEXT, allowNull: false },
    createdAt: { type: DataTypes.DATE, allowNull: false, defaultValue: DataTypes.NOW },
  }, { sequelize, tableName: 'projects', timestamps: false });
}

// A clip counts once, by its most pressing finding.
const COUNTED = `
  select p.id, p.name, p."createdAt", count(c.id)::int as clips,
    count(*) filter (where c.state in ('waiting', 'reading'))::int as open,
    count(*) filter (where c.inspection @? '$.findings[*] ? (@.severity == "fix")')::int as "toFix",
    count(*) filter (where c.inspection @? '$.findings[*] ? (@.severity == "look")'
      and not c.inspection @? '$.findings[*] ? (@.severity == "fix")')::int as "toLook"
  from projects p left join clips c on c."projectId" = p.id
  where cast(:id as uuid) is null or p.id = :id
  group by p.id order by p."createdAt"`;

/** Projects with their counts; one, where an id is given. */
export async function listProjects(sequelize: Sequelize, id: string | null = null): Promise<Project[]> {
  const rows = await sequelize.query<Project & { createdAt: unknown }>(COUNTED, { replacements: { id }, type: QueryTypes.SELECT });
  return rows.map((row) => Project.parse({ ...row, createdAt: new Date(row.createdAt).toISOString() }));
}
