import { createHash, randomUUID } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, renameSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import pg from 'pg';
import type { Page } from 'playwright-core';
import { mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { seededRandom } from '@pocket-twin/core/signal/random.ts';
import { Clip } from '@pocket-twin/core/schema/clip.ts';
import { Writing } from '@pocket-twin/core/schema/writing.ts';
import { Lineup } from '@pocket-twin/core/schema/lineup.ts';
import { wavBytes } from '@pocket-twin/media/test/files.ts';
import type { Application } from '../application.ts';

// Kills, restarts and outages at random moments while clips come in, are measured and written; then everything that a person was told is held
// against what is there.

export interface HoldPlan {
  seed: number;
  clips: number;
  writings: number;
  workerKills: number;
  serverKills: number;
  /** Of the server's, between an upload's last byte and its row. */
  beforeRow: number;
  databaseRestarts: number;
  databaseKills: number;
  outageSeconds: number;
}

const SETTLE_SECONDS = 60;

interface Sent {
  id: string;
  name: string;
  hash: string;
}

/** One application under attack. */
export class Siege {
  /** What was found broken, a sentence each. */
  readonly broken: string[] = [];
  private readonly random: () => number;
  private readonly sent: Sent[] = [];
  private projectId = '';
  private page: Page | null = null;
  private shotDatabase: number | null = null;

  constructor(
    private readonly app: Application,
    private readonly plan: HoldPlan,
    private readonly say: (line: string) => void,
  ) {
    this.random = seededRandom(plan.seed);
  }

  async run(): Promise<void> {
    await this.begin();
    await this.workers();
    await this.servers();
    await this.databases();
    await this.page?.context().close();
  }

  /** A project with its clips on their way, and a page that is open all the time. */
  private async begin(): Promise<void> {
    this.projectId = (await this.ask<{ id: string }>('POST', 'projects', { name: 'Siege' })).id;
    this.page = await this.app.open(`/projects/${this.projectId}`, []);
    await this.page.getByText('Drop your clips here.').waitFor();
    await this.bringIn(this.plan.clips);
  }

  private async workers(): Promise<void> {
    const { workerKills, writings } = this.plan;
    let asked = 0;
    for (let kill = 1; kill <= workerKills; kill++) {
      await pause(150 + this.random() * 900);
      this.app.shoot('worker');
      // There is always something to do: clips are measured again, and written.
      const ready = (await this.clips()).filter(({ state }) => state === 'ready');
      for (const clip of this.some(ready, 6)) await this.ask('POST', `clips/${clip.id}/measure`);
      if (asked < writings && asked < (kill * writings) / workerKills)
        for (const clip of this.some(ready, 2)) if (await this.mayWrite(clip)) asked++;
    }
    for (let tries = 0; asked < writings && tries < 1000; tries++) {
      for (const clip of this.some(await this.clips(), 3)) if (await this.mayWrite(clip)) asked++;
    }
    await this.check(`${workerKills} kills of the worker over ${this.plan.clips} clips and ${asked} writings`);
  }

  private async servers(): Promise<void> {
    const { serverKills, beforeRow } = this.plan;
    for (let kill = 1; kill <= serverKills; kill++) {
      const arriving = this.bringIn(4);
      if (kill <= beforeRow) await this.killBeforeRow();
      else {
        await pause(this.random() * 700);
        this.app.shoot('server');
      }
      await arriving;
    }
    await this.check(
      `${serverKills} kills of the server during uploads, ${beforeRow} of them between the last byte and the row`,
    );
  }

  /** Holds the table of clips so that no row can be made, waits until a row is wanted, and kills the server there. */
  private async killBeforeRow(): Promise<void> {
    const client = new pg.Client({ connectionString: this.app.databaseUrl() });
    await client.connect();
    await client.query('begin; lock table clips in share row exclusive mode');
    for (let tries = 0; tries < 100; tries++) {
      const { rows } = await client.query<{ waiting: number }>(
        "select count(*)::int as waiting from pg_locks l join pg_class c on c.oid = l.relation where c.relname = 'clips' and not l.granted",
      );
      if (rows[0].waiting > 0) break;
      await pause(20);
    }
    this.app.shoot('server');
    await client.query('rollback');
    await client.end();
  }

  private async databases(): Promise<void> {
    const { databaseRestarts, databaseKills, outageSeconds } = this.plan;
    for (let restart = 0; restart < databaseRestarts + databaseKills; restart++) {
      const arriving = this.bringIn(6);
      await pause(this.random() * 1500);
      // Fast shutdown as its own tools ask for, or none at all.
      await this.shootDatabase(restart < databaseRestarts ? 'SIGINT' : 'SIGKILL');
      await arriving;
    }
    if (outageSeconds > 0) {
      const conf = join(this.app.home, 'postgres', 'postgresql.conf');
      const arriving = this.bringIn(6);
      // It cannot be started again as long as its own file is away.
      renameSync(conf, `${conf}.away`);
      await this.shootDatabase('SIGINT');
      const told = this.page!.getByText('The database does not answer just now.')
        .first()
        .waitFor({ timeout: (outageSeconds + 10) * 1000 })
        .then(
          () => true,
          () => false,
        );
      await pause(outageSeconds * 1000);
      renameSync(`${conf}.away`, conf);
      if (!(await told)) this.broken.push('The page did not say that the database was away.');
      await arriving;
    }
    await this.check(
      `${databaseRestarts} restarts and ${databaseKills} kills of the database, ${outageSeconds > 0 ? `one outage of ${outageSeconds} s` : 'no outage'}`,
    );
  }

  /** Waits for a database that is just being started, as it was shot before: the one that ends may still have its file. */
  private async shootDatabase(signal: NodeJS.Signals): Promise<void> {
    const until = Date.now() + SETTLE_SECONDS * 1000;
    let pid = this.databasePid();
    for (; (pid === null || pid === this.shotDatabase) && Date.now() < until; pid = this.databasePid()) await pause(50);
    if (pid === null || pid === this.shotDatabase) throw new Error(`No database after ${SETTLE_SECONDS} s.`);
    this.shotDatabase = pid;
    process.kill(pid, signal);
  }

  private databasePid(): number | null {
    const file = join(this.app.home, 'postgres', 'postmaster.pid');
    try {
      return Number(readFileSync(file, 'utf8').split('\n')[0]) || null;
    } catch {
      return null;
    }
  }

  /** Sends clips up as a page does: again until each is reported as done. */
  private async bringIn(count: number): Promise<void> {
    await Promise.all(
      Array.from({ length: 4 }, async (_, lane) => {
        for (let i = lane; i < count; i += 4) {
          const seconds = 1 + this.random() * 2;
          const bytes = wavBytes([
            mix(chatter(0.1, seconds, Math.floor(this.random() * 1e6)), noise(0.0005, seconds, 3)),
            noise(0.0008, seconds, Math.floor(this.random() * 1e6)),
          ]);
          const one = {
            id: randomUUID(),
            name: `clip-${this.sent.length}.wav`,
            hash: createHash('blake2b512').update(bytes).digest('hex').slice(0, 64),
          };
          this.sent.push(one);
          await this.sendUp(one, bytes);
        }
      }),
    );
  }

  private async sendUp({ id, name }: Sent, bytes: Buffer): Promise<void> {
    const metadata = Object.entries({ id, filename: name, projectId: this.projectId })
      .map(([key, value]) => `${key} ${Buffer.from(value).toString('base64')}`)
      .join(',');
    for (const until = Date.now() + 120_000; Date.now() < until; await pause(200)) {
      const answer = await fetch(`${this.app.origin}/api/uploads`, {
        method: 'POST',
        body: new Uint8Array(bytes),
        headers: {
          'Tus-Resumable': '1.0.0',
          'Upload-Length': String(bytes.length),
          'Upload-Metadata': metadata,
          'Content-Type': 'application/offset+octet-stream',
        },
      }).catch(() => null);
      if (answer?.status !== 201) continue;
      // What is there already is answered at once; half of it is gone on with.
      const offset = Number(answer.headers.get('Upload-Offset') ?? 0);
      if (offset === bytes.length) return;
      const rest = await fetch(`${this.app.origin}/api/uploads/${id}`, {
        method: 'PATCH',
        body: new Uint8Array(bytes.subarray(offset)),
        headers: {
          'Tus-Resumable': '1.0.0',
          'Upload-Offset': String(offset),
          'Content-Type': 'application/offset+octet-stream',
        },
      }).catch(() => null);
      if (rest?.status === 204) return;
    }
    this.broken.push(`${name} could not be sent up in two minutes.`);
  }

  private async mayWrite(clip: Clip): Promise<boolean> {
    return this.ask<{ title?: string }>('POST', `clips/${clip.id}/writings`, {}).then(
      () => true,
      () => false,
    );
  }

  private async check(after: string): Promise<void> {
    const start = Date.now();
    let open = ['never asked'];
    while (open.length > 0 && Date.now() - start < SETTLE_SECONDS * 1000) {
      open = await this.openRows().catch((error: unknown) => [String(error)]);
      if (open.length > 0) await pause(250);
    }
    if (open.length > 0)
      this.broken.push(`After ${after}: ${open.length} rows did not settle within ${SETTLE_SECONDS} s (${open[0]}).`);
    this.say(
      `after ${after}: ${open.length === 0 ? `all settled after ${((Date.now() - start) / 1000).toFixed(1)} s` : `${open.length} not settled`}, ${this.sent.length} clips`,
    );
    const clips = await this.clips();
    this.holdClips(clips);
    await this.holdWritings(clips);
    await this.holdPage();
  }

  private async openRows(): Promise<string[]> {
    const clips = await this.clips();
    const writings = await this.writings();
    return [
      ...clips
        .filter(({ state }) => state === 'waiting' || state === 'reading')
        .map(({ name, state }) => `${name} is ${state}`),
      ...writings
        .filter(({ state }) => state === 'waiting' || state === 'writing')
        .map(({ id, state }) => `writing ${id} is ${state}`),
      ...this.sent.filter(({ id }) => !clips.some((clip) => clip.id === id)).map(({ name }) => `${name} is not there`),
    ];
  }

  /** Every upload that was reported as done is one clip with the same content, and none failed. */
  private holdClips(clips: Clip[]): void {
    if (clips.length !== this.sent.length)
      this.broken.push(`${this.sent.length} uploads became ${clips.length} clips.`);
    for (const { state, name, error } of clips) if (state === 'failed') this.broken.push(`${name} failed: ${error}`);
    for (const { id, name, hash } of this.sent) {
      const original = join(this.app.home, 'clips', id, 'original', name);
      const there = createHash('blake2b512').update(readFileSync(original)).digest('hex').slice(0, 64);
      if (there !== hash) this.broken.push(`${name} has another content than what was sent up.`);
    }
  }

  /** What stands under a final name is whole: its receipt is there, and its size is what the receipt says. */
  private async holdWritings(clips: Clip[]): Promise<void> {
    for (const { id, state, receipt, error } of await this.writings()) {
      if (state === 'failed') this.broken.push(`A writing failed: ${error}`);
      for (const file of receipt?.files ?? []) {
        const { size } = statSync(join(this.app.home, 'written', id, file.name));
        const source = clips.find(({ name }) => name === receipt!.source);
        if (
          size !== file.bytes ||
          file.frames !== source?.inspection?.format.frames ||
          file.proof.differingFrames !== 0
        )
          this.broken.push(`${file.name} is not what its receipt says.`);
      }
      const folder = join(this.app.home, 'written', id);
      const final = existsSync(folder) ? readdirSync(folder).filter((name) => !name.startsWith('.')) : [];
      if (final.length !== (receipt?.files.length ?? 0))
        this.broken.push(
          `${final.join(', ') || 'Nothing'} stands in ${id} (${state}), ${receipt?.files.length ?? 0} files in its receipt.`,
        );
    }
  }

  /** The page that was open all the time counts as the server does. */
  private async holdPage(): Promise<void> {
    const { counts } = Lineup.parse(await this.ask('GET', `projects/${this.projectId}/lineup`));
    const shown = (): Promise<Record<string, number>> =>
      this.page!.evaluate(() =>
        Object.fromEntries(
          [...document.querySelectorAll<HTMLElement>('[data-filter]')].map((chip) => [
            chip.dataset.filter,
            Number(chip.querySelector('.numeric')?.textContent),
          ]),
        ),
      );
    for (const until = Date.now() + 20_000; ; await pause(250)) {
      const on = await shown();
      const differing = Object.entries(counts).filter(([filter, count]) => on[filter] !== count);
      if (differing.length === 0 && on.all === this.sent.length) return;
      if (Date.now() < until) continue;
      this.broken.push(`The page shows ${JSON.stringify(on)} where the server counts ${JSON.stringify(counts)}.`);
      return;
    }
  }

  private some<Value>(values: Value[], count: number): Value[] {
    return values.length === 0
      ? []
      : Array.from({ length: count }, () => values[Math.floor(this.random() * values.length)]);
  }

  private async clips(): Promise<Clip[]> {
    const pages: Clip[][] = [];
    do
      pages.push(
        Clip.array().parse(
          await this.ask('GET', `projects/${this.projectId}/clips?limit=500&offset=${500 * pages.length}`),
        ),
      );
    while (pages.at(-1)!.length === 500);
    return pages.flat();
  }

  private async writings(): Promise<Writing[]> {
    const client = new pg.Client({ connectionString: this.app.databaseUrl() });
    await client.connect();
    try {
      const { rows } = await client.query<Writing & { createdAt: Date }>(
        'select id, "clipId", "projectId", state, error, receipt, "createdAt" from writings',
      );
      return rows.map((row) => Writing.parse({ ...row, createdAt: row.createdAt.toISOString() }));
    } finally {
      await client.end();
    }
  }

  /** Asked again while the server or the database is away. */
  private async ask<Answer>(method: string, path: string, body?: unknown): Promise<Answer> {
    for (const until = Date.now() + SETTLE_SECONDS * 1000; ; await pause(150)) {
      const answer = await fetch(`${this.app.origin}/api/${path}`, {
        method,
        headers: { 'Content-Type': 'application/json' },
        body: body === undefined ? undefined : JSON.stringify(body),
      }).catch(() => null);
      if (answer && answer.status < 500) {
        const found = (await answer.json().catch(() => ({}))) as Answer & { title?: string };
        if (answer.ok) return found;
        throw new Error(`${path}: ${found.title}`);
      }
      if (Date.now() > until) throw new Error(`${path}: ${answer?.status ?? 'no answer'}`);
    }
  }
}
