import { DataTypes, Model } from 'sequelize';
import { idOfOther, ownId, text } from '../platform/database/columns.ts';
import type { CreationOptional, InferAttributes, InferCreationAttributes, Sequelize } from 'sequelize';
import { repairName } from '@pocket-twin/core/repair/plan/describe.ts';
import { savedReceipt, savedRepair } from '@pocket-twin/core/repair/plan/upgrade.ts';
import type { ConformLine, HandoffFile, HandoffFileState } from '@pocket-twin/core/schema/handoff.ts';
import type { HandedOffRecording } from '@pocket-twin/core/schema/handedOffRecording.ts';
import type { HandoffRecord } from '@pocket-twin/core/schema/handoffRecord.ts';
import type { Receipt } from '@pocket-twin/core/schema/receipt.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { SecondsSpan } from '@pocket-twin/core/time/spans.ts';

/** What came of a clip's files. */
export interface HandoffResult {
  receipt: Receipt;
  files: HandoffRecord['files'];
  /** Which stretch of the recording went into which files; null where an earlier version wrote them. */
  recording: HandedOffRecording | null;
  /** The right of it, where both are in one file. */
  also: HandedOffRecording[];
}

/** One clip of a handoff: what is done to it, where its files go, and what came of it. */
export class HandoffFileRow extends Model<InferAttributes<HandoffFileRow>, InferCreationAttributes<HandoffFileRow>> {
  declare id: CreationOptional<string>;
  declare handoffId: string;
  declare clipId: string | null;
  /** The right of a recording whose left is the clip: both go into one file. */
  declare partnerId: CreationOptional<string | null>;
  declare position: number;
  /** What the clip was called. */
  declare name: string;
  /** Where its files go within the folder, without suffix and ending. */
  declare stem: string;
  /** Its files: as planned, then as they are. */
  declare paths: string[];
  /** null leaves it as it is. */
  declare repair: Repair | null;
  /** Only these stretches; null is all of it. */
  declare stretches: CreationOptional<SecondsSpan[] | null>;
  /** What they take at most. */
  declare bytes: number;
  declare state: HandoffFileState;
  declare error: CreationOptional<string | null>;
  /** Old against new, of the first file. */
  declare conform: CreationOptional<ConformLine[] | null>;
  /** What was proven, in words. */
  declare proof: CreationOptional<string | null>;
  /** Large: asked for where the folder is completed, and nowhere else. */
  declare result: CreationOptional<HandoffResult | null>;
}

export function initHandoffFile(sequelize: Sequelize): void {
  HandoffFileRow.init(
    {
      id: ownId(),
      handoffId: idOfOther(),
      clipId: DataTypes.UUID,
      partnerId: DataTypes.UUID,
      position: { type: DataTypes.INTEGER, allowNull: false },
      name: text(),
      stem: text(),
      paths: { type: DataTypes.JSONB, allowNull: false },
      repair: {
        type: DataTypes.JSONB,
        get(): Repair | null {
          const saved: unknown = this.getDataValue('repair');
          return saved ? savedRepair(saved) : null;
        },
      },
      stretches: DataTypes.JSONB,
      bytes: {
        type: DataTypes.BIGINT,
        allowNull: false,
        // BIGINT comes as text.
        get(this: HandoffFileRow) {
          return Number(this.getDataValue('bytes'));
        },
      },
      state: text(),
      error: DataTypes.TEXT,
      conform: DataTypes.JSONB,
      proof: DataTypes.TEXT,
      result: {
        type: DataTypes.JSONB,
        get(): HandoffResult | null {
          const saved = this.getDataValue('result') as HandoffResult | null | undefined;
          if (!saved) return null;
          const { receipt, files, recording = null, also = [] } = saved;
          return { files, recording, also, receipt: savedReceipt(receipt) };
        },
      },
    },
    {
      sequelize,
      tableName: 'handoff_files',
      timestamps: false,
      defaultScope: { attributes: { exclude: ['result'] } },
      scopes: { withResult: {} },
    },
  );
}

/** What is done to a clip, in words. */
export function whatIsDone(repair: Repair | null, partnerId: string | null): string {
  if (partnerId !== null) return 'Left and right as one';
  return repair === null ? 'As it is' : repairName(repair);
}

export function handoffFileOf(row: HandoffFileRow): HandoffFile {
  const { id, clipId, name, repair, state, error, paths } = row;
  return {
    ...{ id, clipId, name, state, paths },
    error: error ?? null,
    what: whatIsDone(repair, row.partnerId ?? null),
    conform: row.conform ?? [],
    proof: row.proof ?? null,
  };
}
