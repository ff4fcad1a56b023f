import { chmod, mkdir, stat, symlink, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { scratchFolder } from '../test/files.ts';
import { giveModes } from './deliveredModes.ts';

test('what is delivered gets the modes that the umask gives, with its folders; a link in its place is left alone', async () => {
  const folder = join(await scratchFolder(), 'out');
  await mkdir(join(folder, 'day 2'), { recursive: true, mode: 0o700 });
  const secret = join(folder, '..', 'secret');
  await writeFile(secret, 'mine', { mode: 0o600 });
  await writeFile(join(folder, 'day 2', 'deck.wav'), 'sound', { mode: 0o600 });
  await symlink(secret, join(folder, 'link.wav'));
  await chmod(folder, 0o700);
  await giveModes(folder, ['day 2/deck.wav', 'link.wav', 'gone.wav'], 0o027);
  const modeOf = async (path: string): Promise<number> => (await stat(path)).mode & 0o777;
  expect(await modeOf(join(folder, 'day 2', 'deck.wav'))).toBe(0o640);
  expect(await modeOf(join(folder, 'day 2'))).toBe(0o750);
  expect(await modeOf(folder)).toBe(0o750);
  expect(await modeOf(secret)).toBe(0o600);
});
