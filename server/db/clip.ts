import { DataTypes, Model, type CreationOptional, type InferAttributes, type InferCreationAttributes, type Sequelize } from 'sequelize';
import type { Clip, ClipState, Sketch } from '@pocket-twin/core/schema/clip.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import { RepairStepRow } from './repairStep.ts';

export class ClipRow extends Model<InferAttributes<ClipRow>, InferCreationAttributes<ClipRow>> {
  declare id: CreationOptional<string>;
  declare projectId: string;
  declare name: string;
  declare bytes: number;
  declare sourcePath: string;
  declare state: ClipState;
  declare error: CreationOptional<string | null>;
  declare inspection: CreationOptional<Inspection | null>;
  declare pcm: CreationOptional<PcmLocation | null>;
  declare sketch: CreationOptional<Sketch | null>;
  /** How many of the clip's repair steps are in force; the rest can be redone. */
  declare stepsKept: CreationOptional<number>;
  declare createdAt: CreationOptional<Date>;
}

export function initClip(sequelize: Sequelize): void {
  ClipRow.init({
    id: { type: DataTypes.UUID, primaryKey: true, defaultValue: DataTypes.UUIDV4 },
    projectId: { type: DataTypes.UUID, allowNull: false },
    name: { type: DataTypes.TEXT, allowNull: false },
    bytes: {
      type: DataTypes.BIGINT,
      allowNull: false,
      get(this: ClipRow) { return Number(this.getDataValue('bytes')); },
    },
    sourcePath: { type: DataTypes.TEXT, allowNull: false },
    state: { type: DataTypes.TEXT, allowNull: false },
    error: DataTypes.TEXT,
    inspection: DataTypes.JSONB,
    pcm: DataTypes.JSONB,
    sketch: DataTypes.JSONB,
    stepsKept: { type: DataTypes.INTEGER, allowNull: false, defaultValue: 0 },
    createdAt: { type: DataTypes.DATE, allowNull: false, defaultValue: DataTypes.NOW },
  }, { sequelize, tableName: 'clips', timestamps: false });
}

/** Clips as the interface has them, in the order they came. */
export async function listClips(projectId: string): Promise<Clip[]> {
  const rows = await ClipRow.findAll({ where: { projectId }, order: [['createdAt', 'ASC'], ['name', 'ASC']] });
  return clipsOf(rows);
}

export async function findClip(id: string): Promise<Clip | null> {
  const row = await ClipRow.findByPk(id);
  return row ? (await clipsOf([row]))[0] : null;
}

async function clipsOf(rows: ClipRow[]): Promise<Clip[]> {
  const steps = await RepairStepRow.findAll({ where: { clipId: rows.map((row) => row.id) }, order: [['position', 'ASC']] });
  return rows.map((row) => {
    const mine = steps.filter((step) => step.clipId === row.id);
    return {
      id: row.id,
      projectId: row.projectId,
      name: row.name,
      bytes: row.bytes,
      state: row.state,
      error: row.error,
      inspection: row.inspection,
      sketch: row.sketch,
      repair: row.stepsKept > 0 ? mine[row.stepsKept - 1].repair : null,
      canUndo: row.stepsKept > 0,
      canRedo: row.stepsKept < mine.length,
      createdAt: row.createdAt.toISOString(),
    };
  });
}
