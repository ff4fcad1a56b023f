import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { seededRandom } from '@pocket-twin/core/signal/random.ts';
import { freePort } from '../../scripts/setup/freePort.mjs';

// A first start that is ended at a random moment leaves a home that starts.

const ROOT = new URL('../..', import.meta.url).pathname;
const SIDE_BY_SIDE = 2;
// From before the database is made to after the tables are.
const LATEST_MS = 9000;
const STARTS_WITHIN_MS = 90_000;

/** @returns what was found broken, a sentence each */
export async function endFirstStarts(times: number, seed: number): Promise<string[]> {
  const random = seededRandom(seed);
  const moments = Array.from({ length: times }, (_, i) => ({
    afterMs: random() * LATEST_MS,
    signal: i % 2 === 0 ? ('SIGTERM' as const) : ('SIGKILL' as const),
  }));
  const broken: string[] = [];
  await Promise.all(
    Array.from({ length: SIDE_BY_SIDE }, async (_, lane) => {
      for (let i = lane; i < times; i += SIDE_BY_SIDE) {
        const complaint = await endOne(moments[i].signal, moments[i].afterMs);
        if (complaint)
          broken.push(
            `${moments[i].signal} after ${(moments[i].afterMs / 1000).toFixed(1)} s of a first start: ${complaint}`,
          );
      }
    }),
  );
  return broken;
}

async function endOne(signal: NodeJS.Signals, afterMs: number): Promise<string | null> {
  const home = await mkdtemp(join(tmpdir(), 'pocket-twin-first-'));
  const port = await freePort();
  const start = () =>
    spawn(process.execPath, ['scripts/start.mjs'], {
      cwd: ROOT,
      env: {
        ...process.env,
        POCKET_TWIN_HOME: home,
        PORT: String(port),
        DATABASE_URL: '',
        POCKET_TWIN_TOKEN: 'off',
        POCKET_TWIN_DEMO: 'off',
      },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
  try {
    const first = start();
    first.stdout.resume();
    first.stderr.resume();
    const ended = once(first, 'exit');
    await pause(afterMs);
    first.kill(signal);
    await ended;
    const second = start();
    let said = '';
    for (const stream of [second.stdout, second.stderr])
      stream.on('data', (bytes: Buffer) => {
        said += bytes.toString();
      });
    const endedToo = once(second, 'exit');
    const ready = await until(
      () => said.includes('is ready'),
      () => second.exitCode !== null,
    );
    const answers =
      ready &&
      (await fetch(`http://localhost:${port}/api/projects`).then(
        async (answer) => answer.ok && Array.isArray(await answer.json()),
        () => false,
      ));
    second.kill('SIGINT');
    await endedToo;
    return answers
      ? null
      : `the next start said: ${
          said
            .trim()
            .split('\n')
            .filter((line) => /Error|\.$/.test(line))
            .slice(0, 2)
            .join(' ') || said.slice(-200)
        }`;
  } finally {
    await rm(home, { recursive: true, force: true });
  }
}

/** @returns whether it came before the time was up, and before there was nobody left to do it */
async function until(there: () => boolean, over: () => boolean): Promise<boolean> {
  for (const end = Date.now() + STARTS_WITHIN_MS; Date.now() < end && !over(); await pause(50))
    if (there()) return true;
  return there();
}
