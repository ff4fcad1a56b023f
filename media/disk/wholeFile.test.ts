import { readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { jest } from '@jest/globals';
import { scratchFolder } from '../test/files.ts';

// Names for files that are whole, also where the file system knows no hard links.

const real = await import('node:fs/promises');
let code: string | null = null;
jest.unstable_mockModule('node:fs/promises', () => ({
  ...real,
  link: (from: string, to: string) =>
    code === null ? real.link(from, to) : Promise.reject(Object.assign(new Error(code), { code })),
}));
const { WholeFile } = await import('./wholeFile.ts');

async function write(folder: string, text: string, overwrite = false): Promise<string> {
  const file = await WholeFile.create(join(folder, 'take.wav'));
  await file.write(Buffer.from(text), 0);
  return file.finish(overwrite);
}

test.each([null, 'EPERM', 'EOPNOTSUPP', 'ENOSYS'])(
  'a name that exists is kept and the new file gets a number (hard links: %s)',
  async (failing) => {
    code = failing;
    const folder = await scratchFolder();
    await writeFile(join(folder, 'take.wav'), 'mine');
    const paths = await Promise.all(['a', 'b', 'c'].map((text) => write(folder, text)));
    expect(paths.map((path) => path.slice(folder.length + 1)).sort()).toEqual([
      'take (2).wav',
      'take (3).wav',
      'take (4).wav',
    ]);
    expect(await Promise.all(paths.map((path) => readFile(path, 'utf8')))).toEqual(['a', 'b', 'c']);
    expect(await readFile(join(folder, 'take.wav'), 'utf8')).toBe('mine');
    // No part and no marker is left.
    expect(await readdir(folder)).toHaveLength(4);
    expect(await write(folder, 'over', true)).toBe(join(folder, 'take.wav'));
    expect(await readFile(join(folder, 'take.wav'), 'utf8')).toBe('over');
  },
);

test('what was not finished leaves nothing', async () => {
  code = null;
  const folder = await scratchFolder();
  const file = await WholeFile.create(join(folder, 'take.wav'));
  await file.write(Buffer.from('half'), 0);
  expect(await readdir(folder)).toEqual([expect.stringMatching(/^\..*\.part$/)]);
  await file.discard();
  expect(await readdir(folder)).toEqual([]);
});
