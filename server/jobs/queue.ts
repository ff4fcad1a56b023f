import PgBoss from 'pg-boss';
import { InspectJob, WriteJob } from '@pocket-twin/core/schema/jobs.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { Logger } from '../log.ts';

const RETRIES = 2;
const LONGEST_JOB_SECONDS = 4 * 3600;
const POLL_SECONDS = 0.5;

const QUEUES = { inspect: InspectJob, write: WriteJob } as const;
type QueueName = keyof typeof QUEUES;
type JobOf<Name extends QueueName> = ReturnType<(typeof QUEUES)[Name]['parse']>;

/** The job queue in PostgreSQL: a job survives whoever was doing it. */
export class JobQueue {
  private readonly boss: PgBoss;

  constructor(databaseUrl: string, private readonly log: Logger) {
    this.boss = new PgBoss({ connectionString: databaseUrl, schema: 'queue', max: 4 });
    this.boss.on('error', (error) => log.error(error, 'The queue has trouble'));
  }

  async start(): Promise<void> {
    await this.boss.start();
    for (const name of Object.keys(QUEUES)) {
      await this.boss.createQueue(name, {
        name, retryLimit: RETRIES, retryDelay: 1, expireInSeconds: LONGEST_JOB_SECONDS, policy: 'standard',
      });
    }
  }

  stop(): Promise<void> {
    return this.boss.stop({ graceful: true, timeout: 5000, wait: true });
  }

  async send<Name extends QueueName>(name: Name, job: JobOf<Name>): Promise<void> {
    await this.boss.send(name, job);
  }

  /**
   * Does jobs of a queue, `sideBySide` at a time.
   * @param giveUp told when a job failed for the last time, other than by a Refusal
   */
  async work<Name extends QueueName>(
    name: Name, sideBySide: number, perform: (job: JobOf<Name>) => Promise<void>, giveUp: (job: JobOf<Name>) => Promise<void>,
  ): Promise<void> {
    const options = { includeMetadata: true, batchSize: 1, pollingIntervalSeconds: POLL_SECONDS } as const;
    for (let i = 0; i < sideBySide; i++) {
      await this.boss.work<JobOf<Name>>(name, options, async ([{ data, retryCount }]) => {
        const job = QUEUES[name].parse(data) as JobOf<Name>;
        try {
          await perform(job);
        } catch (error) {
          if (error instanceof Refusal && error.code === 'cancelled') return;
          this.log.error({ err: error, name, job }, 'A job broke');
          if (retryCount >= RETRIES) await giveUp(job);
          throw error;
        }
      });
    }
  }
}
