import { DataTypes, Model, type CreationOptional, type InferAttributes, type InferCreationAttributes, type Sequelize } from 'sequelize';

/** Something done to many clips at once. Its repair steps name it. */
export class BatchRow extends Model<InferAttributes<BatchRow>, InferCreationAttributes<BatchRow>> {
  declare id: CreationOptional<string>;
  declare projectId: string;
  declare label: string;
  declare undone: CreationOptional<boolean>;
  declare createdAt: CreationOptional<Date>;
}

export function initBatch(sequelize: Sequelize): void {
  BatchRow.init({
    id: { type: DataTypes.UUID, primaryKey: true, defaultValue: DataTypes.UUIDV4 },
    projectId: { type: DataTypes.UUID, allowNull: false },
    label: { type: DataTypes.TEXT, allowNull: false },
    undone: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
    createdAt: { type: DataTypes.DATE, allowNull: false, defaultValue: DataTypes.NOW },
  }, { sequelize, tableName: 'batches', timestamps: false });
}
