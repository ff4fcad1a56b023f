import { DataTypes, Model } from 'sequelize';
import { cameAt, flag, idOfOther, ownId, text } from '../platform/database/columns.ts';
import type { CreationOptional, InferAttributes, InferCreationAttributes, Sequelize } from 'sequelize';
import type { Batch } from '@pocket-twin/core/schema/batch.ts';
import type { SetupsChange } from '../setups/setupsChange.ts';

/** Something done to a project in one go. The repair steps of kept suggestions name it; the others hold what changed. */
export class BatchRow extends Model<InferAttributes<BatchRow>, InferCreationAttributes<BatchRow>> {
  declare id: CreationOptional<string>;
  declare projectId: string;
  declare kind: 'suggestion' | 'removal' | 'setups';
  /** In words. */
  declare label: string;
  /** Clips that it changed. */
  declare clips: number;
  /** removal: the clips; setups: what was before and after. */
  declare change: CreationOptional<SetupsChange | { clipIds: string[] } | null>;
  declare undone: CreationOptional<boolean>;
  declare createdAt: CreationOptional<Date>;
}

export function initBatch(sequelize: Sequelize): void {
  BatchRow.init(
    {
      id: ownId(),
      projectId: idOfOther(),
      kind: text(),
      label: text(),
      clips: { type: DataTypes.INTEGER, allowNull: false },
      change: DataTypes.JSONB,
      undone: flag(),
      createdAt: cameAt(),
    },
    { sequelize, tableName: 'batches', timestamps: false },
  );
}

export function batchOf({ id, projectId, label, clips, undone }: BatchRow): Batch {
  return { id, projectId, label, clips, undone };
}
