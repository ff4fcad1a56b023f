import pg from 'pg';
import type { Sequelize } from 'sequelize';
import { ChangeNotice } from '@pocket-twin/core/schema/changes.ts';
import type { Logger } from '../log.ts';

const CHANNEL = 'pocket_twin_changes';
const RETRY_MS = 1000;

/** Tells every process on this database what has changed (PostgreSQL NOTIFY). */
export async function announce(sequelize: Sequelize, notice: ChangeNotice): Promise<void> {
  await sequelize.query('select pg_notify(:channel, :body)', { replacements: { channel: CHANNEL, body: JSON.stringify(notice) } });
}

/** Listens for changes until stopped; a lost connection is made again. */
export class ChangeListener {
  private client: pg.Client | null = null;
  private stopped = false;

  constructor(
    private readonly databaseUrl: string, private readonly onNotice: (notice: ChangeNotice) => void, private readonly log: Logger,
  ) {}

  async start(): Promise<void> {
    const client = new pg.Client({ connectionString: this.databaseUrl });
    client.on('notification', ({ payload }) => {
      const notice = ChangeNotice.safeParse(JSON.parse(payload ?? 'null'));
      if (notice.success) this.onNotice(notice.data);
      else this.log.warn({ payload }, 'A change that nobody understands');
    });
    client.on('error', (error) => this.log.warn({ error: error.message }, 'The listening connection was lost'));
    client.on('end', () => { if (!this.stopped) this.retry(); });
    await client.connect();
    await client.query(`listen ${CHANNEL}`);
    this.client = client;
  }

  async stop(): Promise<void> {
    this.stopped = true;
    await this.client?.end();
  }

  private retry(): void {
    setTimeout(() => {
      if (!this.stopped) this.start().catch(() => this.retry());
    }, RETRY_MS);
  }
}
