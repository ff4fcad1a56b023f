import type { Sequelize, Transaction } from 'sequelize';
import { mayLookForOpenRows, openClips, openWritings, projectsWithLooseClips } from '../db/openRows.ts';
import type { JobQueue } from './queue.ts';

/**
 * Gives a job to every row that waits for one and has none: clips that were put back after the queue had passed them, and whatever was lost in a way
 * that nobody foresaw. @returns how many got one
 */
export async function queueOpenRows(sequelize: Sequelize, queue: JobQueue): Promise<number> {
  return sequelize.transaction(async (transaction) => {
    if (!(await mayLookForOpenRows(sequelize, transaction))) return 0;
    const clips = await queueOpenClips(sequelize, queue, transaction);
    const writings = await openWritings(sequelize, transaction);
    await queue.sendMany(
      'write',
      writings.map((writingId) => ({ writingId })),
      transaction,
    );
    const projects = await projectsWithLooseClips(sequelize, transaction);
    await queue.sendMany(
      'setups',
      projects.map((projectId) => ({ projectId })),
      transaction,
    );
    return clips + writings.length + projects.length;
  });
}

/** The same for clips alone, within whatever made them open. @param projectId only of this project */
export async function queueOpenClips(
  sequelize: Sequelize,
  queue: JobQueue,
  transaction: Transaction,
  projectId?: string,
): Promise<number> {
  const clips = await openClips(sequelize, transaction, projectId);
  await queue.sendMany(
    'inspect',
    clips.map((clipId) => ({ clipId })),
    transaction,
  );
  return clips.length;
}
