import { DataTypes } from 'sequelize';

// Columns that many tables have. A new object each: Sequelize writes the column's name into it.

/** What a row is called everywhere. */
export const ownId = () => ({ type: DataTypes.UUID, primaryKey: true, defaultValue: DataTypes.UUIDV4 });

/** Another row's id. */
export const idOfOther = () => ({ type: DataTypes.UUID, allowNull: false });

export const text = () => ({ type: DataTypes.TEXT, allowNull: false });

export const flag = () => ({ type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false });

/** When the row came. */
export const cameAt = () => ({ type: DataTypes.DATE, allowNull: false, defaultValue: DataTypes.NOW });
