// A worker thread starts here: with the built program where there is one, else from the TypeScript itself.
// POCKET_TWIN_DEV takes the TypeScript always, as it may be newer than what was built.
import { existsSync } from 'node:fs';

const built = new URL('./runTask.built.mjs', import.meta.url);
const load = async () => {
  if (existsSync(built) && !process.env.POCKET_TWIN_DEV) return import(built);
  const { register } = await import('tsx/esm/api');
  register();
  return import('./runTask.ts');
};

/** The work of the thread pool. */
export default (await load()).runTask;
