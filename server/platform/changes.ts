import type { Sequelize, Transaction } from 'sequelize';
import { ChangeNotice } from '@pocket-twin/core/contract/events.ts';
import type { Logger } from './log.ts';
import { StandingConnection } from './database/standingConnection.ts';

const CHANNEL = 'pocket_twin_changes';

/** Tells every process on this database what has changed (PostgreSQL NOTIFY); within a transaction once it is committed. */
export async function announce(sequelize: Sequelize, notice: ChangeNotice, transaction?: Transaction): Promise<void> {
  await sequelize.query('select pg_notify(:channel, :body)', {
    replacements: { channel: CHANNEL, body: JSON.stringify(notice) },
    transaction,
  });
}

interface Hearer {
  heard(notice: ChangeNotice): void;
  /** From now on changes are missed. */
  lost(): void;
  /** Changes are heard again; some were missed. */
  regained(): void;
}

/** Listens for changes until stopped; a lost connection is made again. */
export class ChangeListener {
  private readonly connection: StandingConnection;

  constructor(databaseUrl: string, hearer: Hearer, log: Logger) {
    this.connection = new StandingConnection(
      databaseUrl,
      'listens for changes',
      {
        opened: async (client) => {
          client.on('notification', ({ payload }) => {
            const notice = ChangeNotice.safeParse(JSON.parse(payload ?? 'null'));
            if (notice.success) hearer.heard(notice.data);
            else log.warn({ payload }, 'A change that nobody understands');
          });
          await client.query(`listen ${CHANNEL}`);
          if (this.connection.losses > 0) hearer.regained();
        },
        lost: () => hearer.lost(),
      },
      log,
    );
  }

  start(): Promise<void> {
    return this.connection.start();
  }

  stop(): Promise<void> {
    return this.connection.stop();
  }
}
