import { spawn } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { recordings, writeMutated } from '@pocket-twin/media/test/hostileFiles.ts';

// Spoilt files, each by the terminal command as a whole process: only measurements and sentences, no crash, and how long and how much memory the worst
// of them takes, FFmpeg included. npm run bench -- hostile [FILES] [SEED]
const [FILES = 300, SEED = 1] = process.argv.slice(2).map(Number);
const MOST_SECONDS = 10;
const MOST_MEGABYTES = 500;
const LOOK_EVERY_MS = 10;

const folder = await mkdtemp(join(tmpdir(), 'pocket-twin-hostile-'));
const whole = await recordings(folder);
const worst = { seconds: 0, megabytes: 0, slow: '', large: '' };
let [measured, refused] = [0, 0];
const crashed: string[] = [];
for (let n = 0; n < FILES; n++) {
  const path = await writeMutated(folder, whole[n % whole.length], whole, SEED * 100_000 + n);
  const { status, stdout, stderr, seconds, megabytes } = await inspect(path);
  const [line] = stdout.trim().split('\n');
  const said = readAnswer(line);
  if (said === null || status === null || status > 2 || stderr.includes('    at '))
    crashed.push(`${basename(path)}: ${status} ${(stderr || stdout).slice(0, 300)}`);
  else if (said.error === null) measured++;
  else {
    refused++;
    if (!said.error.includes(basename(path))) crashed.push(`${basename(path)} is not named: ${said.error}`);
  }
  if (seconds > worst.seconds) Object.assign(worst, { seconds, slow: basename(path) });
  if (megabytes > worst.megabytes) Object.assign(worst, { megabytes, large: basename(path) });
  await rm(path);
}
await rm(folder, { recursive: true, force: true });
console.log(
  `${FILES} spoilt files of ${whole.length} containers, seed ${SEED}: ${measured} measured, ${refused} refused in a sentence, ${crashed.length} crashed`,
);
for (const one of crashed.slice(0, 10)) console.log(`  ${one}`);
report(worst.seconds, MOST_SECONDS, `  slowest ${worst.seconds.toFixed(1)} s, ${worst.slow} (bar ${MOST_SECONDS})`);
report(
  worst.megabytes,
  MOST_MEGABYTES,
  `  largest ${worst.megabytes.toFixed(0)} MB, ${worst.large} (bar ${MOST_MEGABYTES})`,
);
if (crashed.length > 0) process.exitCode = 1;

interface Ran {
  status: number | null;
  stdout: string;
  stderr: string;
  seconds: number;
  megabytes: number;
}

async function inspect(path: string): Promise<Ran> {
  const start = Date.now();
  const child = spawn(process.execPath, ['cli/bin/pocket-twin.mjs', 'inspect', path, '--json'], {
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  const ran: Ran = { status: null, stdout: '', stderr: '', seconds: 0, megabytes: 0 };
  child.stdout.on('data', (bytes: Buffer) => {
    ran.stdout += bytes.toString();
  });
  child.stderr.on('data', (bytes: Buffer) => {
    ran.stderr += bytes.toString();
  });
  const looking = setInterval(() => {
    ran.megabytes = Math.max(ran.megabytes, memoryOf(child.pid!));
  }, LOOK_EVERY_MS);
  ran.status = await new Promise((resolve) => {
    child.on('close', resolve);
  });
  clearInterval(looking);
  ran.seconds = (Date.now() - start) / 1000;
  return ran;
}

/** Resident memory of a process and those it has started, in megabytes. */
function memoryOf(pid: number): number {
  try {
    const own = Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
    const children = readdirSync(`/proc/${pid}/task`).flatMap((task) =>
      readFileSync(`/proc/${pid}/task/${task}/children`, 'utf8').split(' ').filter(Boolean).map(Number),
    );
    return own + children.reduce((sum, child) => sum + memoryOf(child), 0);
  } catch {
    // It is gone.
    return 0;
  }
}

function readAnswer(line: string): { error: string | null } | null {
  try {
    return JSON.parse(line) as { error: string | null };
  } catch {
    return null;
  }
}

function report(figure: number, bar: number, line: string): void {
  console.log(line);
  if (figure > bar) process.exitCode = 1;
}
