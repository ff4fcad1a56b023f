import { spawnSync } from 'node:child_process';
import { open, type FileHandle } from 'node:fs/promises';
import { join } from 'node:path';
import { scratchFolder } from './files.ts';

/** A disk of a few megabytes, in memory. Mounting is root's: elsewhere the tests that need it fail, and say so. */
export async function smallDisk(megabytes: number): Promise<{ folder: string; remove: () => void }> {
  const folder = await scratchFolder();
  const { status, stderr } = spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${megabytes}m`, 'tmpfs', folder], {
    encoding: 'utf8',
  });
  if (status !== 0)
    throw new Error(`A small disk can’t be mounted here (${stderr.trim()}): run the tests as root, as in a container.`);
  return {
    folder,
    remove: () => {
      spawnSync('umount', ['-l', folder]);
    },
  };
}

type Method = 'read' | 'write' | 'sync';

/**
 * Makes the methods of every file handle of this process fail as a broken disk would, from the nth call on, while something runs.
 * @param only of files whose path this is part of
 */
export async function withFailingHandles<Result>(
  method: Method,
  code: 'EIO' | 'ENOSPC',
  only: string,
  fromCall: number,
  run: () => Promise<Result>,
): Promise<Result> {
  const some = await open(join(await scratchFolder(), 'any'), 'w');
  const prototype = Object.getPrototypeOf(some) as Record<Method, (...args: never[]) => Promise<unknown>>;
  await some.close();
  const { readlinkSync } = await import('node:fs');
  const original = prototype[method];
  let calls = 0;
  prototype[method] = function failing(this: FileHandle, ...args: never[]) {
    if (readlinkSync(`/proc/self/fd/${this.fd}`).includes(only) && ++calls >= fromCall)
      return Promise.reject(Object.assign(new Error(`${code}: as a broken disk says`), { code }));
    return original.apply(this, args);
  };
  try {
    return await run();
  } finally {
    prototype[method] = original;
  }
}
