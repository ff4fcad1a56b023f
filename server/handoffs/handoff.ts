import { DataTypes, Model, QueryTypes } from 'sequelize';
import { cameAt, idOfOther, ownId, text } from '../platform/database/columns.ts';
import type { CreationOptional, InferAttributes, InferCreationAttributes, Sequelize, Transaction } from 'sequelize';
import {
  type EditLinked,
  type Handoff,
  type HandoffDetail,
  HandoffFileState,
  type HandoffState,
  HandoffWanted,
} from '@pocket-twin/core/schema/handoff.ts';
import { handoffFileOf, HandoffFileRow } from './handoffFile.ts';

export class HandoffRow extends Model<InferAttributes<HandoffRow>, InferCreationAttributes<HandoffRow>> {
  declare id: CreationOptional<string>;
  declare projectId: string;
  declare name: string;
  declare wanted: HandoffWanted;
  /** null where it is fetched as an archive. */
  declare folder: string | null;
  declare editId: CreationOptional<string | null>;
  declare state: HandoffState;
  declare said: CreationOptional<string | null>;
  declare edit: CreationOptional<EditLinked | null>;
  declare createdAt: CreationOptional<Date>;
  declare finishedAt: CreationOptional<Date | null>;
}

export function initHandoff(sequelize: Sequelize): void {
  HandoffRow.init(
    {
      id: ownId(),
      projectId: idOfOther(),
      name: text(),
      wanted: {
        type: DataTypes.JSONB,
        allowNull: false,
        get(): HandoffWanted {
          const saved = this.getDataValue('wanted') as HandoffWanted | undefined;
          // Not asked for, there is nothing to read.
          return saved === undefined ? (saved as never) : HandoffWanted.parse(saved);
        },
      },
      folder: DataTypes.TEXT,
      editId: DataTypes.UUID,
      state: text(),
      said: DataTypes.TEXT,
      edit: DataTypes.JSONB,
      createdAt: cameAt(),
      finishedAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'handoffs', timestamps: false },
  );
}

/** @param by whose: handoffs of a project, or by their ids */
export async function handoffsBy(
  sequelize: Sequelize,
  by: { projectId: string } | { id: string[] },
  transaction?: Transaction,
): Promise<Handoff[]> {
  const rows = await HandoffRow.findAll({ where: by, order: [['createdAt', 'DESC']], transaction });
  if (rows.length === 0) return [];
  const counted = await sequelize.query<{ handoffId: string; state: HandoffFileState; files: number }>(
    'select "handoffId", state, count(*)::int as files from handoff_files where "handoffId" in (:ids) group by 1, 2',
    { replacements: { ids: rows.map(({ id }) => id) }, type: QueryTypes.SELECT, transaction },
  );
  return rows.map((row) => {
    const { id, projectId, name, wanted, folder, state, said } = row;
    const files = Object.fromEntries(HandoffFileState.options.map((one) => [one, 0])) as Handoff['files'];
    for (const one of counted) if (one.handoffId === id) files[one.state] = one.files;
    return {
      ...{ id, projectId, name, wanted, folder, state, said, files, edit: row.edit ?? null },
      createdAt: row.createdAt.toISOString(),
      finishedAt: row.finishedAt?.toISOString() ?? null,
    };
  });
}

export async function handoffDetail(sequelize: Sequelize, id: string): Promise<HandoffDetail | null> {
  const [handoff] = await handoffsBy(sequelize, { id: [id] });
  if (!handoff) return null;
  const files = await HandoffFileRow.findAll({ where: { handoffId: id }, order: [['position', 'ASC']] });
  return { ...handoff, list: files.map(handoffFileOf) };
}
