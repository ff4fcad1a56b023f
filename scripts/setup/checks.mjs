import { spawn } from 'node:child_process';
import { SetupProblem } from './setupProblem.mjs';

// Everything that is found without running the code: types, linter, unused, circles, format.

const FOLDERS = ['core', 'media', 'server', 'web', 'cli', 'demo', 'bench', 'e2e', 'scripts'];
// The native compiler takes a third of the time; the linter's plug-in needs the one before it.
const TSC = 'typescript-native/bin/tsc';
const CHECKS = {
  types: [TSC, '--noEmit', '-p', 'tsconfig.json'],
  // core by itself: without what only a page or only Node has.
  core: [TSC, '--noEmit', '-p', 'core/tsconfig.json'],
  scripts: [TSC, '--noEmit', '-p', 'scripts/tsconfig.json'],
  linter: ['.bin/eslint', '.'],
  unused: ['.bin/knip', '--no-config-hints'],
  walls: ['.bin/depcruise', '--config', '.dependency-cruiser.cjs', ...FOLDERS],
  format: ['.bin/prettier', '--check', '--log-level', 'warn', '.'],
};

/** Side by side, as each takes most of a core. @throws SetupProblem that names what found something */
export async function check() {
  const found = [];
  await Promise.all(
    Object.entries(CHECKS).map(async ([name, [program, ...args]]) => {
      const { status, output } = await run(`node_modules/${program}`, args);
      if (status === 0) return;
      process.stdout.write(output);
      found.push(name);
    }),
  );
  if (found.length > 0) throw new SetupProblem(`These found something: ${found.join(', ')}.`);
}

function run(command, args) {
  return new Promise((resolve) => {
    const child = spawn(command, args, { stdio: ['ignore', 'pipe', 'pipe'] });
    let output = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (bytes) => (output += bytes));
    child.on('close', (status) => resolve({ status, output }));
  });
}
