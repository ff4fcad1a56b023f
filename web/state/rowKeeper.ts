import { CONTRACT } from '@pocket-twin/core/contract/contract.ts';
import { addressOf } from '@pocket-twin/core/contract/endpoint.ts';
import type { LineupRow } from '@pocket-twin/core/schema/lineup.ts';
import { inBackground } from '../parts/inBackground.ts';
import { clipNews } from './newsWhileAsking.ts';

const AT_ONCE = 200;

export interface RowSink {
  /** Whether a row is there, and no older than all rows were last known to be. */
  isFresh(id: string): boolean;
  /** Which version of all rows is asked for now. */
  version(): number;
  /** @param version what was asked for: an answer is no younger than its question */
  take(rows: LineupRow[], gone: string[], version: number): void;
}

/** Fetches rows: what is wanted in one moment in one request, nothing that is fresh or on its way already. */
export class RowKeeper {
  private readonly wanted = new Map<string, Set<string>>();
  private readonly coming = new Set<string>();
  private scheduled = false;

  constructor(
    private readonly fetchRows: (projectId: string, ids: string[]) => Promise<LineupRow[]>,
    private readonly sink: RowSink,
  ) {}

  want(projectId: string, ids: readonly string[]): void {
    const wanted = this.wanted.get(projectId) ?? new Set();
    this.wanted.set(projectId, wanted);
    for (const id of ids) if (!this.coming.has(id) && !this.sink.isFresh(id)) wanted.add(id);
    if (this.scheduled) return;
    this.scheduled = true;
    setTimeout(() => this.send(), 0);
  }

  private send(): void {
    this.scheduled = false;
    for (const [projectId, wanted] of this.wanted) {
      const ids = [...wanted];
      for (let at = 0; at < ids.length; at += AT_ONCE) inBackground(this.fetch(projectId, ids.slice(at, at + AT_ONCE)));
    }
    this.wanted.clear();
  }

  /** What fails is wanted again by whoever is still in sight when the server is back. */
  private async fetch(projectId: string, ids: string[]): Promise<void> {
    for (const id of ids) this.coming.add(id);
    const version = this.sink.version();
    const rows = await this.fetchRows(projectId, ids).catch(() => null);
    for (const id of ids) this.coming.delete(id);
    if (!rows) return;
    const found = new Set(rows.map(({ id }) => id));
    this.sink.take(
      rows,
      ids.filter((id) => !found.has(id)),
      version,
    );
    // All rows have changed while these were on their way.
    const outdated = ids.filter((id) => !this.sink.isFresh(id));
    if (outdated.length > 0) this.want(projectId, outdated);
  }
}

export async function fetchRows(projectId: string, ids: string[]): Promise<LineupRow[]> {
  const { answered } = clipNews.ask();
  try {
    const { url, method, body } = addressOf(CONTRACT.rows, { projectId, ids });
    const answer = await fetch(`/api${url}`, {
      method,
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    });
    if (!answer.ok) throw new Error(`rows: ${answer.status}`);
    const rows = (await answer.json()) as LineupRow[];
    const news = answered();
    return rows.flatMap((row) => (news.has(row.id) ? (news.get(row.id) ?? []) : row));
  } finally {
    answered();
  }
}
