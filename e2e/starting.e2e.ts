import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { freePort } from '../scripts/setup/freePort.mjs';
import { Application } from './application.ts';

// What starting meets: another start, a killed one, numbers that are used again.

const ROOT = new URL('..', import.meta.url).pathname;
let app: Application;
beforeAll(async () => {
  app = await Application.start({ POCKET_TWIN_DEMO: 'off' });
}, 180_000);
afterAll(async () => {
  await app?.stop();
});

test('a second start of the same home says where the first one is, and its end leaves that one alone', async () => {
  const second = spawnSync(process.execPath, ['scripts/start.mjs'], {
    cwd: ROOT,
    encoding: 'utf8',
    env: { ...process.env, POCKET_TWIN_HOME: app.home, PORT: String(await freePort()), DATABASE_URL: '' },
  });
  expect([second.status, second.stderr.trim()]).toEqual([1, `Pocket Twin is already running: ${app.origin}/`]);
  const answer = await fetch(`${app.origin}/api/projects`);
  expect([answer.status, await answer.json()]).toEqual([200, []]);
});

test('one more worker finds the database that runs, and its end leaves everything else alone', async () => {
  const worker = spawn(process.execPath, ['scripts/worker.mjs'], {
    cwd: ROOT,
    env: { ...process.env, POCKET_TWIN_HOME: app.home, DATABASE_URL: undefined, LOG_LEVEL: 'info' },
    stdio: ['ignore', 'pipe', 'ignore'],
    detached: true,
  });
  for await (const bytes of worker.stdout) if (String(bytes).includes('The worker is ready.')) break;
  process.kill(-worker.pid!, 'SIGINT');
  await once(worker, 'exit');
  expect((await fetch(`${app.origin}/api/projects`)).status).toBe(200);
});

test('killed outright it starts again, takes over the database that was left, and one whose number is another program’s by now', async () => {
  const pidFile = join(app.home, 'postgres', 'postmaster.pid');
  await app.killStart();
  const left = readFileSync(pidFile, 'utf8').split('\n')[0];
  await app.run();
  expect(readFileSync(pidFile, 'utf8').split('\n')[0]).toBe(left);

  await app.endStart();
  expect(existsSync(pidFile)).toBe(false);
  // As a power cut leaves it, and this process has got the number since.
  writeFileSync(pidFile, `${process.pid}\n${join(app.home, 'postgres')}\n1\n5432\n\n127.0.0.1\n  1 1\nready   \n`);
  await app.run();
  expect(readFileSync(pidFile, 'utf8').split('\n')[0]).not.toBe(String(process.pid));
  expect((await fetch(`${app.origin}/api/projects`)).status).toBe(200);
}, 120_000);

test('data of a PostgreSQL that is not here any more is not touched by another, and the way out is said', async () => {
  const home = join(app.home, 'old-home');
  mkdirSync(join(home, 'postgres'), { recursive: true });
  writeFileSync(join(home, 'postgres', 'PG_VERSION'), '9\n');
  const { status, stderr } = spawnSync(process.execPath, ['scripts/start.mjs'], {
    cwd: ROOT,
    encoding: 'utf8',
    env: { ...process.env, POCKET_TWIN_HOME: home, PORT: String(await freePort()), DATABASE_URL: '' },
  });
  expect([status, stderr.trim()]).toEqual([
    1,
    'The database was made by PostgreSQL 9, which is not installed any more. Install it with: sudo apt-get install -y postgresql-9',
  ]);
});
