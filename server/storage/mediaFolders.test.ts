import { chmod, mkdir, rm, symlink, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { scratchFolder } from '@pocket-twin/media/test/files.ts';
import { MediaFolders } from './mediaFolders.ts';

/** A media folder beside something that nobody may reach through it. */
async function footage(): Promise<{ folders: MediaFolders; root: string; outside: string }> {
  const home = await scratchFolder();
  const [root, outside] = [join(home, 'footage'), join(home, 'footage-private')];
  await mkdir(join(root, 'day 2', 'sound'), { recursive: true });
  await mkdir(outside);
  for (const path of ['b10.wav', 'b9.wav', 'notes.txt', '.hidden.wav', 'day 2/a.mov', 'day 2/sound/c.wav', 'day 2/sound/list.m3u8']) await writeFile(join(root, path), 'x');
  await writeFile(join(outside, 'secret.wav'), 'x');
  return { folders: new MediaFolders([root]), root, outside };
}

test('a folder shows its folders first, then what can be a recording, in the order people count', async () => {
  const { folders } = await footage();
  const { entries, total } = await folders.browse(0, '', 0, 10);
  expect(entries.map(({ name, kind }) => [name, kind])).toEqual([['day 2', 'folder'], ['b9.wav', 'file'], ['b10.wav', 'file']]);
  expect(total).toBe(3);
  expect((await folders.browse(0, '', 1, 1)).entries.map(({ name }) => name)).toEqual(['b9.wav']);
});

test('files are found under folders with the folder they lie in, each once', async () => {
  const { folders } = await footage();
  const found = await folders.find(0, ['day 2', 'day 2/sound/c.wav', 'b9.wav']);
  expect(found.map(({ folder, name }) => `${folder}/${name}`)).toEqual(['day 2/a.mov', 'day 2/sound/c.wav', 'footage/b9.wav']);
});

test.each(['../footage-private', '../footage-private/secret.wav', 'day 2/../../footage-private', '/etc', '..', 'day 2/%2e%2e'])('%s leads nowhere outside', async (path) => {
  const { folders } = await footage();
  await expect(folders.browse(0, path, 0, 10)).rejects.toThrow(/^Only what lies inside|is no longer there/);
  await expect(folders.find(0, [path])).rejects.toThrow(/^Only what lies inside|is no longer there/);
});

test('a link that leads outside is neither followed nor listed', async () => {
  const { folders, root, outside } = await footage();
  await symlink(outside, join(root, 'shortcut'));
  await symlink(join(outside, 'secret.wav'), join(root, 'borrowed.wav'));
  await expect(folders.browse(0, 'shortcut', 0, 10)).rejects.toThrow('Only what lies inside the media folders can be brought in.');
  await expect(folders.find(0, ['borrowed.wav'])).rejects.toThrow('Only what lies inside');
  expect((await folders.browse(0, '', 0, 10)).entries.map(({ name }) => name)).not.toContain('borrowed.wav');
  expect((await folders.find(0, [''])).map(({ name }) => name)).not.toContain('secret.wav');
});

test('a disk that is gone, a folder that is none and one never configured are each said so', async () => {
  const { folders, root } = await footage();
  await expect(folders.browse(1, '', 0, 10)).rejects.toThrow('not in the start configuration');
  await expect(folders.browse(0, 'b9.wav', 0, 10)).rejects.toThrow('b9.wav can’t be opened as a folder.');
  await chmod(root, 0o755);
  await rm(root, { recursive: true });
  await expect(folders.browse(0, '', 0, 10)).rejects.toThrow('is not there: is the disk connected?');
});
