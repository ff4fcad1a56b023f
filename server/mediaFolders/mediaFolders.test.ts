import { execFileSync } from 'node:child_process';
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
  for (const path of [
    'b10.wav',
    'b9.wav',
    'notes.txt',
    '.hidden.wav',
    'day 2/a.mov',
    'day 2/sound/c.wav',
    'day 2/sound/list.m3u8',
  ])
    await writeFile(join(root, path), 'x');
  await writeFile(join(outside, 'secret.wav'), 'x');
  return { folders: new MediaFolders([root]), root, outside };
}

test('a folder shows its folders first, then what can be a recording, in the order people count', async () => {
  const { folders } = await footage();
  const { entries, total } = await folders.browse(0, '', 0, 10);
  expect(entries.map(({ name, kind }) => [name, kind])).toEqual([
    ['day 2', 'folder'],
    ['b9.wav', 'file'],
    ['b10.wav', 'file'],
  ]);
  expect(total).toBe(3);
  expect((await folders.browse(0, '', 1, 1)).entries.map(({ name }) => name)).toEqual(['b9.wav']);
});

test('files are found under folders with the folder they lie in, each once', async () => {
  const { folders } = await footage();
  const { files, skipped } = await folders.find(0, ['day 2', 'day 2/sound/c.wav', 'b9.wav']);
  expect(skipped).toEqual([]);
  expect(files.map(({ folder, name }) => `${folder}/${name}`)).toEqual([
    'day 2/a.mov',
    'day 2/sound/c.wav',
    'footage/b9.wav',
  ]);
});

test.each([
  '../footage-private',
  '../footage-private/secret.wav',
  'day 2/../../footage-private',
  '/etc',
  '..',
  'day 2/%2e%2e',
])('%s leads nowhere outside', async (path) => {
  const { folders } = await footage();
  await expect(folders.browse(0, path, 0, 10)).rejects.toThrow(/^Only what lies inside|is no longer there/);
  await expect(folders.find(0, [path])).rejects.toThrow(/^Only what lies inside|is no longer there/);
});

test('a link that leads outside is neither followed nor listed', async () => {
  const { folders, root, outside } = await footage();
  await symlink(outside, join(root, 'shortcut'));
  await symlink(join(outside, 'secret.wav'), join(root, 'borrowed.wav'));
  await expect(folders.browse(0, 'shortcut', 0, 10)).rejects.toThrow(
    'Only what lies inside the media folders can be brought in.',
  );
  await expect(folders.find(0, ['borrowed.wav'])).rejects.toThrow('Only what lies inside');
  expect((await folders.browse(0, '', 0, 10)).entries.map(({ name }) => name)).not.toContain('borrowed.wav');
  const { files, skipped } = await folders.find(0, ['']);
  expect(files.map(({ name }) => name)).not.toContain('secret.wav');
  expect(skipped).toContain('borrowed.wav: it is not a file but a link, a pipe or a device.');
});

test('a disk that is gone, a folder that is none and one never configured are each said so', async () => {
  const { folders, root } = await footage();
  await expect(folders.browse(1, '', 0, 10)).rejects.toThrow('not in the start configuration');
  await expect(folders.browse(0, 'b9.wav', 0, 10)).rejects.toThrow('b9.wav can’t be opened as a folder.');
  await chmod(root, 0o755);
  await rm(root, { recursive: true });
  await expect(folders.browse(0, '', 0, 10)).rejects.toThrow('is not there: is the disk connected?');
});

test('a name that is no UTF-8, a closed folder and a pipe keep nobody from the rest, and each is said', async () => {
  const { folders, root } = await footage();
  await writeFile(Buffer.concat([Buffer.from(`${root}/caf`), Buffer.from([0xe9]), Buffer.from('.wav')]), 'x');
  execFileSync('mkfifo', [join(root, 'day 2', 'pipe.wav')]);
  const listing = await folders.browse(0, '', 0, 10);
  expect(listing.entries.map(({ name }) => name)).toEqual(['day 2', 'b9.wav', 'b10.wav']);
  expect(listing.skipped).toEqual(['caf\ufffd.wav: its name is not in UTF-8. Rename it to bring it in.']);
  const { files, skipped } = await folders.find(0, ['']);
  expect(files.map(({ name }) => name)).toEqual(['a.mov', 'c.wav', 'b9.wav', 'b10.wav']);
  expect(skipped).toEqual([listing.skipped[0], 'day 2/pipe.wav: it is not a file but a link, a pipe or a device.']);
  expect(await folders.find(0, ['day 2/pipe.wav'])).toEqual({
    files: [],
    skipped: ['day 2/pipe.wav: it is not a file but a pipe or a device.'],
  });
});

test('a folder that may not be opened is said, and the others are found', async () => {
  const { folders, root } = await footage();
  await chmod(join(root, '..'), 0o755);
  await chmod(join(root, 'day 2'), 0);
  // Root opens every folder; nobody does not.
  const isRoot = process.getuid!() === 0;
  if (isRoot) process.seteuid!(65534);
  try {
    const { files, skipped } = await folders.find(0, ['']);
    expect(skipped).toEqual(['day 2: the folder can’t be opened. Check who may read it.']);
    expect(files.map(({ name }) => name)).toEqual(['b9.wav', 'b10.wav']);
  } finally {
    if (isRoot) process.seteuid!(0);
    await chmod(join(root, 'day 2'), 0o755);
  }
});
