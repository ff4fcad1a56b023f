import type { RequestHandler, Response } from 'express';
import type { Sequelize } from 'sequelize';
import type { ChangeNotice, ServerEvent } from '@pocket-twin/core/schema/changes.ts';
import { readRows } from '../db/lineup.ts';
import { WritingRow, writingOf } from '../db/writing.ts';

const HEARTBEAT_MS = 15_000;

/** Passes what changes on to every open page, as server-sent events. */
export class EventStream {
  constructor(private readonly sequelize: Sequelize) {}

  private readonly pages = new Set<Response>();
  private readonly heartbeat = setInterval(() => this.write(':\n\n'), HEARTBEAT_MS);

  readonly open: RequestHandler = (_request, response) => {
    response.writeHead(200, { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store' });
    response.write('retry: 1000\n\n');
    this.pages.add(response);
    response.on('close', () => this.pages.delete(response));
  };

  async pass(notice: ChangeNotice): Promise<void> {
    if (this.pages.size === 0) return;
    const event = await eventFor(this.sequelize, notice);
    if (event) this.write(`data: ${JSON.stringify(event)}\n\n`);
  }

  close(): void {
    clearInterval(this.heartbeat);
    for (const page of this.pages) page.end();
  }

  private write(text: string): void {
    for (const page of this.pages) page.write(text);
  }
}

async function eventFor(sequelize: Sequelize, notice: ChangeNotice): Promise<ServerEvent | null> {
  switch (notice.kind) {
    case 'clip': {
      const [row] = await readRows(sequelize, [notice.id]);
      return row ? { kind: 'clip', row } : null;
    }
    case 'writing': {
      const row = await WritingRow.findByPk(notice.id);
      return row && { kind: 'writing', writing: writingOf(row) };
    }
    default: return notice;
  }
}
