#!/usr/bin/env node
// The built program where there is one, else the TypeScript itself (POCKET_TWIN_DEV takes that always).
import { existsSync } from 'node:fs';

const built = new URL('../main.built.mjs', import.meta.url);
let program = built;
if (!existsSync(built) || process.env.POCKET_TWIN_DEV) {
  const { register } = await import('tsx/esm/api');
  register();
  program = new URL('../main.ts', import.meta.url);
}
const { main } = await import(program);
process.exitCode = await main(process.argv.slice(2));
