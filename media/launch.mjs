import { existsSync } from 'node:fs';

/**
 * Loads a program: the built one where there is one, else the TypeScript itself. POCKET_TWIN_DEV takes the TypeScript always, as it may be newer
 * than what was built.
 * @param {URL} built
 * @param {URL} source
 * @returns {Promise<any>}
 */
export async function launch(built, source) {
  if (existsSync(built) && !process.env.POCKET_TWIN_DEV) return import(built.href);
  const { register } = await import('tsx/esm/api');
  register();
  return import(source.href);
}
