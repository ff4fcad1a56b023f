import pg from 'pg';
import type { Logger } from '../log.ts';

const FIRST_PAUSE_MS = 250;
// After a restart of the database everyone is back within this.
export const LONGEST_PAUSE_MS = 5000;

interface Holder {
  /** What is held over the connection: a lock, a subscription. Called each time it is made. */
  opened(client: pg.Client): Promise<void>;
  lost?(): void;
}

/** A connection that is held for as long as the process lives. When it breaks it is made again, one attempt at a time, with growing pauses. */
export class StandingConnection {
  /** null while there is none. */
  client: pg.Client | null = null;
  /** How often it was lost. */
  losses = 0;
  private stopped = false;
  private timer: NodeJS.Timeout | undefined;

  constructor(
    private readonly databaseUrl: string,
    private readonly purpose: string,
    private readonly holder: Holder,
    private readonly log: Logger,
  ) {}

  /** @throws where the database does not answer now: a program that starts has nothing to hold on to yet */
  async start(): Promise<void> {
    const client = new pg.Client({ connectionString: this.databaseUrl, keepAlive: true });
    let held = false;
    client.on('error', (error) =>
      this.log.warn({ error: error.message }, `The connection that ${this.purpose} has trouble`),
    );
    client.on('end', () => {
      if (!held || this.stopped) return;
      this.client = null;
      this.losses++;
      this.holder.lost?.();
      this.again(FIRST_PAUSE_MS);
    });
    try {
      await client.connect();
      await this.holder.opened(client);
    } catch (error) {
      client.end().catch(() => undefined);
      throw error;
    }
    // Stopped while it was being made: nobody would ever close it.
    if (this.stopped) {
      await client.end();
      return;
    }
    this.client = client;
    held = true;
  }

  async stop(): Promise<void> {
    this.stopped = true;
    clearTimeout(this.timer);
    await this.client?.end().catch(() => undefined);
    this.client = null;
  }

  private again(pauseMs: number): void {
    this.timer = setTimeout(() => {
      this.start().catch((error: Error) => {
        this.log.warn({ error: error.message }, `The connection that ${this.purpose} could not be made again yet`);
        if (!this.stopped) this.again(Math.min(LONGEST_PAUSE_MS, pauseMs * 2));
      });
    }, pauseMs);
  }
}
