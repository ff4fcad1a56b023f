import type { Sequelize, Transaction } from 'sequelize';
import type { ChangeNotice } from '@pocket-twin/core/contract/events.ts';
import { announce } from './changes.ts';
import type { JobOf, JobQueue, QueueName } from './queue/queue.ts';

export interface ActionContext {
  sequelize: Sequelize;
  queue: JobQueue;
}

/** What belongs to one step: all of it happens, or nothing. */
export interface Step {
  sequelize: Sequelize;
  transaction: Transaction;
  /** Told to everybody once the step is done. */
  tell: (notice: ChangeNotice) => Promise<void>;
  /** Jobs that the step makes necessary: they are there if it is. */
  send: <Name extends QueueName>(name: Name, ...jobs: JobOf<Name>[]) => Promise<void>;
  /** Once for all that ask within a short while. */
  sendSoon: <Name extends QueueName>(name: Name, job: JobOf<Name>, key: string) => Promise<void>;
}

/**
 * A use case ("keep a repair", "move clips"): it changes rows, puts the jobs that follow into the queue and says what has changed, in one transaction.
 * PostgreSQL tells what was said when that is committed, and not at all where it fails.
 */
export function action<Result>(
  { sequelize, queue }: ActionContext,
  act: (step: Step) => Promise<Result>,
): Promise<Result> {
  return sequelize.transaction((transaction) =>
    act({
      sequelize,
      transaction,
      tell: (notice) => announce(sequelize, notice, transaction),
      send: (name, ...jobs) => queue.sendMany(name, jobs, transaction),
      sendSoon: (name, job, key) => queue.sendSoon(name, job, key, transaction),
    }),
  );
}
