import type { LineupRow } from '@pocket-twin/core/schema/lineup.ts';

const AT_ONCE = 200;

type Waiting = { resolve: (row: LineupRow | null) => void; reject: (error: unknown) => void };

/** Gathers the rows that come into sight in one frame into one request. */
export class RowLoader {
  private readonly waiting = new Map<string, Waiting[]>();
  private scheduled = false;

  constructor(private readonly fetchRows: (projectId: string, ids: string[]) => Promise<LineupRow[]>) {}

  /** @returns null where the clip is gone */
  load(projectId: string, id: string): Promise<LineupRow | null> {
    return new Promise((resolve, reject) => {
      const key = `${projectId} ${id}`;
      this.waiting.set(key, [...this.waiting.get(key) ?? [], { resolve, reject }]);
      if (this.scheduled) return;
      this.scheduled = true;
      setTimeout(() => this.send(), 0);
    });
  }

  private send(): void {
    this.scheduled = false;
    const asked = new Map(this.waiting);
    this.waiting.clear();
    const byProject = new Map<string, string[]>();
    for (const key of asked.keys()) {
      const [projectId, id] = key.split(' ');
      byProject.set(projectId, [...byProject.get(projectId) ?? [], id]);
    }
    for (const [projectId, ids] of byProject) {
      for (let at = 0; at < ids.length; at += AT_ONCE) void this.fetch(projectId, ids.slice(at, at + AT_ONCE), asked);
    }
  }

  private async fetch(projectId: string, ids: string[], asked: Map<string, Waiting[]>): Promise<void> {
    const waitingFor = (id: string): Waiting[] => asked.get(`${projectId} ${id}`) ?? [];
    try {
      const rows = new Map((await this.fetchRows(projectId, ids)).map((row) => [row.id, row]));
      for (const id of ids) for (const { resolve } of waitingFor(id)) resolve(rows.get(id) ?? null);
    } catch (error) {
      for (const id of ids) for (const { reject } of waitingFor(id)) reject(error);
    }
  }
}

export async function fetchRows(projectId: string, ids: string[]): Promise<LineupRow[]> {
  const answer = await fetch(`/api/projects/${projectId}/rows`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ ids }) });
  if (!answer.ok) throw new Error(`rows: ${answer.status}`);
  return await answer.json() as LineupRow[];
}
