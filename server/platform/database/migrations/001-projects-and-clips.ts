import { DataTypes, type QueryInterface } from 'sequelize';

const id = { type: DataTypes.UUID, primaryKey: true };
const required = (
  type:
    | typeof DataTypes.TEXT
    | typeof DataTypes.JSONB
    | typeof DataTypes.INTEGER
    | typeof DataTypes.BIGINT
    | typeof DataTypes.DATE,
) => ({ type, allowNull: false });
const references = (model: string) => ({
  type: DataTypes.UUID,
  allowNull: false,
  references: { model, key: 'id' },
  onDelete: 'CASCADE',
});

export async function up(queries: QueryInterface): Promise<void> {
  await queries.createTable('projects', { id, name: required(DataTypes.TEXT), createdAt: required(DataTypes.DATE) });
  await queries.createTable('clips', {
    id,
    projectId: references('projects'),
    name: required(DataTypes.TEXT),
    bytes: required(DataTypes.BIGINT),
    sourcePath: required(DataTypes.TEXT),
    state: required(DataTypes.TEXT),
    error: DataTypes.TEXT,
    inspection: DataTypes.JSONB,
    pcm: DataTypes.JSONB,
    sketch: DataTypes.JSONB,
    stepsKept: { ...required(DataTypes.INTEGER), defaultValue: 0 },
    createdAt: required(DataTypes.DATE),
  });
  await queries.addIndex('clips', ['projectId', 'createdAt']);
  await queries.createTable('repair_steps', {
    id,
    clipId: references('clips'),
    position: required(DataTypes.INTEGER),
    repair: required(DataTypes.JSONB),
    createdAt: required(DataTypes.DATE),
  });
  await queries.addIndex('repair_steps', ['clipId', 'position'], { unique: true });
  await queries.createTable('writings', {
    id,
    clipId: references('clips'),
    projectId: references('projects'),
    repair: required(DataTypes.JSONB),
    state: required(DataTypes.TEXT),
    error: DataTypes.TEXT,
    receipt: DataTypes.JSONB,
    createdAt: required(DataTypes.DATE),
  });
  await queries.addIndex('writings', ['clipId', 'createdAt']);
}
