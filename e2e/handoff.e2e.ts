import { execFileSync, spawnSync } from 'node:child_process';
import { mkdir, readFile, readdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { scratchFolder, wavBytes } from '@pocket-twin/media/test/files.ts';
import { Application, expectNothingSerious, expectPageStays, newProject } from './application.ts';
import { takeBytes, takeName, VOICE } from './card.ts';

// From the lineup into the edit: a whole shoot handed off by keyboard, with the edit pointing to it; an archive; a worker that is killed meanwhile.

let app: Application;
const complaints: string[] = [];
beforeAll(async () => {
  app = await Application.start({ POCKET_TWIN_DEMO: 'off' });
}, 180_000);
afterAll(async () => {
  await app?.stop();
});
afterEach(() => {
  expect(complaints.splice(0)).toEqual([]);
});

const TAKES = [1, 2, 3, 4, 5, 6];

/** A project whose clips lie where they were found. @returns its address */
async function linked(page: Page, name: string, card: string): Promise<string> {
  await newProject(page, name);
  const address = new URL(page.url()).pathname;
  await fetch(`${app.origin}/api${address}/links`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ folder: 0, paths: [card] }),
  });
  return address;
}

const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate: 25 });
const range = (start: number, duration: number) => ({
  OTIO_SCHEMA: 'TimeRange.1',
  start_time: time(start),
  duration: time(duration),
});
const cut = (name: string, start: number, duration: number) => ({
  OTIO_SCHEMA: 'Clip.1',
  name,
  source_range: range(start, duration),
  media_reference: {
    OTIO_SCHEMA: 'ExternalReference.1',
    target_url: `file:///old/${name}`,
    available_range: range(0, 100),
  },
});

/** Presses Tab until what has the focus is called so. */
async function tabTo(page: Page, name: RegExp): Promise<void> {
  for (let tabs = 0; tabs < 60; tabs++) {
    const focused = page.locator(':focus');
    const label = await focused.evaluate((element) => element.getAttribute('aria-label') ?? element.textContent ?? '');
    if (name.test(label)) return;
    await page.keyboard.press('Tab');
  }
  throw new Error(`Nothing called ${name} is reached by Tab.`);
}

test('a whole shoot is handed off by keyboard: read the edit, decide, hand off, read the receipt', async () => {
  const card = join(app.media, 'card');
  await mkdir(card);
  for (const take of TAKES) await writeFile(join(card, takeName(take)), takeBytes(take));
  await writeFile(join(card, 'booth.wav'), wavBytes([VOICE]));
  const page = await app.open('/', complaints);
  const address = await linked(page, 'Ferry film', 'card');
  await page.getByText('6 of 7 clips would play wrong.').waitFor({ timeout: 60_000 });

  // The edit is read, and the lineup says first what is wrong in it.
  const edit = {
    OTIO_SCHEMA: 'Timeline.1',
    name: 'Ferry film',
    tracks: {
      OTIO_SCHEMA: 'Stack.1',
      children: [
        {
          OTIO_SCHEMA: 'Track.1',
          kind: 'Audio',
          children: [cut(takeName(1), 10, 50), cut(takeName(2), 0, 25), cut('elsewhere.wav', 0, 5)],
        },
      ],
    },
  };
  const editFolder = await scratchFolder();
  await writeFile(join(editFolder, 'ferry.otio'), JSON.stringify(edit));
  await page.goto(`${app.origin}${address}/handoff`);
  await page.getByRole('heading', { name: /^1 clip into “Ferry film for the edit”.*6 wait for you\.$/ }).waitFor();
  await tabTo(page, /^The edit/);
  await page.keyboard.press('Enter');
  // Listened for well before the key: the browser takes a moment to begin, and a dialog that opens earlier is gone.
  const chooser = page.waitForEvent('filechooser');
  await tabTo(page, /^Read the edit/);
  await page.keyboard.press('Enter');
  await (await chooser).setFiles(join(editFolder, 'ferry.otio'));
  await page.getByText('2 of 3 stretches are of 2 clips of this project.').waitFor();
  await page.getByText('file:///old/elsewhere.wav is not in this project.').waitFor();
  await expectNothingSerious(page);
  await page.getByRole('link', { name: 'Lineup' }).click();
  await page.getByText('2 clips are in the edit and would play wrong, for 3 s of it.').waitFor();
  await page.getByRole('radio', { name: /^In the edit/ }).click();
  await page.getByRole('row', { name: new RegExp(takeName(2)) }).waitFor();
  expect(await page.getByRole('row', { name: new RegExp(takeName(3)) }).count()).toBe(0);

  // Decided with one press, then handed off with one key.
  await page.goto(`${app.origin}${address}/handoff`);
  await page.getByText('6 clips wait for you.').waitFor();
  await page.setViewportSize({ width: 1024, height: 640 });
  await expectPageStays(page);
  await page.setViewportSize({ width: 1280, height: 800 });
  await tabTo(page, /^Use each one’s own suggestion on 6/);
  await page.keyboard.press('Enter');
  await page
    .getByRole('heading', { name: '7 clips into “Ferry film for the edit”, same names, picture untouched.' })
    .waitFor();
  await page.locator('main h1').focus();
  await page.keyboard.press('Enter');
  await page
    .getByRole('heading', {
      name: '“Ferry film for the edit”: all 7 clips are handed off, and proven. The edit needs a look.',
    })
    .waitFor({ timeout: 60_000 });
  await page
    .getByText(/^ferry\.otio: 2 of 3 events point to the new files\..*Not found: file:\/\/\/old\/elsewhere\.wav\.$/)
    .waitFor();
  await expectNothingSerious(page);
  await page.setViewportSize({ width: 1024, height: 640 });
  await expectPageStays(page);

  // The bytes: filled word for word, under their own names, and the edit points to them with every time as it was.
  const folder = join(app.home, 'handoff', 'Ferry film for the edit');
  const paths = (await readdir(folder, { recursive: true })).map(String);
  const written = paths.find((path) => path.endsWith(takeName(1)))!;
  const data = await readFile(join(folder, written));
  const original = takeBytes(1);
  const words = (bytes: Buffer, from: number): string => bytes.subarray(from).toString('hex');
  const left = words(original, 44).replace(/(.{6}).{6}/g, '$1$1');
  expect(words(data, data.indexOf('data') + 8).startsWith(left)).toBe(true);
  expect(spawnSync('sha256sum', ['-c', '--quiet', 'manifest.sha256'], { cwd: folder }).status).toBe(0);
  const again = JSON.parse(await readFile(join(folder, 'ferry.otio'), 'utf8')) as typeof edit;
  const cuts = again.tracks.children[0].children;
  expect(cuts.map(({ source_range }) => source_range)).toEqual(
    edit.tracks.children[0].children.map(({ source_range }) => source_range),
  );
  expect(decodeURI(cuts[0].media_reference.target_url)).toBe(`file://${join(folder, written)}`);
  expect(cuts[2].media_reference.target_url).toBe('file:///old/elsewhere.wav');

  // A receipt opens to both ribbons, and tells later whether the files are still what they were.
  await tabTo(page, new RegExp(`^Open the receipt of ${takeName(1)}`));
  await page.keyboard.press('Enter');
  await page.getByText(/^Before: −/).waitFor();
  await page.getByText('every sample is one that was read').waitFor();
  await page.getByRole('button', { name: 'Verify files' }).click();
  await page.getByText(/^All \d+ files are as they were handed off\.$/).waitFor();
  await writeFile(join(folder, written), 'other');
  await page.getByRole('button', { name: 'Verify files' }).click();
  await page.getByText(`Changed: ${written}.`).waitFor();
  // Whoever comes back to the lineup sees them as written.
  await page.keyboard.press('l');
  await page.getByText('6 are written.').waitFor();
});

test('an archive is fetched in one press and holds, byte for byte, what the application has', async () => {
  const page = await app.open('/', complaints);
  const card = join(app.media, 'parcel');
  await mkdir(join(card, 'sub'), { recursive: true });
  await writeFile(join(card, 'mono.wav'), wavBytes([VOICE]));
  await writeFile(join(card, 'sub', 'mono.wav'), wavBytes([VOICE.subarray(4800)]));
  const address = await linked(page, 'Parcel', 'parcel');
  await page.getByText('Nothing would play wrong.').waitFor({ timeout: 60_000 });
  await page.goto(`${app.origin}${address}/handoff`);
  await page.getByRole('button', { name: /Where/ }).click();
  await page.getByRole('option', { name: 'One archive, to download' }).click();
  await page.getByRole('button', { name: 'Names' }).click();
  await page.getByText('By a pattern').click();
  await page.getByRole('textbox', { name: 'Pattern' }).fill('take {name}');
  await page.getByText('parcel/sub/take mono.wav').waitFor();
  // A word that no pattern has is said at once, and what was typed stays.
  await page.getByRole('textbox', { name: 'Pattern' }).fill('take {nome}');
  await page.getByText(/A name’s pattern has no “\{nome\}”/).waitFor();
  expect(await page.getByRole('button', { name: /^Hand off/ }).isDisabled()).toBe(true);
  await page.getByRole('textbox', { name: 'Pattern' }).fill('take {name}');
  await page.getByRole('button', { name: 'Hand off 2 clips' }).click();
  await page.getByRole('heading', { name: /all 2 clips are handed off/ }).waitFor({ timeout: 60_000 });
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Download as one archive' }).click();
  const folder = await scratchFolder();
  await (await download).saveAs(join(folder, 'parcel.zip'));
  execFileSync('python3', ['-m', 'zipfile', '-e', 'parcel.zip', '.'], { cwd: folder });
  const inside = join(folder, 'Parcel for the edit');
  expect((await readFile(join(inside, 'parcel', 'take mono.wav'))).equals(wavBytes([VOICE]))).toBe(true);
  expect(
    (await readFile(join(inside, 'parcel', 'sub', 'take mono.wav'))).equals(wavBytes([VOICE.subarray(4800)])),
  ).toBe(true);
  expect(spawnSync('sha256sum', ['-c', '--quiet', 'manifest.sha256'], { cwd: inside }).status).toBe(0);
});

test('worker and server killed and the page opened anew in the middle of twenty files: all of them come, each whole', async () => {
  const card = join(app.media, 'twenty');
  await mkdir(card);
  for (let take = 1; take <= 20; take++)
    await writeFile(join(card, takeName(take)), takeBytes(take === 20 ? 21 : take));
  const page = await app.open('/', complaints);
  const address = await linked(page, 'Twenty', 'twenty');
  await page.getByText('20 of 20 clips would play wrong.').waitFor({ timeout: 90_000 });
  await page.goto(`${app.origin}${address}/handoff`);
  await page.getByRole('button', { name: 'Use each one’s own suggestion on 20' }).click();
  await page.getByRole('button', { name: 'Hand off 20 clips' }).click();
  await page.getByRole('heading', { name: /^Handing off “Twenty for the edit”: [1-9]\d? of 20 clips/ }).waitFor();
  await page.close();
  await app.kill('worker');
  await app.kill('server');
  const again = await app.open(`${address}/handoff`, complaints);
  await again.getByRole('link', { name: /^Twenty for the edit/ }).click();
  await again
    .getByRole('heading', { name: '“Twenty for the edit”: all 20 clips are handed off, and proven.' })
    .waitFor({ timeout: 90_000 });
  // Pages that were open lose their server for a moment, and say so; nothing else is wrong.
  expect(complaints.splice(0).filter((said) => !said.includes('net::ERR_'))).toEqual([]);
  const folder = join(app.home, 'handoff', 'Twenty for the edit');
  expect(spawnSync('sha256sum', ['-c', '--quiet', 'manifest.sha256'], { cwd: folder }).status).toBe(0);
  const all = (await readdir(folder, { recursive: true })).map(String);
  expect(all.filter((path) => path.endsWith('.wav')).length).toBe(20);
  expect(
    all.filter((path) => /\/?\.[^/]+$/.test(path) && path.split('/').some((part) => part.startsWith('.'))),
  ).toEqual([]);
});
