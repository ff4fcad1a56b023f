import { DataTypes, type QueryInterface } from 'sequelize';

export async function up(queries: QueryInterface): Promise<void> {
  await queries.addColumn('setups', 'recipeId', { type: DataTypes.UUID });
}
