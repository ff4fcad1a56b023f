import type { Sequelize, Transaction } from 'sequelize';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { ClipMove, SetupChange, SetupMerge } from '@pocket-twin/core/schema/setup.ts';
import { ClipRow } from './clip.ts';
import { SetupRow } from './setup.ts';

// What a person says of setups. It is marked as theirs, so that forming setups again keeps it.

async function findSetup(projectId: string, id: string, transaction?: Transaction): Promise<SetupRow> {
  const setup = await SetupRow.findOne({ where: { id, projectId }, transaction });
  if (!setup) throw new Refusal('not-found', 'That setup is no longer in the project.');
  return setup;
}

export async function changeSetup(projectId: string, id: string, { name, roles, intake }: SetupChange): Promise<void> {
  const setup = await findSetup(projectId, id);
  await setup.update({
    ...(name !== undefined && { name, named: true }),
    ...(roles !== undefined && { roles, rolesGiven: true }),
    ...(intake !== undefined && (intake === null ? { intakeGiven: false } : { intake, intakeGiven: true })),
  });
}

/** Moves clips into a setup, or into a new one of their own (a split). @returns the setup they are in now */
export function moveClips(sequelize: Sequelize, projectId: string, { clipIds, to }: ClipMove): Promise<string> {
  return sequelize.transaction(async (transaction) => {
    const setup = typeof to === 'string'
      ? await findSetup(projectId, to, transaction)
      : await SetupRow.create({ projectId, name: to.newName, named: true }, { transaction });
    await ClipRow.update({ setupId: setup.id, setupFixed: true }, { where: { projectId, id: clipIds }, transaction });
    return setup.id;
  });
}

/** Puts all of one setup into another. */
export function mergeSetups(sequelize: Sequelize, projectId: string, { from, into }: SetupMerge): Promise<void> {
  return sequelize.transaction(async (transaction) => {
    if (from === into) throw new Refusal('bad-request', 'A setup cannot be merged with itself.');
    const [gone, kept] = [await findSetup(projectId, from, transaction), await findSetup(projectId, into, transaction)];
    await ClipRow.update({ setupId: kept.id, setupFixed: true }, { where: { projectId, setupId: [gone.id, kept.id] }, transaction });
    await kept.update({ named: true }, { transaction });
    await gone.destroy({ transaction });
  });
}
