import { DataTypes, Model } from 'sequelize';
import { cameAt, flag, idOfOther, ownId, text } from '../platform/database/columns.ts';
import type { CreationOptional, InferAttributes, InferCreationAttributes, Sequelize } from 'sequelize';
import type { Intake, Setup } from '@pocket-twin/core/schema/setup.ts';
import type { ClipVerdict, Side } from '@pocket-twin/core/schema/verdict.ts';

/** A setup with what is known of it. `named`, `touched`, `rolesGiven` and `intakeGiven` say what a person decided. */
export class SetupRow extends Model<InferAttributes<SetupRow>, InferCreationAttributes<SetupRow>> {
  declare id: CreationOptional<string>;
  declare projectId: string;
  declare name: string;
  declare explanation: CreationOptional<string>;
  declare verdict: CreationOptional<ClipVerdict | null>;
  declare side: CreationOptional<Side | null>;
  declare differing: CreationOptional<number>;
  declare roles: CreationOptional<(string | null)[]>;
  declare intake: CreationOptional<Intake>;
  declare named: CreationOptional<boolean>;
  /** A person moved clips into it or out of it. */
  declare touched: CreationOptional<boolean>;
  declare mixed: CreationOptional<boolean>;
  declare rolesGiven: CreationOptional<boolean>;
  declare intakeGiven: CreationOptional<boolean>;
  /** Given to the clips that come in with it. A recipe that was deleted is none. */
  declare recipeId: CreationOptional<string | null>;
  declare createdAt: CreationOptional<Date>;
}

export function initSetup(sequelize: Sequelize): void {
  SetupRow.init(
    {
      id: ownId(),
      projectId: idOfOther(),
      name: text(),
      explanation: { type: DataTypes.TEXT, allowNull: false, defaultValue: '' },
      verdict: DataTypes.TEXT,
      side: DataTypes.TEXT,
      differing: { type: DataTypes.INTEGER, allowNull: false, defaultValue: 0 },
      roles: { type: DataTypes.JSONB, allowNull: false, defaultValue: [] },
      intake: { type: DataTypes.TEXT, allowNull: false, defaultValue: 'stereo-pair' },
      named: flag(),
      touched: flag(),
      mixed: flag(),
      rolesGiven: flag(),
      intakeGiven: flag(),
      recipeId: DataTypes.UUID,
      createdAt: cameAt(),
    },
    { sequelize, tableName: 'setups', timestamps: false },
  );
}

/**
 * A setup as the interface has it.
 * @param projectIntake the rule for the whole project, where there is one
 * @param recipes the names of the saved recipes
 */
export function setupOf(
  row: SetupRow,
  clips: number,
  projectIntake: Intake | null,
  recipes: Map<string, string>,
): Setup {
  const { id, name, explanation, mixed, verdict, side, differing, roles } = row;
  const recipe = row.recipeId === null ? undefined : recipes.get(row.recipeId);
  return {
    id,
    name,
    explanation,
    clips,
    mixed,
    verdict,
    side,
    differing,
    roles,
    named: row.named || row.touched,
    intake: row.intakeGiven ? row.intake : (projectIntake ?? row.intake),
    intakeDecided: row.intakeGiven || projectIntake !== null,
    recipe: recipe === undefined ? null : { id: row.recipeId!, name: recipe },
  };
}
