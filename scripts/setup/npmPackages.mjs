import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { SetupProblem } from './setupProblem.mjs';

const STAMP = 'node_modules/.installed-lock';

/** Installs the npm packages when the lock file is not the one they were installed from. */
export function ensureNpmPackages() {
  const lock = createHash('sha256').update(readFileSync('package-lock.json')).digest('hex');
  if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === lock) return;
  console.log('Installing npm packages ...');
  const { status, stderr } = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    encoding: 'utf8',
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  if (status !== 0) {
    const reason = stderr.split('\n').find((line) => line.includes('npm error')) ?? '';
    throw new SetupProblem(
      `The npm packages could not be installed (${reason.trim()}). Check the connection and run it again.`,
    );
  }
  writeFileSync(STAMP, lock);
}
