import { DataTypes, type QueryInterface } from 'sequelize';

export async function up(queries: QueryInterface): Promise<void> {
  const id = { type: DataTypes.UUID, primaryKey: true };
  const text = { type: DataTypes.TEXT, allowNull: false };
  const came = { type: DataTypes.DATE, allowNull: false };
  const references = (model: string, onDelete: 'CASCADE' | 'SET NULL') => ({
    type: DataTypes.UUID,
    allowNull: onDelete === 'SET NULL',
    references: { model, key: 'id' },
    onDelete,
  });
  await queries.createTable('edits', {
    id,
    projectId: references('projects', 'CASCADE'),
    name: text,
    text,
    createdAt: came,
    /** Another took its place; handoffs still point to it. */
    replacedAt: { type: DataTypes.DATE },
  });
  await queries.addIndex('edits', ['projectId', 'createdAt']);
  await queries.createTable('handoffs', {
    id,
    projectId: references('projects', 'CASCADE'),
    name: text,
    wanted: { type: DataTypes.JSONB, allowNull: false },
    folder: { type: DataTypes.TEXT },
    editId: references('edits', 'SET NULL'),
    state: text,
    said: { type: DataTypes.TEXT },
    edit: { type: DataTypes.JSONB },
    createdAt: came,
    finishedAt: { type: DataTypes.DATE },
  });
  await queries.addIndex('handoffs', ['projectId', 'createdAt']);
  await queries.createTable('handoff_files', {
    id,
    handoffId: references('handoffs', 'CASCADE'),
    clipId: references('clips', 'SET NULL'),
    /** The right of a recording whose left is `clipId`, where both go into one file. */
    partnerId: references('clips', 'SET NULL'),
    position: { type: DataTypes.INTEGER, allowNull: false },
    name: text,
    stem: text,
    paths: { type: DataTypes.JSONB, allowNull: false },
    repair: { type: DataTypes.JSONB },
    stretches: { type: DataTypes.JSONB },
    bytes: { type: DataTypes.BIGINT, allowNull: false },
    state: text,
    error: { type: DataTypes.TEXT },
    conform: { type: DataTypes.JSONB },
    proof: { type: DataTypes.TEXT },
    result: { type: DataTypes.JSONB },
  });
  await queries.addIndex('handoff_files', ['handoffId', 'position']);
  await queries.addIndex('handoff_files', ['clipId']);
}
