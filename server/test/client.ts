import { Lineup, LineupRow } from '@pocket-twin/core/schema/lineup.ts';
import { Clip } from '@pocket-twin/core/schema/clip.ts';

export type Answer = { status: number; body: never };

/** Speaks to a test server as the page does. */
export class Client {
  constructor(readonly origin: string) {}

  async call(method: string, path: string, body?: unknown): Promise<Answer> {
    const answer = await fetch(`${this.origin}/api/${path}`, {
      method,
      headers: { 'Content-Type': 'application/json' },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
    const text = await answer.text();
    return { status: answer.status, body: (text ? JSON.parse(text) : null) as never };
  }

  /** A whole tus upload in two pieces, with a look in between at where it stopped. */
  async upload(
    projectId: string,
    name: string,
    bytes: Buffer,
    more: { folder?: string; chosenAt?: string } = {},
  ): Promise<void> {
    const encoded = (text: string): string => Buffer.from(text).toString('base64');
    const metadata = Object.entries({ filename: name, projectId, ...more })
      .map(([key, value]) => `${key} ${encoded(value)}`)
      .join(',');
    const created = await fetch(`${this.origin}/api/uploads`, {
      method: 'POST',
      headers: { 'Tus-Resumable': '1.0.0', 'Upload-Length': String(bytes.length), 'Upload-Metadata': metadata },
    });
    expect(created.status).toBe(201);
    const url = new URL(created.headers.get('Location')!, this.origin);
    for (let offset = 0; offset < bytes.length;) {
      const piece = bytes.subarray(offset, offset + Math.ceil(bytes.length / 2));
      const sent = await fetch(url, {
        method: 'PATCH',
        body: new Uint8Array(piece),
        headers: {
          'Tus-Resumable': '1.0.0',
          'Upload-Offset': String(offset),
          'Content-Type': 'application/offset+octet-stream',
        },
      });
      expect(sent.status).toBe(204);
      offset = Number(sent.headers.get('Upload-Offset'));
    }
  }

  async newProject(): Promise<string> {
    const { status, body } = await this.call('POST', 'projects', { name: 'A film' });
    expect(status).toBe(201);
    return (body as { id: string }).id;
  }

  async clipsOf(projectId: string): Promise<Clip[]> {
    return Clip.array().parse((await this.call('GET', `projects/${projectId}/clips?limit=500`)).body);
  }

  async lineupOf(projectId: string, query = ''): Promise<Lineup> {
    return Lineup.parse((await this.call('GET', `projects/${projectId}/lineup?${query}`)).body);
  }

  async rowsOf(projectId: string, query = ''): Promise<LineupRow[]> {
    const ids = (await this.lineupOf(projectId, query)).groups.flatMap((group) => group.ids);
    const rows = LineupRow.array().parse((await this.call('POST', `projects/${projectId}/rows`, { ids })).body);
    return ids.map((id) => rows.find((row) => row.id === id)!);
  }

  /** All clips of a project once they are measured or refused. While the database is away nothing is known. */
  settled(projectId: string, count: number): Promise<Clip[]> {
    return until(async () => {
      const { status, body } = await this.call('GET', `projects/${projectId}/clips?limit=500`);
      if (status === 503) return false;
      const clips = Clip.array().parse(body);
      return clips.length === count && clips.every(({ state }) => state === 'ready' || state === 'failed') && clips;
    });
  }
}

export async function until<Value>(look: () => Promise<Value | null | undefined | false>): Promise<Value> {
  for (let tries = 0; tries < 300; tries++) {
    const found = await look();
    if (found) return found;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error('It did not come.');
}
