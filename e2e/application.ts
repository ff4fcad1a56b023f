import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Browser, type Page } from 'playwright-core';

const FLAGS = [
  '--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking',
  '--disable-component-update', '--disable-sync',
];

/** The application as `npm start` brings it up, in a home of its own, and a browser looking at it. */
export class Application {
  private constructor(
    readonly origin: string, readonly home: string, private readonly browser: Browser, private readonly child: ChildProcess,
  ) {}

  static async start(): Promise<Application> {
    const home = await mkdtemp(join(tmpdir(), 'pocket-twin-e2e-'));
    const port = await freePort();
    const child = spawn(process.execPath, ['scripts/start.mjs'], {
      cwd: new URL('..', import.meta.url).pathname,
      env: { ...process.env, POCKET_TWIN_HOME: home, PORT: String(port), DATABASE_URL: '' },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    await new Promise<void>((resolve, reject) => {
      child.stdout!.on('data', (bytes: Buffer) => { if (bytes.toString().includes('is ready')) resolve(); });
      child.once('exit', (code) => reject(new Error(`npm start ended (${code})`)));
    });
    const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: FLAGS });
    return new Application(`http://localhost:${port}`, home, browser, child);
  }

  /** A fresh page that fails the test on anything the browser complains about. */
  async open(path: string, complaints: string[]): Promise<Page> {
    const context = await this.browser.newContext({ viewport: { width: 1280, height: 800 }, acceptDownloads: true });
    const page = await context.newPage();
    page.on('console', (message) => { if (message.type() === 'error') complaints.push(message.text()); });
    page.on('pageerror', (error) => complaints.push(error.message));
    await page.goto(this.origin + path);
    return page;
  }

  async stop(): Promise<void> {
    await this.browser.close();
    const ended = new Promise((resolve) => { this.child.once('exit', resolve); });
    this.child.kill('SIGINT');
    await ended;
    await rm(this.home, { recursive: true, force: true });
  }
}

function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const server = createServer();
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address() as AddressInfo;
      server.close(() => resolve(port));
    });
  });
}
