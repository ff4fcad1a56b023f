import { DataTypes, Model } from 'sequelize';
import { cameAt, flag, idOfOther, ownId, text } from '../platform/database/columns.ts';
import type { CreationOptional, InferAttributes, InferCreationAttributes, Sequelize } from 'sequelize';
import type { Clip, ClipState, SourceState } from '@pocket-twin/core/schema/clip.ts';
import type { Sketch } from '@pocket-twin/core/schema/sketch.ts';
import type { ClipFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { JoinedFrom } from '@pocket-twin/core/schema/joining.ts';
import { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import type { LineupSummary } from '@pocket-twin/core/schema/lineup.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import { RepairStepRow } from '../repairs/repairStep.ts';

export class ClipRow extends Model<InferAttributes<ClipRow>, InferCreationAttributes<ClipRow>> {
  declare id: CreationOptional<string>;
  declare projectId: string;
  /** The file's own name. */
  declare fileName: string;
  /** What a person calls it instead. */
  declare displayName: CreationOptional<string | null>;
  /** The folder it came in, from what was dropped or chosen. */
  declare folder: CreationOptional<string>;
  declare bytes: number;
  declare sourcePath: string;
  /** The file stays where it was found: not ours to move or remove. */
  declare linked: CreationOptional<boolean>;
  declare sourceModifiedMs: CreationOptional<number | null>;
  declare sourceState: CreationOptional<SourceState>;
  declare contentHash: CreationOptional<string | null>;
  declare state: ClipState;
  declare error: CreationOptional<string | null>;
  declare inspection: CreationOptional<Inspection | null>;
  declare facts: CreationOptional<ClipFacts | null>;
  declare summary: CreationOptional<LineupSummary | null>;
  declare pcm: CreationOptional<PcmLocation | null>;
  declare sketch: CreationOptional<Sketch | null>;
  declare hasStill: CreationOptional<boolean>;
  declare setupId: CreationOptional<string | null>;
  /** Of a clip that was made of others. */
  declare joinedFrom: CreationOptional<JoinedFrom | null>;
  /** How many of the clip's repair steps are in force; the rest can be redone. */
  declare stepsKept: CreationOptional<number>;
  declare removedAt: CreationOptional<Date | null>;
  declare createdAt: CreationOptional<Date>;
}

function wholeNumber(column: 'bytes' | 'sourceModifiedMs') {
  return {
    type: DataTypes.BIGINT,
    // BIGINT comes as text.
    get(this: ClipRow) {
      const value = this.getDataValue(column);
      return value === null ? null : Number(value);
    },
  };
}

export function initClip(sequelize: Sequelize): void {
  ClipRow.init(
    {
      id: ownId(),
      projectId: idOfOther(),
      fileName: { ...text(), field: 'name' },
      displayName: DataTypes.TEXT,
      folder: { type: DataTypes.TEXT, allowNull: false, defaultValue: '' },
      bytes: { ...wholeNumber('bytes'), allowNull: false },
      sourcePath: text(),
      linked: flag(),
      sourceModifiedMs: wholeNumber('sourceModifiedMs'),
      sourceState: { type: DataTypes.TEXT, allowNull: false, defaultValue: 'here' },
      contentHash: DataTypes.TEXT,
      state: text(),
      error: DataTypes.TEXT,
      inspection: {
        type: DataTypes.JSONB,
        // Measured by an earlier version it lacks what this one tells.
        get(this: ClipRow): Inspection | null {
          const saved = this.getDataValue('inspection');
          return saved ? Inspection.parse(saved) : saved;
        },
      },
      facts: DataTypes.JSONB,
      summary: DataTypes.JSONB,
      pcm: DataTypes.JSONB,
      sketch: DataTypes.JSONB,
      hasStill: flag(),
      setupId: DataTypes.UUID,
      joinedFrom: DataTypes.JSONB,
      stepsKept: { type: DataTypes.INTEGER, allowNull: false, defaultValue: 0 },
      createdAt: cameAt(),
      removedAt: DataTypes.DATE,
      // A removed clip can be put back for a while, and is nowhere to be seen until then.
    },
    { sequelize, tableName: 'clips', timestamps: false, defaultScope: { where: { removedAt: null } } },
  );
}

/** A page of a project's clips with all that is known of them, in the order they came. */
export async function listClips(projectId: string, page: { offset: number; limit: number }): Promise<Clip[]> {
  const rows = await ClipRow.findAll({
    where: { projectId },
    order: [
      ['createdAt', 'ASC'],
      ['fileName', 'ASC'],
      ['id', 'ASC'],
    ],
    ...page,
  });
  return clipsOf(rows);
}

export async function findClip(id: string): Promise<Clip | null> {
  const row = await ClipRow.findByPk(id);
  return row ? (await clipsOf([row]))[0] : null;
}

async function clipsOf(rows: ClipRow[]): Promise<Clip[]> {
  const steps = await RepairStepRow.findAll({
    where: { clipId: rows.map((row) => row.id) },
    order: [['position', 'ASC']],
  });
  return rows.map((row) => {
    const mine = steps.filter((step) => step.clipId === row.id);
    const { id, projectId, bytes, state, error, linked, sourceState, inspection, facts, hasStill, setupId, sketch } =
      row;
    const { joinedFrom = null } = row;
    return {
      id,
      projectId,
      bytes,
      state,
      error,
      linked,
      sourceState,
      inspection,
      facts,
      hasStill,
      setupId,
      sketch,
      joinedFrom,
      name: row.displayName ?? row.fileName,
      fileName: row.fileName,
      repair: row.stepsKept > 0 ? mine[row.stepsKept - 1].repair : null,
      canUndo: row.stepsKept > 0,
      canRedo: row.stepsKept < mine.length,
      createdAt: row.createdAt.toISOString(),
    };
  });
}
