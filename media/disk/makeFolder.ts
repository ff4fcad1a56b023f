import { mkdir, stat } from 'node:fs/promises';
import { dirname } from 'node:path';

/**
 * Makes a folder and those above it that are missing, one after another. Under a kernel's own file system, where nothing can be made, Node's recursive
 * mkdir tries for ever. @throws the system's error where it cannot be made
 */
export async function makeFolder(path: string): Promise<void> {
  const missing: string[] = [];
  for (let at = path; ; at = dirname(at)) {
    const found = await stat(at).catch((error: NodeJS.ErrnoException) => {
      if (error.code === 'ENOENT' && dirname(at) !== at) return null;
      throw error;
    });
    if (found) {
      if (!found.isDirectory()) throw Object.assign(new Error(`${at} is a file`), { code: 'ENOTDIR' });
      break;
    }
    missing.push(at);
  }
  for (const folder of missing.reverse())
    await mkdir(folder).catch((error: NodeJS.ErrnoException) => {
      if (error.code !== 'EEXIST') throw error;
    });
}
