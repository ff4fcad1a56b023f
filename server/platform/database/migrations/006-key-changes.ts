import { DataTypes, type QueryInterface } from 'sequelize';

export async function up(queries: QueryInterface): Promise<void> {
  await queries.createTable('key_changes', {
    screen: { type: DataTypes.TEXT, primaryKey: true },
    changes: { type: DataTypes.JSONB, allowNull: false },
  });
}
