// npm test: installs what a bare machine lacks, then what `npm run check` looks for, unit tests and browser tests.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, statfsSync } from 'node:fs';
import { freemem, tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureBuilt } from './setup/build.mjs';
import { check } from './setup/checks.mjs';
import { ensureDebianPackages } from './setup/debianPackages.mjs';
import { ensureNpmPackages } from './setup/npmPackages.mjs';
import { EmbeddedPostgres } from './setup/postgres.mjs';
import { ensureNode } from './setup/readiness.mjs';
import { runScript, SetupProblem } from './setup/setupProblem.mjs';

// What a whole run leaves in its scratch folder, with room to spare.
const MOST_SCRATCH_BYTES = 8 * 2 ** 30;
const IN_MEMORY = '/dev/shm';

await runScript(async () => {
  ensureNode();
  ensureDebianPackages(['postgresql', 'ffmpeg', 'chromium-headless-shell']);
  ensureNpmPackages();
  ensureBuilt();

  const scratch = mkdtempSync(join(scratchHome(), 'pocket-twin-tests-'));
  const postgres = new EmbeddedPostgres(scratch);
  let passed = 0;
  let failed = 0;
  try {
    // What tests leave in the folder for what is temporary goes with the rest.
    const temporary = join(scratch, 'temporary');
    mkdirSync(temporary);
    const demo = join(scratch, 'demo');
    // Side by side, as the check leaves a core idle while its slowest part ends.
    const all = /** @type {const} */ ([check(), postgres.start(), makeDemo(demo)]);
    // What one of them found is told once the others have ended.
    await Promise.allSettled(all);
    const [, databaseUrl] = await Promise.all(all);
    const environment = {
      TEST_DATABASE_URL: databaseUrl,
      LOG_LEVEL: 'error',
      TMPDIR: temporary,
      TEST_DEMO: demo,
    };
    const jest = (config, ...more) => runJest(config, more, scratch, environment);
    /** A suite in which anything failed is run once more, by itself: on a machine that is busy with two at once a wait may have been too short. Told, never silent. */
    const twiceIfNeeded = (config, ...more) => {
      const first = jest(config, ...more);
      if (first.failedSuites.length === 0) return first;
      const again = jest(config, '--runInBand', '--runTestsByPath', ...first.failedSuites);
      console.log(`Failed at first, then run once more with ${again.failed} failing:\n${first.failedNames.join('\n')}`);
      return { passed: first.passed - first.passedInFailedSuites + again.passed, failed: again.failed };
    };
    for (const totals of [twiceIfNeeded('jest.config.js'), twiceIfNeeded('e2e/jest.config.js', '--maxWorkers=3')]) {
      passed += totals.passed;
      failed += totals.failed;
    }
  } finally {
    postgres.stop();
    rmSync(scratch, { recursive: true, force: true });
  }
  console.log(`${passed} passed, ${failed} failed`);
  if (failed > 0 || passed === 0) process.exitCode = 1;
});

/** @param {string} folder @returns {Promise<void>} */
function makeDemo(folder) {
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, ['--import', 'tsx', 'demo/main.ts', folder], {
      stdio: ['ignore', 'ignore', 'inherit'],
    });
    child.on('close', (status) => (status === 0 ? resolve() : reject(new SetupProblem('The demo could not be made.'))));
  });
}

/** In memory, where there is room: dozens of databases and all that is written whole wait for the disk otherwise, which took most of a run where that is slow. */
function scratchHome() {
  if (!existsSync(IN_MEMORY)) return tmpdir();
  const { bavail, bsize } = statfsSync(IN_MEMORY);
  return Math.min(bavail * bsize, freemem()) > MOST_SCRATCH_BYTES ? IN_MEMORY : tmpdir();
}

/** Runs one Jest project; a suite that does not even start counts as a failure. */
function runJest(config, more, scratch, environment) {
  const report = join(scratch, 'report.json');
  rmSync(report, { force: true });
  spawnSync(
    process.execPath,
    [
      '--experimental-vm-modules',
      '--disable-warning=ExperimentalWarning',
      // Kernels as programs run them (media/threads/fullSpeedKernels.ts).
      '--no-liftoff',
      '--experimental-wasm-relaxed-simd',
      // Made sound is short-lived: with room for it the collector takes a tenth less of the whole.
      '--max-semi-space-size=64',
      'node_modules/jest/bin/jest.js',
      '--config',
      config,
      '--json',
      '--outputFile',
      report,
      ...process.argv.slice(2),
      ...more,
    ],
    { stdio: ['ignore', 'ignore', 'inherit'], env: { ...process.env, ...environment } },
  );
  const { numPassedTests, numFailedTests, numRuntimeErrorTestSuites, testResults } = JSON.parse(
    readFileSync(report, 'utf8'),
  );
  const failedSuites = testResults.filter(({ status }) => status === 'failed');
  const tests = failedSuites.flatMap(({ assertionResults }) => assertionResults);
  return {
    passed: numPassedTests,
    failed: numFailedTests + numRuntimeErrorTestSuites,
    failedSuites: failedSuites.map(({ name }) => name),
    failedNames: tests.filter(({ status }) => status === 'failed').map(({ fullName }) => `  ${fullName}`),
    passedInFailedSuites: tests.filter(({ status }) => status === 'passed').length,
  };
}
