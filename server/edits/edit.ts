import { DataTypes, Model } from 'sequelize';
import { cameAt, idOfOther, ownId, text } from '../platform/database/columns.ts';
import type { CreationOptional, InferAttributes, InferCreationAttributes, Sequelize } from 'sequelize';

/** An edit as it was given. The newest of a project that nothing replaced is its edit. */
export class EditRow extends Model<InferAttributes<EditRow>, InferCreationAttributes<EditRow>> {
  declare id: CreationOptional<string>;
  declare projectId: string;
  declare name: string;
  declare text: string;
  declare createdAt: CreationOptional<Date>;
  declare replacedAt: CreationOptional<Date | null>;
}

export function initEdit(sequelize: Sequelize): void {
  EditRow.init(
    {
      id: ownId(),
      projectId: idOfOther(),
      name: text(),
      text: text(),
      createdAt: cameAt(),
      replacedAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'edits', timestamps: false },
  );
}

/** null where the project has none. */
export function editOf(projectId: string): Promise<EditRow | null> {
  return EditRow.findOne({ where: { projectId, replacedAt: null }, order: [['createdAt', 'DESC']] });
}
