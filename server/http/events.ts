import type { Response } from 'express';
import type { Sequelize } from 'sequelize';
import type { ChangeNotice, ServerEvent } from '@pocket-twin/core/contract/events.ts';
import { readRows } from '../lineup/lineup.ts';
import { handoffsBy } from '../handoffs/handoff.ts';
import { handoffFileOf, HandoffFileRow } from '../handoffs/handoffFile.ts';
import { WritingRow, writingOf } from '../writings/writing.ts';
import type { Logger } from '../platform/log.ts';

const HEARTBEAT_MS = 15_000;
// One change is told at once; while they go on, what changes within this time is told together: a shoot that comes in changes hundreds of rows a second.
const AT_ONCE_MS = 20;
const TOGETHER_MS = 500;

type Progressed = Extract<ChangeNotice, { kind: 'progress' }>;

/** Passes what changes on to every open page, as server-sent events. */
export class EventStream {
  constructor(
    private readonly sequelize: Sequelize,
    private readonly log: Logger,
  ) {}

  private readonly pages = new Set<Response>();
  private readonly heartbeat = setInterval(() => this.write(':\n\n'), HEARTBEAT_MS);
  private waiting: ChangeNotice[] = [];
  private timer: NodeJS.Timeout | undefined;
  private toldAt = 0;
  private telling: Promise<void> = Promise.resolve();

  open(response: Response): void {
    response.writeHead(200, { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store' });
    response.write('retry: 1000\n\n');
    this.pages.add(response);
    response.on('close', () => this.pages.delete(response));
  }

  pass(notice: ChangeNotice): void {
    if (this.pages.size === 0) return;
    this.waiting.push(notice);
    this.timer ??= setTimeout(
      () => {
        this.timer = undefined;
        this.toldAt = Date.now();
        const notices = this.waiting.splice(0);
        // One after the other: what was read later is told later.
        this.telling = this.telling
          .then(() => this.tell(notices))
          .catch((error: unknown) => this.log.warn(error, 'A change could not be told'));
      },
      Math.max(AT_ONCE_MS, this.toldAt + TOGETHER_MS - Date.now()),
    );
  }

  /** Tells every page when the database does not answer, and that it does again: what was missed meanwhile is asked for anew. */
  databaseIs(state: 'away' | 'back'): void {
    this.write(`data: ${JSON.stringify({ kind: 'database', state } satisfies ServerEvent)}\n\n`);
  }

  close(): void {
    clearInterval(this.heartbeat);
    clearTimeout(this.timer);
    for (const page of this.pages) page.end();
  }

  private async tell(notices: ChangeNotice[]): Promise<void> {
    for (const event of await eventsFor(this.sequelize, notices)) this.write(`data: ${JSON.stringify(event)}\n\n`);
  }

  private write(text: string): void {
    for (const page of this.pages) page.write(text);
  }
}

/** Rows first, then what needs them; a thing that changed twice is told once, as it is now. */
async function eventsFor(sequelize: Sequelize, notices: ChangeNotice[]): Promise<ServerEvent[]> {
  const of = <Kind extends ChangeNotice['kind']>(kind: Kind) =>
    notices.filter((notice): notice is Extract<ChangeNotice, { kind: Kind }> => notice.kind === kind);
  const ids = (kind: 'clip' | 'writing'): string[] => [...new Set(of(kind).map(({ id }) => id))];
  const rows = await readRows(sequelize, ids('clip'));
  const writings = ids('writing').length > 0 ? await WritingRow.findAll({ where: { id: ids('writing') } }) : [];
  const files = of('handoff-file');
  const handoffIds = [...new Set([...of('handoff').map(({ id }) => id), ...files.map(({ handoffId }) => handoffId)])];
  const handoffs = handoffIds.length > 0 ? await handoffsBy(sequelize, { id: handoffIds }) : [];
  const fileRows =
    files.length > 0 ? await HandoffFileRow.findAll({ where: { id: [...new Set(files.map(({ id }) => id))] } }) : [];
  const progress = new Map(of('progress').map((notice): [string, Progressed] => [notice.id, notice]));
  return [
    ...(rows.length > 0 ? [{ kind: 'clips' as const, rows }] : []),
    ...of('clip-removed'),
    ...[...new Set(of('lineup').map(({ projectId }) => projectId))].map((projectId) => ({
      kind: 'lineup' as const,
      projectId,
    })),
    ...(of('projects').length > 0 ? [{ kind: 'projects' as const }] : []),
    ...writings.map((writing) => ({ kind: 'writing' as const, writing: writingOf(writing) })),
    ...(handoffs.length > 0
      ? [
          {
            kind: 'handoffs' as const,
            handoffs,
            files: fileRows.map((row) => ({ handoffId: row.handoffId, file: handoffFileOf(row) })),
          },
        ]
      : []),
    ...(progress.size > 0
      ? [
          {
            kind: 'progress' as const,
            jobs: [...progress.values()].map(({ id, stage, share }) => ({ id, stage, share })),
          },
        ]
      : []),
  ];
}
