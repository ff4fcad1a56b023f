import { randomInt } from 'node:crypto';
import pg from 'pg';
import type { Logger } from '../log.ts';

// Advisory locks of this kind are told apart from others by their first key.
const LOCK_SPACE = 4820;
const RETRY_MS = 1000;

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
  /** Holds the lock, and does nothing beside looking for the dead. */
  private client: pg.Client | null = null;
  private readonly pool: pg.Pool;
  private stopped = false;

  constructor(private readonly databaseUrl: string, private readonly log: Logger) {
    this.pool = new pg.Pool({ connectionString: databaseUrl, max: 2 });
    this.pool.on('error', (error) => log.warn({ error: error.message }, 'A connection for claims was lost'));
  }

  async start(): Promise<void> {
    const client = new pg.Client({ connectionString: this.databaseUrl });
    client.on('error', (error) => this.log.warn({ error: error.message }, 'The connection that holds this worker’s claims was lost'));
    client.on('end', () => { if (!this.stopped) this.retry(); });
    await client.connect();
    await client.query('select pg_advisory_lock($1, $2)', [LOCK_SPACE, this.workerKey]);
    this.client = client;
  }

  async stop(): Promise<void> {
    this.stopped = true;
    if (this.client) await this.pool.query('delete from job_claims where "workerKey" = $1', [this.workerKey]);
    await this.pool.end();
    await this.client?.end();
  }

  async claim({ jobId, queue }: LostJob): Promise<void> {
    await this.pool.query(
      'insert into job_claims (id, queue, "workerKey") values ($1, $2, $3) on conflict (id) do update set "workerKey" = excluded."workerKey"', [jobId, queue, this.workerKey],
    );
  }

  async release(jobId: string): Promise<void> {
    await this.pool.query('delete from job_claims where id = $1', [jobId]);
  }

  /** Jobs whose worker is gone; each is told to one asker only. */
  async takeLost(): Promise<LostJob[]> {
    if (!this.client) return [];
    const { rows: workers } = await this.client.query<{ workerKey: number }>('select distinct "workerKey" from job_claims where "workerKey" <> $1', [this.workerKey]);
    const lost: LostJob[] = [];
    for (const { workerKey } of workers) {
      const { rows: [{ dead }] } = await this.client.query<{ dead: boolean }>('select pg_try_advisory_lock($1, $2) as dead', [LOCK_SPACE, workerKey]);
      if (!dead) continue;
      const { rows } = await this.client.query<LostJob>('delete from job_claims where "workerKey" = $1 returning id as "jobId", queue', [workerKey]);
      await this.client.query('select pg_advisory_unlock($1, $2)', [LOCK_SPACE, workerKey]);
      lost.push(...rows);
    }
    return lost;
  }

  private retry(): void {
    this.client = null;
    setTimeout(() => {
      if (!this.stopped) this.start().catch(() => this.retry());
    }, RETRY_MS);
  }
}
