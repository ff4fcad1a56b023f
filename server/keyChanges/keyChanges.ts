import { DataTypes, Model } from 'sequelize';
import type { InferAttributes, InferCreationAttributes, Sequelize } from 'sequelize';
import type { KeyChanges } from '@pocket-twin/core/schema/keyChanges.ts';

/** Which keys the person who works here has changed on a screen: a row a screen. */
export class KeyChangesRow extends Model<InferAttributes<KeyChangesRow>, InferCreationAttributes<KeyChangesRow>> {
  declare screen: keyof KeyChanges;
  declare changes: KeyChanges[keyof KeyChanges];
}

export function initKeyChanges(sequelize: Sequelize): void {
  KeyChangesRow.init(
    {
      screen: { type: DataTypes.TEXT, primaryKey: true },
      changes: { type: DataTypes.JSONB, allowNull: false },
    },
    { sequelize, tableName: 'key_changes', timestamps: false },
  );
}
