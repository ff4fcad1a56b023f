// npm run build:programs: the terminal command and the worker threads as one file each, so that they start in a
// tenth of a second instead of reading a hundred TypeScript files first.
import { build } from 'esbuild';

const require = "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);";

await build({
  entryPoints: { 'cli/main.built': 'cli/main.ts', 'media/threads/runTask.built': 'media/threads/runTask.ts', 'bench/child.built': 'bench/child.ts', 'server/worker.built': 'server/worker.ts' },
  outdir: '.', outExtension: { '.js': '.mjs' }, bundle: true, platform: 'node', format: 'esm', target: 'node20', banner: { js: require }, logLevel: 'warning',
  // They find files of their own, or load each other by name.
  external: ['piscina', 'sequelize', 'pg', 'pg-boss', 'pino'],
});
