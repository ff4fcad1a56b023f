// npm run bench [-- NAME]: speeds and sizes as ratios within one run, never as a timed test.
import { spawnSync } from 'node:child_process';
import { ensureBuilt } from './setup/build.mjs';
import { ensureDebianPackages } from './setup/debianPackages.mjs';
import { ensureNpmPackages } from './setup/npmPackages.mjs';
import { runScript, SetupProblem } from './setup/setupProblem.mjs';

const BENCHES = [
  'fill',
  'turns',
  'forecast',
  'talk',
  'inspect',
  'secondLook',
  'verdicts',
  'shoot',
  'page',
  'day',
  'terminal',
  'handoff',
  'travels',
  'hold',
  'hostile',
];

await runScript(() => {
  ensureDebianPackages(['postgresql', 'ffmpeg', 'chromium-headless-shell']);
  ensureNpmPackages();
  ensureBuilt();
  const wanted = process.argv[2] ? [process.argv[2]] : BENCHES;
  for (const name of wanted) {
    if (!BENCHES.includes(name)) throw new SetupProblem(`There is no bench “${name}”: ${BENCHES.join(', ')}.`);
    const { status } = spawnSync(process.execPath, ['--import', 'tsx', `bench/${name}.ts`, ...process.argv.slice(3)], {
      stdio: 'inherit',
    });
    if (status !== 0) process.exitCode = 1;
  }
});
