import { mkdir, readdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { TRUTH_FILE, type ClipTruth } from '@pocket-twin/demo/truth.ts';
import { chatter } from '@pocket-twin/core/synth/noise.ts';
import { scratchFolder, writeTestWav } from '@pocket-twin/media/test/files.ts';
import { ClipRow } from '../clips/clip.ts';
import type { RunningServer } from '../startServer.ts';
import { startTestServer } from '../test/testServer.ts';
import { loadDemo } from './loadDemo.ts';
import { ProjectRow } from './project.ts';

let server: RunningServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(async () => {
  await server?.stop();
});

const neverMade = (): never => {
  throw new Error('It is made already.');
};

test('a folder without a demo is named with the ways out, and no project is begun', async () => {
  const home = await scratchFolder();
  const empty = join(home, 'empty');
  await mkdir(empty);
  await expect(loadDemo(server, home, empty, neverMade)).rejects.toThrow(
    `${empty} holds no demo. Fill it with: npm run demo -- ${empty}, or leave POCKET_TWIN_DEMO out and it is made`,
  );
  expect(await ProjectRow.count()).toBe(0);
});

test('a demo that is made already is brought in once, and its folder is left as it was', async () => {
  const home = await scratchFolder();
  const made = join(home, 'made');
  await mkdir(made);
  const voice = chatter(0.1, 2, 1);
  await writeTestWav(join(made, 'voice.wav'), [voice, voice]);
  await writeFile(join(made, 'the-last-crossing.otio'), '{}');
  const truth: ClipTruth[] = [
    { file: 'voice.wav', setup: 'voice', verdict: 'fake-stereo', side: null, made: 'Copied.' },
  ];
  await writeFile(join(made, TRUTH_FILE), JSON.stringify(truth));
  const before = await readdir(made);

  expect(await loadDemo(server, home, made, neverMade)).toBe(true);
  expect((await ClipRow.findAll()).map(({ fileName }) => fileName)).toEqual(['voice.wav']);
  expect(await readdir(made)).toEqual(before);
  expect(await loadDemo(server, home, made, neverMade)).toBe(false);
  expect(await ProjectRow.count()).toBe(1);
});
