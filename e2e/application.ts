import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { AxeBuilder } from '@axe-core/playwright';
import { chromium, type Browser, type Locator, type Page } from 'playwright-core';
import { chromiumPath } from '../scripts/setup/chromium.mjs';
import { freePort } from '../scripts/setup/freePort.mjs';

const FLAGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

/** The application as `npm start` brings it up, in a home of its own, and a browser looking at it. */
export class Application {
  private child!: ChildProcess;

  private constructor(
    readonly origin: string,
    readonly home: string,
    readonly media: string,
    private readonly port: number,
    private readonly browser: Browser,
    private readonly settings: NodeJS.ProcessEnv,
  ) {}

  /** @param settings of the start configuration, besides where it keeps what is its own */
  static async start(settings: NodeJS.ProcessEnv = {}): Promise<Application> {
    const home = await mkdtemp(join(tmpdir(), 'pocket-twin-e2e-'));
    const media = join(home, 'footage');
    await mkdir(media);
    const port = await freePort();
    const browser = await chromium.launch({ executablePath: chromiumPath(), args: FLAGS });
    const app = new Application(`http://localhost:${port}`, home, media, port, browser, settings);
    await app.run();
    return app;
  }

  /** The address that the start prints. */
  address = '';

  /** Starts it, as a person would. */
  async run(): Promise<void> {
    this.child = spawn(process.execPath, ['scripts/start.mjs'], {
      cwd: new URL('..', import.meta.url).pathname,
      env: {
        ...process.env,
        POCKET_TWIN_TOKEN: 'off',
        // A whole run has made the demo's clips once already.
        POCKET_TWIN_DEMO: process.env.TEST_DEMO,
        ...this.settings,
        POCKET_TWIN_HOME: this.home,
        POCKET_TWIN_MEDIA: this.media,
        PORT: String(this.port),
        DATABASE_URL: '',
      },
      stdio: ['ignore', 'pipe', 'ignore'],
    });
    await new Promise<void>((resolve, reject) => {
      this.child.stdout!.on('data', (bytes: Buffer) => {
        const [, address] = /is ready: (\S+)/.exec(bytes.toString()) ?? [];
        if (!address) return;
        this.address = address;
        resolve();
      });
      this.child.once('exit', (code) => reject(new Error(`npm start ended (${code})`)));
    });
  }

  /** Kills one of its processes outright, and waits for the one that takes its place. */
  async kill(part: 'server' | 'worker'): Promise<void> {
    const killed = this.pidOf(part);
    process.kill(killed, 'SIGKILL');
    while (
      this.findPid(part) === killed ||
      this.findPid(part) === null ||
      (part === 'server' && !(await this.answers()))
    )
      await new Promise((resolve) => {
        setTimeout(resolve, 100);
      });
  }

  /** Kills one of its processes outright, if it is there just now, and waits for nothing. */
  shoot(part: 'server' | 'worker'): void {
    const pid = this.findPid(part);
    if (pid !== null) process.kill(pid, 'SIGKILL');
  }

  private answers(): Promise<boolean> {
    return fetch(`${this.origin}/api/health`).then(
      ({ ok }) => ok,
      () => false,
    );
  }

  pidOf(part: 'server' | 'worker'): number {
    const pid = this.findPid(part);
    if (pid === null) throw new Error(`There is no ${part}.`);
    return pid;
  }

  private findPid(part: 'server' | 'worker'): number | null {
    const name = part === 'server' ? 'server/main' : 'server/worker';
    const { stdout } = spawnSync('pgrep', ['-P', String(this.child.pid), '-f', name], { encoding: 'utf8' });
    return stdout.trim() === '' ? null : Number(stdout.trim().split('\n')[0]);
  }

  /** Of the database that it started for itself. */
  databaseUrl(): string {
    const port = readFileSync(join(this.home, 'postgres', 'postmaster.pid'), 'utf8').split('\n')[3];
    return `postgres://pocket_twin:${readFileSync(join(this.home, 'database-password'), 'utf8')}@127.0.0.1:${port}/pocket_twin`;
  }

  /** A fresh page that fails the test on anything the browser complains about. */
  async open(path: string, complaints: string[], height = 800): Promise<Page> {
    const context = await this.browser.newContext({ viewport: { width: 1280, height }, acceptDownloads: true });
    const page = await context.newPage();
    page.on('console', (message) => {
      if (message.type() === 'error') complaints.push(message.text());
    });
    page.on('pageerror', (error) => complaints.push(error.message));
    await page.goto(this.origin + path);
    return page;
  }

  /** Ends it as a person does, or outright: then its server and worker end by themselves, and its database is left. */
  async endStart(): Promise<void> {
    const ended = new Promise((resolve) => {
      this.child.once('exit', resolve);
    });
    this.child.kill('SIGINT');
    await ended;
  }

  async killStart(): Promise<void> {
    const ended = new Promise((resolve) => {
      this.child.once('exit', resolve);
    });
    this.child.kill('SIGKILL');
    await ended;
    while (await this.answers())
      await new Promise((resolve) => {
        setTimeout(resolve, 100);
      });
  }

  async stop(): Promise<void> {
    await this.browser.close();
    await this.endStart();
    await rm(this.home, { recursive: true, force: true });
  }
}

/** Our pages have no frames, so axe needs no page of its own beside them, and what passed is not listed: a fifth of the time. */
export async function expectNothingSerious(page: Page): Promise<void> {
  const { violations } = await new AxeBuilder({ page })
    .setLegacyMode()
    .options({ resultTypes: ['violations'] })
    .analyze();
  expect(
    violations
      .filter(({ impact }) => impact === 'serious' || impact === 'critical')
      .map(({ id, nodes }) => `${id}: ${nodes[0].html}`),
  ).toEqual([]);
}

/** What does not fit scrolls in its own place: were the page to scroll, the top bar would leave, and focus go where nothing is seen. */
export async function expectPageStays(page: Page): Promise<void> {
  const beyond = await page.evaluate(() => {
    const { scrollWidth, scrollHeight } = document.documentElement;
    return {
      across: Math.max(0, scrollWidth - window.innerWidth),
      down: Math.max(0, scrollHeight - window.innerHeight),
    };
  });
  expect(beyond).toEqual({ across: 0, down: 0 });
}

export async function newProject(page: Page, name: string): Promise<void> {
  await page.getByLabel('Or an empty one, by name').fill(name);
  await page.getByRole('button', { name: 'Make project' }).click();
  await page.getByText('Drop your clips here.').waitFor();
}

type Chosen = string | (string | { name: string; buffer: Buffer })[];

/** Through the button. What is only in memory is written first: a page that is handed bytes takes them apart one by one. */
export async function bringIn(page: Page, files: Chosen): Promise<void> {
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Add clips', exact: true }).click();
  await (await chooser).setFiles(await onDisk(files));
}

/** Each in a folder of its own, as names may come twice. */
async function onDisk(files: Chosen): Promise<string[]> {
  if (typeof files === 'string') return [files];
  return Promise.all(
    files.map(async (file) => {
      if (typeof file === 'string') return file;
      const path = join(await mkdtemp(join(tmpdir(), 'pocket-twin-chosen-')), file.name);
      await writeFile(path, file.buffer);
      return path;
    }),
  );
}

/** Files and folders from outside the browser, let go in the middle of the page. */
export async function dropFiles(page: Page, paths: string[]): Promise<void> {
  const devtools = await page.context().newCDPSession(page);
  const { width, height } = page.viewportSize()!;
  for (const type of ['dragEnter', 'dragOver', 'drop'] as const) {
    await devtools.send('Input.dispatchDragEvent', {
      type,
      x: width / 2,
      y: height / 2,
      data: { items: [], files: paths, dragOperationsMask: 1 },
    });
  }
  await devtools.detach();
}

/** A clip's row in the lineup, where it is in sight. */
export function clipRow(page: Page, name: string): Locator {
  return page.getByRole('row').filter({ has: page.locator(`[data-clip="${name}"]`) });
}

/** Ticks or unticks a clip. */
export async function chooseClip(page: Page, name: string): Promise<void> {
  await clipRow(page, name)
    .getByRole('checkbox', { name: `Choose ${name}` })
    .click();
}

/** What the news at the foot of the lineup offers; the one in the top bar may not have heard of it yet. */
export async function undoLast(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Undo', exact: true, disabled: false }).click();
}

/** The browser notes answers that were no success: here they are the test's own doing, at least one, and nothing else is among them. */
export function expectOnlyOwn(complaints: string[], own: RegExp): void {
  const noted = complaints.splice(0);
  expect(noted).not.toEqual([]);
  expect(noted.filter((text) => !own.test(text))).toEqual([]);
}

/** Leaves one clip in the lineup, and waits until it is the only one. */
export async function searchFor(page: Page, name: string): Promise<void> {
  await page.getByLabel('Search clips').fill(name);
  await page.getByRole('radio', { name: 'All 1', exact: true }).waitFor();
  await clipRow(page, name).waitFor();
}

export async function openOnBench(page: Page, name: string): Promise<void> {
  const link = clipRow(page, name).getByRole('link', { name, exact: true });
  await link.click();
  // A row that moves between press and release, as its setup appears above it, is not clicked: a person presses once more.
  await page.waitForURL('**/bench/**', { timeout: 5000 }).catch(() => link.click());
}

/** One of a few that stand side by side: what is pressed is its label. */
export async function pickRadio(page: Page, name: string): Promise<void> {
  await page.getByRole('radio', { name, exact: true }).locator('xpath=ancestor::label').click();
}
