import { DataTypes } from 'sequelize';
import { savedRepair } from '@pocket-twin/core/repair/plan/upgrade.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';

/** A column that holds a repair: read through what earlier versions saved. A new object each, as the other columns. */
export const repairColumn = () => ({
  type: DataTypes.JSONB,
  allowNull: false,
  get(this: { getDataValue(key: 'repair'): unknown }): Repair {
    const saved = this.getDataValue('repair');
    // Not asked for, there is nothing to read.
    return saved === undefined ? (saved as never) : savedRepair(saved);
  },
});
