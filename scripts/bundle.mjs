// npm run build:programs: the terminal command, the server, the worker and its threads, each a file and what it reads only when it is called, so that
// they start in a tenth of a second instead of reading a hundred TypeScript files first, and take half the memory. Nothing is shared between them: cut into
// what several have in common, each would read thirty files instead of three.
import { readdirSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { build } from 'esbuild';

const require =
  "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);";

const PROGRAMS = {
  'cli/main.built': 'cli/main.ts',
  'media/threads/runTask.built': 'media/threads/runTask.ts',
  'media/threads/helpMeasuring.built': 'media/threads/helpMeasuring.ts',
  'bench/child.built': 'bench/child.ts',
  'demo/main.built': 'demo/main.ts',
  'server/worker.built': 'server/worker.ts',
  'server/main.built': 'server/main.ts',
};

const built = await Promise.all(
  Object.entries(PROGRAMS).map(([program, source]) =>
    build({
      metafile: true,
      entryPoints: { [program]: source },
      outdir: '.',
      outExtension: { '.js': '.mjs' },
      // What is read only when it is called.
      splitting: true,
      chunkNames: 'dist/[name]-[hash]',
      minifyWhitespace: true,
      minifySyntax: true,
      bundle: true,
      platform: 'node',
      format: 'esm',
      target: 'node20',
      banner: { js: require },
      logLevel: 'warning',
      // They find files of their own, or load each other by name.
      external: [
        ...['piscina', 'sequelize', 'pg', 'pg-boss', 'pino', 'pino-http', 'umzug', 'express', 'helmet', 'cookie'],
        ...['@tus/server', '@tus/file-store'],
      ],
    }),
  ),
);
const outputs = new Set(built.flatMap(({ metafile }) => Object.keys(metafile.outputs)));

// What an earlier build made may still be read by a program that runs, but not for days.
const KEPT_MS = 2 * 24 * 60 * 60 * 1000;
for (const path of readdirSync('dist').map((name) => join('dist', name))) {
  if (!outputs.has(path) && Date.now() - statSync(path).mtimeMs > KEPT_MS) rmSync(path);
}
