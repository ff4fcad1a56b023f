import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize';
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
  declare createdAt: CreationOptional<Date>;
}

export function initSetup(sequelize: Sequelize): void {
  // A new object each: Sequelize writes the column's name into it.
  const flag = () => ({ type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false });
  SetupRow.init(
    {
      id: { type: DataTypes.UUID, primaryKey: true, defaultValue: DataTypes.UUIDV4 },
      projectId: { type: DataTypes.UUID, allowNull: false },
      name: { type: DataTypes.TEXT, allowNull: false },
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
      createdAt: { type: DataTypes.DATE, allowNull: false, defaultValue: DataTypes.NOW },
    },
    { sequelize, tableName: 'setups', timestamps: false },
  );
}

/** A setup as the interface has it. @param projectIntake the rule for the whole project, where there is one */
export function setupOf(row: SetupRow, clips: number, projectIntake: Intake | null): Setup {
  const { id, name, explanation, mixed, verdict, side, differing, roles } = row;
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
  };
}
