import { DataTypes, Model } from 'sequelize';
import { cameAt, idOfOther, ownId, text } from '../platform/database/columns.ts';
import type { CreationOptional, InferAttributes, InferCreationAttributes, Sequelize } from 'sequelize';
import { repairColumn } from '../repairs/repairColumn.ts';
import { savedReceipt } from '@pocket-twin/core/repair/plan/upgrade.ts';
import type { Receipt } from '@pocket-twin/core/schema/receipt.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { Writing } from '@pocket-twin/core/schema/writing.ts';

export class WritingRow extends Model<InferAttributes<WritingRow>, InferCreationAttributes<WritingRow>> {
  declare id: CreationOptional<string>;
  declare clipId: string;
  declare projectId: string;
  declare repair: Repair;
  declare state: Writing['state'];
  declare error: CreationOptional<string | null>;
  declare receipt: CreationOptional<Receipt | null>;
  declare createdAt: CreationOptional<Date>;
}

export function initWriting(sequelize: Sequelize): void {
  WritingRow.init(
    {
      id: ownId(),
      clipId: idOfOther(),
      projectId: idOfOther(),
      repair: repairColumn(),
      state: text(),
      error: DataTypes.TEXT,
      receipt: {
        type: DataTypes.JSONB,
        get(): Receipt | null {
          const saved: unknown = this.getDataValue('receipt');
          return saved === null || saved === undefined ? (saved as null) : savedReceipt(saved);
        },
      },
      createdAt: cameAt(),
    },
    { sequelize, tableName: 'writings', timestamps: false },
  );
}

/** What was written of a clip, newest first. */
export async function listWritings(clipId: string): Promise<Writing[]> {
  return (await WritingRow.findAll({ where: { clipId }, order: [['createdAt', 'DESC']] })).map(writingOf);
}

export function writingOf(row: WritingRow): Writing {
  const { id, clipId, projectId, state, error, receipt } = row;
  return { id, clipId, projectId, state, error, receipt, createdAt: row.createdAt.toISOString() };
}
