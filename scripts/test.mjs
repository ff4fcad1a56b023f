// npm test: installs what a bare machine lacks, then what `npm run check` looks for, unit tests and browser tests.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureBuilt } from './setup/build.mjs';
import { check } from './setup/checks.mjs';
import { ensureDebianPackages } from './setup/debianPackages.mjs';
import { ensureNpmPackages } from './setup/npmPackages.mjs';
import { EmbeddedPostgres } from './setup/postgres.mjs';
import { ensureNode } from './setup/readiness.mjs';
import { runScript } from './setup/setupProblem.mjs';

await runScript(async () => {
  ensureNode();
  ensureDebianPackages(['postgresql', 'ffmpeg', 'chromium']);
  ensureNpmPackages();
  ensureBuilt();
  await check();

  const scratch = mkdtempSync(join(tmpdir(), 'pocket-twin-tests-'));
  const postgres = new EmbeddedPostgres(scratch);
  const totals = { passed: 0, failed: 0 };
  try {
    const environment = { TEST_DATABASE_URL: await postgres.start(), LOG_LEVEL: 'error' };
    jest('jest.config.js', scratch, environment, totals);
    jest('e2e/jest.config.js', scratch, environment, totals, ['--maxWorkers=2']);
  } finally {
    postgres.stop();
    rmSync(scratch, { recursive: true, force: true });
  }
  console.log(`${totals.passed} passed, ${totals.failed} failed`);
  if (totals.failed > 0 || totals.passed === 0) process.exitCode = 1;
});

/** Runs one Jest project; a suite that does not even start counts as a failure. */
function jest(config, scratch, environment, totals, more = []) {
  const report = join(scratch, 'report.json');
  rmSync(report, { force: true });
  spawnSync(
    process.execPath,
    [
      '--experimental-vm-modules',
      '--disable-warning=ExperimentalWarning',
      'node_modules/jest/bin/jest.js',
      '--config',
      config,
      '--json',
      '--outputFile',
      report,
      ...more,
      ...process.argv.slice(2),
    ],
    { stdio: ['ignore', 'ignore', 'inherit'], env: { ...process.env, ...environment } },
  );
  const { numPassedTests, numFailedTests, numRuntimeErrorTestSuites } = JSON.parse(readFileSync(report, 'utf8'));
  totals.passed += numPassedTests;
  totals.failed += numFailedTests + numRuntimeErrorTestSuites;
}
