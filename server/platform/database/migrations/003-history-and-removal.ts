import { DataTypes, type QueryInterface } from 'sequelize';

export async function up(queries: QueryInterface): Promise<void> {
  const flag = () => ({ type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false });
  // What a person moved belongs to its setup, not to single clips: of a setup that was touched nothing leaves by itself.
  await queries.addColumn('setups', 'touched', flag());
  await queries.addColumn('setups', 'mixed', flag());
  await queries.sequelize.query(
    'update setups t set touched = true where exists (select 1 from clips c where c."setupId" = t.id and c."setupFixed")',
  );
  await queries.removeColumn('clips', 'setupFixed');

  // Anything that is done to many clips or to setups can be taken back, with what it needs for that.
  await queries.addColumn('batches', 'kind', { type: DataTypes.TEXT, allowNull: false, defaultValue: 'suggestion' });
  await queries.addColumn('batches', 'clips', { type: DataTypes.INTEGER, allowNull: false, defaultValue: 0 });
  await queries.addColumn('batches', 'change', { type: DataTypes.JSONB });
  await queries.addIndex('batches', ['projectId', 'createdAt']);

  await queries.addColumn('projects', 'removedAt', { type: DataTypes.DATE });
}
