import { DataTypes, type QueryInterface } from 'sequelize';

const id = () => ({ type: DataTypes.UUID, primaryKey: true });
const text = () => ({ type: DataTypes.TEXT, allowNull: false });
const date = () => ({ type: DataTypes.DATE, allowNull: false });
const flag = () => ({ type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false });
const belongsTo = (model: string) => ({
  type: DataTypes.UUID,
  allowNull: false,
  references: { model, key: 'id' },
  onDelete: 'CASCADE',
});

export async function up(queries: QueryInterface): Promise<void> {
  await queries.addColumn('projects', 'archivedAt', { type: DataTypes.DATE });
  await queries.addColumn('projects', 'intake', { type: DataTypes.TEXT });
  await queries.addColumn('projects', 'frameRate', { type: DataTypes.JSONB });

  await queries.createTable('setups', {
    id: id(),
    projectId: belongsTo('projects'),
    name: text(),
    explanation: text(),
    verdict: DataTypes.TEXT,
    side: DataTypes.TEXT,
    differing: { type: DataTypes.INTEGER, allowNull: false, defaultValue: 0 },
    roles: { type: DataTypes.JSONB, allowNull: false },
    intake: text(),
    named: flag(),
    rolesGiven: flag(),
    intakeGiven: flag(),
    createdAt: date(),
  });
  await queries.addIndex('setups', ['projectId']);

  await queries.addColumn('clips', 'displayName', { type: DataTypes.TEXT });
  await queries.addColumn('clips', 'folder', { ...text(), defaultValue: '' });
  await queries.addColumn('clips', 'linked', flag());
  await queries.addColumn('clips', 'sourceModifiedMs', { type: DataTypes.BIGINT });
  await queries.addColumn('clips', 'sourceState', { ...text(), defaultValue: 'here' });
  await queries.addColumn('clips', 'contentHash', { type: DataTypes.TEXT });
  await queries.addColumn('clips', 'facts', { type: DataTypes.JSONB });
  await queries.addColumn('clips', 'summary', { type: DataTypes.JSONB });
  await queries.addColumn('clips', 'hasStill', flag());
  await queries.addColumn('clips', 'setupId', {
    type: DataTypes.UUID,
    references: { model: 'setups', key: 'id' },
    onDelete: 'SET NULL',
  });
  await queries.addColumn('clips', 'setupFixed', flag());
  await queries.addColumn('clips', 'removedAt', { type: DataTypes.DATE });
  await queries.addIndex('clips', ['projectId', 'contentHash']);
  await queries.addIndex('clips', ['setupId']);

  // What the new columns hold is found by measuring again.
  await queries.sequelize.query(`update clips set state = 'waiting' where state = 'ready'`);

  await queries.createTable('batches', {
    id: id(),
    projectId: belongsTo('projects'),
    label: text(),
    undone: flag(),
    createdAt: date(),
  });
  await queries.addColumn('repair_steps', 'batchId', {
    type: DataTypes.UUID,
    references: { model: 'batches', key: 'id' },
    onDelete: 'SET NULL',
  });
  await queries.addIndex('repair_steps', ['batchId']);

  await queries.createTable('clip_pairs', {
    leftId: { ...belongsTo('clips'), primaryKey: true },
    rightId: { ...belongsTo('clips'), primaryKey: true },
    projectId: belongsTo('projects'),
    state: text(),
  });
  await queries.addIndex('clip_pairs', ['projectId']);

  await queries.createTable('job_claims', {
    id: id(),
    queue: text(),
    workerKey: { type: DataTypes.INTEGER, allowNull: false },
  });
}
