import { DataTypes, type QueryInterface } from 'sequelize';

export async function up(queries: QueryInterface): Promise<void> {
  await queries.createTable('recipes', {
    id: { type: DataTypes.UUID, primaryKey: true },
    recipe: { type: DataTypes.JSONB, allowNull: false },
    createdAt: { type: DataTypes.DATE, allowNull: false },
  });
}
