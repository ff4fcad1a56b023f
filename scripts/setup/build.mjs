import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { SetupProblem } from './setupProblem.mjs';

const SKIPPED = new Set(['node_modules', 'dist', 'test']);

/** Builds the kernels and the interface when their sources are not the ones built last. */
export function ensureBuilt({ web = true } = {}) {
  buildWhenChanged(
    'kernels',
    ['core/kernels'],
    /\.as\.ts$|build\.mjs$/,
    ['core/kernels/moveWords.wasm.ts'],
    'build:kernels',
  );
  buildWhenChanged(
    'programs',
    ['core', 'media', 'cli', 'bench', 'demo', 'server'],
    /\.ts$/,
    ['cli/main.built.mjs', 'dist'],
    'build:programs',
  );
  if (web)
    buildWhenChanged('interface', ['web', 'core'], /\.(ts|tsx|html|css|svg)$/, ['web/dist/index.html'], 'build:web');
}

function buildWhenChanged(what, folders, pattern, products, script) {
  const stamp = join('node_modules', `.built-${what}`);
  const sources = createHash('sha256');
  for (const folder of folders) {
    for (const file of filesIn(folder).filter((path) => pattern.test(path)))
      sources.update(file).update(readFileSync(file));
  }
  const digest = sources.digest('hex');
  if (products.every((product) => existsSync(product)) && existsSync(stamp) && readFileSync(stamp, 'utf8') === digest)
    return;
  console.log(`Building the ${what} ...`);
  // As people get it, whoever asks: a test runner's own NODE_ENV would build the slow pages that developers look at.
  const env = { ...process.env, NODE_ENV: 'production' };
  const { status, stdout, stderr } = spawnSync('npm', ['run', '-s', script], { encoding: 'utf8', env });
  if (status !== 0) throw new SetupProblem(`The ${what} could not be built:\n${stdout}${stderr}`);
  mkdirSync(dirname(stamp), { recursive: true });
  writeFileSync(stamp, digest);
}

function filesIn(folder) {
  return readdirSync(folder, { withFileTypes: true })
    .filter((entry) => !SKIPPED.has(entry.name))
    .sort((a, b) => (a.name < b.name ? -1 : 1))
    .flatMap((entry) => (entry.isDirectory() ? filesIn(join(folder, entry.name)) : [join(folder, entry.name)]));
}
