import { availableParallelism } from 'node:os';
import type { Sequelize } from 'sequelize';
import { formProjectSetups } from '../db/projectSetups.ts';
import type { Logger } from '../log.ts';
import type { Folders } from '../storage/folders.ts';
import { giveUpInspecting, inspectClip } from './inspectClip.ts';
import type { JobQueue } from './queue.ts';
import { giveUpWriting, writeRepair } from './writeRepair.ts';

interface DutyContext {
  sequelize: Sequelize;
  folders: Folders;
  queue: JobQueue;
  log: Logger;
}

/** Everything a worker does. */
export function giveDuties(context: DutyContext): void {
  const { sequelize, queue } = context;
  queue.duty(
    'inspect',
    availableParallelism(),
    (job) => inspectClip(context, job),
    (job, error) => giveUpInspecting(sequelize, job, error),
  );
  queue.duty(
    'write',
    1,
    (job) => writeRepair(context, job),
    (job, error) => giveUpWriting(sequelize, job, error),
  );
  queue.duty(
    'setups',
    1,
    (job) => formProjectSetups(sequelize, job),
    () => Promise.resolve(),
  );
}
