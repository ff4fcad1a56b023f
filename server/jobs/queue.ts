import PgBoss from 'pg-boss';
import { InspectJob, SetupsJob, WriteJob } from '@pocket-twin/core/schema/jobs.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { JobClaims } from '../db/jobClaims.ts';
import type { Logger } from '../log.ts';

const RETRIES = 2;
const LONGEST_JOB_SECONDS = 4 * 3600;
const POLL_SECONDS = 0.5;
const SWEEP_MS = 2000;
// Setups are formed when a few clips have come, not after each.
const SOON_SECONDS = 2;

const QUEUES = { inspect: InspectJob, write: WriteJob, setups: SetupsJob } as const;
type QueueName = keyof typeof QUEUES;
type JobOf<Name extends QueueName> = ReturnType<(typeof QUEUES)[Name]['parse']>;

interface Duty {
  perform: (job: never) => Promise<void>;
  giveUp: (job: never) => Promise<void>;
}

/** The job queue in PostgreSQL: a job survives whoever was doing it. */
export class JobQueue {
  private readonly boss: PgBoss;
  private readonly claims: JobClaims;
  private readonly duties = new Map<string, Duty>();
  private sweeper: NodeJS.Timeout | undefined;

  constructor(databaseUrl: string, private readonly log: Logger) {
    this.boss = new PgBoss({ connectionString: databaseUrl, schema: 'queue', max: 4 });
    this.boss.on('error', (error) => this.log.error(error, 'The queue has trouble'));
    this.claims = new JobClaims(databaseUrl, log);
  }

  async start(): Promise<void> {
    await this.boss.start();
    for (const name of Object.keys(QUEUES)) {
      await this.boss.createQueue(name, {
        name, retryLimit: RETRIES, retryDelay: 1, expireInSeconds: LONGEST_JOB_SECONDS, policy: 'standard',
      });
    }
  }

  async stop(): Promise<void> {
    clearInterval(this.sweeper);
    await this.boss.stop({ graceful: true, timeout: 5000, wait: true });
    await this.claims.stop();
  }

  async send<Name extends QueueName>(name: Name, job: JobOf<Name>): Promise<void> {
    await this.boss.send(name, job);
  }

  async sendMany<Name extends QueueName>(name: Name, jobs: JobOf<Name>[]): Promise<void> {
    if (jobs.length > 0) await this.boss.insert(jobs.map((data) => ({ name, data })));
  }

  /** Once for all that ask within a short while. */
  async sendSoon<Name extends QueueName>(name: Name, job: JobOf<Name>, key: string): Promise<void> {
    await this.boss.sendDebounced(name, job, {}, SOON_SECONDS, key);
  }

  /**
   * Does jobs of a queue, `sideBySide` at a time.
   * @param giveUp told when a job failed for the last time, other than by a Refusal
   */
  async work<Name extends QueueName>(
    name: Name, sideBySide: number, perform: (job: JobOf<Name>) => Promise<void>, giveUp: (job: JobOf<Name>) => Promise<void>,
  ): Promise<void> {
    if (this.duties.size === 0) {
      await this.claims.start();
      await this.sweep();
      this.sweeper = setInterval(() => void this.sweep().catch((error: unknown) => this.log.warn(error, 'Lost jobs could not be looked for')), SWEEP_MS);
    }
    this.duties.set(name, { perform, giveUp });
    const options = { includeMetadata: true, batchSize: 1, pollingIntervalSeconds: POLL_SECONDS } as const;
    for (let i = 0; i < sideBySide; i++) {
      const worker = await this.boss.work<JobOf<Name>>(name, options, async ([{ id, data, retryCount }]) => {
        await this.claims.claim({ jobId: id, queue: name });
        try {
          await this.attempt(name, QUEUES[name].parse(data) as JobOf<Name>, retryCount, { perform, giveUp });
        } finally {
          await this.claims.release(id);
          // There may be more: it does not wait for its next look.
          this.boss.notifyWorker(worker);
        }
      });
    }
  }

  private async attempt<Name extends QueueName>(
    name: Name, job: JobOf<Name>, retryCount: number,
    { perform, giveUp }: { perform: (job: JobOf<Name>) => Promise<void>; giveUp: (job: JobOf<Name>) => Promise<void> },
  ): Promise<void> {
    try {
      await perform(job);
    } catch (error) {
      if (error instanceof Refusal && error.code === 'cancelled') return;
      this.log.error({ err: error, name, job }, 'A job broke');
      if (retryCount >= RETRIES) await giveUp(job);
      throw error;
    }
  }

  /** Gives jobs of workers that are gone back to the queue. One that has taken several workers with it is given up. */
  private async sweep(): Promise<void> {
    for (const { jobId, queue } of await this.claims.takeLost()) {
      const job = await this.boss.getJobById(queue, jobId);
      if (!job || job.state !== 'active') continue;
      this.log.warn({ queue, jobId }, 'A worker was lost; its job goes back to the queue');
      await this.boss.fail(queue, jobId, { lost: true });
      if (job.retryCount >= RETRIES) await this.duties.get(queue)?.giveUp(job.data as never);
    }
  }
}
