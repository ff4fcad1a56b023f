import { randomInt } from 'node:crypto';
import pg from 'pg';
import type PgBoss from 'pg-boss';
import type { Logger } from '../log.ts';
import { LONGEST_PAUSE_MS, StandingConnection } from '../database/standingConnection.ts';

// Advisory locks of this kind are told apart from others by their first key.
const LOCK_SPACE = 4820;
// After the database has started again every living worker has its lock back within this; until then nobody is taken for dead.
const DATABASE_UP_SECONDS = (2 * LONGEST_PAUSE_MS) / 1000;

export interface LostJob {
  jobId: string;
  queue: string;
}

/**
 * Which worker does which job. A worker holds a lock of the database for as long as it lives; the database drops it the moment the worker's
 * connection is gone, killed or unplugged, and then anyone may take its jobs back. Waiting for jobs to expire would take hours, as long ones are allowed to.
 */
export class JobClaims {
  private readonly workerKey = randomInt(1, 2 ** 31 - 1);
  private readonly pool: pg.Pool;
  /** Holds the lock, and does nothing beside looking for the dead. */
  private readonly lock: StandingConnection;

  constructor(databaseUrl: string, log: Logger) {
    this.pool = new pg.Pool({ connectionString: databaseUrl, max: 2 });
    this.pool.on('error', (error) => log.warn({ error: error.message }, 'A connection for claims was lost'));
    this.lock = new StandingConnection(
      databaseUrl,
      'holds this worker’s claims',
      {
        opened: async (client) => {
          await client.query('select pg_advisory_lock($1, $2)', [LOCK_SPACE, this.workerKey]);
        },
      },
      log,
    );
  }

  start(): Promise<void> {
    return this.lock.start();
  }

  async stop(): Promise<void> {
    if (this.lock.client)
      await this.pool.query('delete from job_claims where "workerKey" = $1', [this.workerKey]).catch(() => undefined);
    await this.lock.stop();
    await this.pool.end();
  }

  /** How often the database was lost. A job during which this grew may have broken by that alone. */
  get losses(): number {
    return this.lock.losses;
  }

  get isConnected(): boolean {
    return this.lock.client !== null;
  }

  async claim({ jobId, queue }: LostJob): Promise<void> {
    await this.pool.query(
      'insert into job_claims (id, queue, "workerKey") values ($1, $2, $3) on conflict (id) do update set "workerKey" = excluded."workerKey"',
      [jobId, queue, this.workerKey],
    );
  }

  /** @param db within whose transaction; at once without it */
  async release(jobId: string, db?: PgBoss.Db): Promise<void> {
    const [text, values] = [
      'delete from job_claims where id = $1 and "workerKey" = $2',
      [jobId, this.workerKey],
    ] as const;
    await (db ? db.executeSql(text, [...values]) : this.pool.query(text, [...values]));
  }

  /** Jobs that this worker claims. */
  async mine(): Promise<LostJob[]> {
    const { rows } = await this.pool.query<LostJob>(
      'select id as "jobId", queue from job_claims where "workerKey" = $1',
      [this.workerKey],
    );
    return rows;
  }

  /** Jobs whose worker is gone; each is told to one asker only. */
  async takeLost(): Promise<LostJob[]> {
    const { client } = this.lock;
    if (!client) return [];
    const { rows: workers } = await client.query<{ workerKey: number }>(
      'select distinct "workerKey" from job_claims where "workerKey" <> $1 and pg_postmaster_start_time() < now() - $2 * interval \'1 second\'',
      [this.workerKey, DATABASE_UP_SECONDS],
    );
    const lost: LostJob[] = [];
    for (const { workerKey } of workers) {
      const {
        rows: [{ dead }],
      } = await client.query<{ dead: boolean }>('select pg_try_advisory_lock($1, $2) as dead', [LOCK_SPACE, workerKey]);
      if (!dead) continue;
      const { rows } = await client.query<LostJob>(
        'delete from job_claims where "workerKey" = $1 returning id as "jobId", queue',
        [workerKey],
      );
      await client.query('select pg_advisory_unlock($1, $2)', [LOCK_SPACE, workerKey]);
      lost.push(...rows);
    }
    return lost;
  }
}
