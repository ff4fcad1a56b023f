import { DataTypes, Model } from 'sequelize';
import { cameAt, idOfOther, ownId } from '../platform/database/columns.ts';
import type { CreationOptional, InferAttributes, InferCreationAttributes, Sequelize } from 'sequelize';
import { repairColumn } from './repairColumn.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';

/** One of the repairs a clip was given, first to last: undo and redo walk along them. */
export class RepairStepRow extends Model<InferAttributes<RepairStepRow>, InferCreationAttributes<RepairStepRow>> {
  declare id: CreationOptional<string>;
  declare clipId: string;
  /** From 1. */
  declare position: number;
  declare repair: Repair;
  /** Kept together with others in one go. */
  declare batchId: CreationOptional<string | null>;
  declare createdAt: CreationOptional<Date>;
}

export function initRepairStep(sequelize: Sequelize): void {
  RepairStepRow.init(
    {
      id: ownId(),
      clipId: idOfOther(),
      position: { type: DataTypes.INTEGER, allowNull: false },
      batchId: DataTypes.UUID,
      repair: repairColumn(),
      createdAt: cameAt(),
    },
    { sequelize, tableName: 'repair_steps', timestamps: false },
  );
}
