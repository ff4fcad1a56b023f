import { DataTypes, Model, type InferAttributes, type InferCreationAttributes, type Sequelize } from 'sequelize';
import { idOfOther, text } from '../platform/database/columns.ts';
import type { PairProposal } from '@pocket-twin/core/schema/lineup.ts';

/** Two clips that were found to be the left and the right of one recording, and what a person said of it. */
export class ClipPairRow extends Model<InferAttributes<ClipPairRow>, InferCreationAttributes<ClipPairRow>> {
  declare leftId: string;
  declare rightId: string;
  declare projectId: string;
  declare state: PairProposal['state'];
}

export function initClipPair(sequelize: Sequelize): void {
  ClipPairRow.init(
    {
      leftId: { type: DataTypes.UUID, primaryKey: true },
      rightId: { type: DataTypes.UUID, primaryKey: true },
      projectId: idOfOther(),
      state: text(),
    },
    { sequelize, tableName: 'clip_pairs', timestamps: false },
  );
}
