import { randomUUID } from 'node:crypto';
import { setTimeout as pause } from 'node:timers/promises';
import pg from 'pg';
import PgBoss from 'pg-boss';
import type { Transaction } from 'sequelize';
import {
  HandoffEndJob,
  HandoffFileJob,
  InspectJob,
  RecipeJob,
  SetupsJob,
  WriteJob,
} from '@pocket-twin/core/contract/jobs.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { JobClaims, type LostJob } from './jobClaims.ts';
import { LONGEST_PAUSE_MS, StandingConnection } from '../database/standingConnection.ts';
import { isDatabaseAway } from '../database/isDatabaseAway.ts';
import type { Logger } from '../log.ts';
import { WorkLoop } from './workLoop.ts';

const RETRIES = 2;
const LONGEST_JOB_SECONDS = 4 * 3600;
// A job is told of when it comes; this finds those whose word was lost.
const POLL_MS = 500;
const CHANNEL = 'pocket_twin_jobs';
const SWEEP_MS = 2000;
// A job is claimed at once after it was taken: one without a claim for this long has nobody.
const UNCLAIMED_SECONDS = 10;
// Setups are formed when a few clips have come, not after each.
const SOON_SECONDS = 2;
// What a stopping worker may still finish; the rest goes back.
const STOP_MS = 3000;
// So many lost workers are no accident: the job itself must be what ends them.
const MOST_LOSSES = 20;
const LOSSES_WITHOUT_PAUSE = 3;
const LONGEST_LOSS_PAUSE_SECONDS = 30;

const QUEUES = {
  inspect: InspectJob,
  write: WriteJob,
  setups: SetupsJob,
  recipe: RecipeJob,
  handoffFile: HandoffFileJob,
  handoffEnd: HandoffEndJob,
} as const;
export type QueueName = keyof typeof QUEUES;
export type JobOf<Name extends QueueName> = ReturnType<(typeof QUEUES)[Name]['parse']>;

/** Why a job is given up: the error it broke with, or null where it ended one worker after another. */
export type GiveUp<Name extends QueueName> = (job: JobOf<Name>, error: unknown) => Promise<void>;

/** Ends a job together with a transaction: whoever sees what that changed finds the row without a job, and can give it one. */
export type Leave = (transaction: Transaction) => Promise<void>;

interface Duty {
  perform: (job: never, leave: Leave) => Promise<void>;
  giveUp: (job: never, error: unknown) => Promise<void>;
}

type Fetched = PgBoss.JobWithMetadata<{ losses?: number }>;

/** The queue's own statements on the connection of a transaction. */
function within(transaction: Transaction): PgBoss.Db {
  const { connection } = transaction as Transaction & { connection: pg.Client };
  return { executeSql: (text, values) => connection.query(text, values) };
}

/** The queue's own statements, each parsed and planned once a connection: with a thousand short clips that is a third of what the database does. */
function preparedOn(pool: pg.Pool): PgBoss.Db {
  const names = new Map<string, string>();
  return {
    executeSql: (text, values) => {
      // Several statements in one text cannot be prepared; they have no values.
      if (!values?.length) return pool.query(text);
      const name = names.get(text) ?? `queue-${names.size}`;
      names.set(text, name);
      return pool.query({ name, text, values });
    },
  };
}

/** The job queue in PostgreSQL: a job survives whoever was doing it, and no clip fails because a worker, the server or the database went away. */
export class JobQueue {
  private readonly boss: PgBoss;
  private readonly claims: JobClaims;
  private readonly pool: pg.Pool;
  private readonly duties = new Map<string, Duty>();
  private readonly loops: { name: QueueName; loop: WorkLoop<Fetched> }[] = [];
  private readonly news: StandingConnection;
  /** What this process is doing now. */
  private readonly doing = new Map<string, QueueName>();
  private sweeper: NodeJS.Timeout | undefined;
  private stopping = false;

  constructor(
    databaseUrl: string,
    private readonly log: Logger,
  ) {
    this.claims = new JobClaims(databaseUrl, log);
    this.pool = new pg.Pool({ connectionString: databaseUrl, max: 6 });
    this.pool.on('error', (error) => log.warn({ error: error.message }, 'A connection of the queue was lost'));
    this.boss = new PgBoss({ db: preparedOn(this.pool), schema: 'queue' });
    this.boss.on('error', (error) => this.log.warn({ error: error.message }, 'The queue has trouble'));
    this.news = new StandingConnection(
      databaseUrl,
      'listens for jobs',
      {
        opened: async (client) => {
          client.on('notification', ({ payload }) => {
            for (const { name, loop } of this.loops) if (name === payload) loop.look();
          });
          await client.query(`listen ${CHANNEL}`);
        },
      },
      log,
    );
  }

  async start(): Promise<void> {
    await this.boss.start();
    for (const name of Object.keys(QUEUES)) {
      await this.boss.createQueue(name, {
        name,
        retryLimit: RETRIES,
        retryDelay: 1,
        expireInSeconds: LONGEST_JOB_SECONDS,
        policy: 'standard',
      });
    }
  }

  /** Finishes what is nearly done and puts the rest back, as if it had never been begun. */
  async stop(): Promise<void> {
    this.stopping = true;
    clearInterval(this.sweeper);
    for (const { loop } of this.loops) loop.stop();
    await this.news.stop();
    for (const until = Date.now() + STOP_MS; this.doing.size > 0 && Date.now() < until;) await pause(50);
    for (const [jobId, queue] of this.doing) await this.giveBack({ jobId, queue }, 0).catch(() => undefined);
    await this.claims.stop();
    await this.boss.stop({ graceful: false, wait: true }).catch(() => undefined);
    await this.pool.end();
  }

  /** Within a transaction the job is there if what makes it necessary is. */
  async send<Name extends QueueName>(name: Name, job: JobOf<Name>, transaction?: Transaction): Promise<void> {
    await this.boss.send(name, job, transaction ? { db: within(transaction) } : {});
    await this.tell(name, transaction);
  }

  /** Jobs of one sending are taken up in their order. */
  async sendMany<Name extends QueueName>(name: Name, jobs: JobOf<Name>[], transaction?: Transaction): Promise<void> {
    if (jobs.length === 0) return;
    // They come at the same moment, and of those the queue takes the lowest id first.
    const ids = jobs.map(() => randomUUID()).sort();
    await this.boss.insert(
      jobs.map((data, i) => ({ name, data, id: ids[i] })),
      transaction ? { db: within(transaction) } : {},
    );
    await this.tell(name, transaction);
  }

  /** Told with the transaction, so that whoever waits for work finds the job there. */
  private async tell(name: QueueName, transaction?: Transaction): Promise<void> {
    const [text, values] = ['select pg_notify($1, $2)', [CHANNEL, name]] as const;
    if (transaction) await within(transaction).executeSql(text, [...values]);
    else await this.pool.query(text, [...values]);
  }

  /** Once for all that ask within a short while. */
  async sendSoon<Name extends QueueName>(
    name: Name,
    job: JobOf<Name>,
    key: string,
    transaction?: Transaction,
  ): Promise<void> {
    await this.boss.sendDebounced(name, job, transaction ? { db: within(transaction) } : {}, SOON_SECONDS, key);
  }

  /**
   * Does jobs of a queue, `sideBySide` at a time. All duties are given before `startWork`.
   * @param giveUp told when a job failed for the last time, other than by a Refusal
   */
  duty<Name extends QueueName>(
    name: Name,
    sideBySide: number,
    perform: (job: JobOf<Name>, leave: Leave) => Promise<void>,
    giveUp: GiveUp<Name>,
  ): void {
    this.duties.set(name, { perform, giveUp });
    for (let i = 0; i < sideBySide; i++) {
      this.loops.push({
        name,
        loop: new WorkLoop<Fetched>(
          async () => (await this.boss.fetch<{ losses?: number }>(name, { includeMetadata: true, batchSize: 1 }))[0],
          (job) => this.perform(name, job),
          (error) => this.log.warn({ error: (error as Error).message }, 'No job can be asked for'),
          POLL_MS,
          LONGEST_PAUSE_MS,
        ),
      });
    }
  }

  /** Begins with the duties. */
  async startWork(): Promise<void> {
    await this.claims.start();
    await this.news.start();
    await this.sweep().catch((error: unknown) => this.log.warn(error, 'Lost jobs could not be looked for'));
    let sweeping = false;
    this.sweeper = setInterval(() => {
      if (sweeping) return;
      sweeping = true;
      this.sweep()
        .catch((error: unknown) =>
          this.log.warn({ error: (error as Error).message }, 'Lost jobs could not be looked for'),
        )
        .finally(() => {
          sweeping = false;
        });
    }, SWEEP_MS);
    for (const { loop } of this.loops)
      loop.run().catch((error: unknown) => this.log.error(error, 'A loop of the worker ended'));
  }

  /** Never throws: whatever the database does meanwhile, the job ends done, put back, tried again or given up. */
  private async perform(name: QueueName, { id, data, retryCount }: Fetched): Promise<void> {
    const { perform, giveUp } = this.duties.get(name)!;
    const lossesBefore = this.claims.losses;
    this.doing.set(id, name);
    let hasLeft = false;
    try {
      await this.claims.claim({ jobId: id, queue: name });
      await perform(QUEUES[name].parse(data) as never, async (transaction) => {
        const db = within(transaction);
        await this.boss.complete(name, id, {}, { db });
        await this.claims.release(id, db);
        hasLeft = true;
      });
      if (!hasLeft) await this.surely(() => this.boss.complete(name, id));
    } catch (error) {
      hasLeft = false;
      if (this.stopping) return;
      if (error instanceof Refusal && error.code === 'cancelled') await this.surely(() => this.boss.complete(name, id));
      else if (this.claims.losses !== lossesBefore || !this.claims.isConnected || isDatabaseAway(error))
        await this.surely(() => this.giveBack({ jobId: id, queue: name }, 0));
      else {
        this.log.error({ err: error, name, data }, 'A job broke');
        const isLast = retryCount >= RETRIES;
        if (isLast) await this.surely(() => giveUp(QUEUES[name].parse(data) as never, error));
        await this.surely(() => this.boss.fail(name, id, { message: String(error) }));
      }
    } finally {
      if (!hasLeft) await this.surely(() => this.claims.release(id));
      this.doing.delete(id);
    }
  }

  /** Tries until the database is there; what cannot be said before the process is stopped is found by the next sweep. */
  private async surely(act: () => Promise<unknown>): Promise<void> {
    for (let pauseMs = 250; ; pauseMs = Math.min(LONGEST_PAUSE_MS, pauseMs * 2)) {
      try {
        await act();
        return;
      } catch (error) {
        this.log.warn({ error: (error as Error).message }, 'The end of a job could not be noted yet');
        if (this.stopping || !isDatabaseAway(error)) return;
        await pause(pauseMs);
      }
    }
  }

  /**
   * Puts an active job back into the queue without counting a try.
   * @param losses how many more workers were lost over it. @returns the losses up to now; null where it was not active any more
   */
  private async giveBack({ jobId, queue }: LostJob, losses: number): Promise<number | null> {
    const { rows } = await this.pool.query<{ losses: number }>(
      `
      with lost as (select id, coalesce((data->>'losses')::int, 0) + $3 as losses from queue.job where name = $2 and id = $1 and state = 'active' for update)
      update queue.job j set state = 'retry', started_on = null, data = jsonb_set(j.data, '{losses}', to_jsonb(lost.losses)),
        start_after = now() + case when $3 = 0 then 0 else least($4, 2 ^ greatest(0, lost.losses - $5) - 1) end * interval '1 second'
      from lost where j.name = $2 and j.id = lost.id returning lost.losses`,
      [jobId, queue, losses, LONGEST_LOSS_PAUSE_SECONDS, LOSSES_WITHOUT_PAUSE],
    );
    return rows[0]?.losses ?? null;
  }

  /** Gives jobs that nobody does any more back to the queue: of workers that are gone, of this one from before a break, and those never claimed. */
  private async sweep(): Promise<void> {
    for (const lost of await this.claims.takeLost()) await this.takeBack(lost, 1);
    for (const mine of await this.claims.mine()) {
      if (this.doing.has(mine.jobId)) continue;
      await this.takeBack(mine, 0);
      await this.claims.release(mine.jobId);
    }
    const { rows: unclaimed } = await this.pool.query<LostJob>(
      `
      select id as "jobId", name as queue from queue.job j where name = any($1) and state = 'active' and started_on < now() - $2 * interval '1 second'
        and not exists (select 1 from job_claims c where c.id = j.id)`,
      [Object.keys(QUEUES), UNCLAIMED_SECONDS],
    );
    for (const lost of unclaimed) if (!this.doing.has(lost.jobId)) await this.takeBack(lost, 1);
  }

  private async takeBack(lost: LostJob, more: number): Promise<void> {
    const losses = await this.giveBack(lost, more);
    if (losses === null) return;
    this.log.warn({ ...lost, losses }, 'A job that nobody does any more goes back to the queue');
    if (losses < MOST_LOSSES) return;
    const [job] = (
      await this.pool.query<{ data: unknown }>('select data from queue.job where name = $1 and id = $2', [
        lost.queue,
        lost.jobId,
      ])
    ).rows;
    await this.duties.get(lost.queue)?.giveUp(QUEUES[lost.queue as QueueName].parse(job.data) as never, null);
    await this.boss.cancel(lost.queue, lost.jobId);
  }
}
