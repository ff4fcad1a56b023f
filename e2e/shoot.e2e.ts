import { execFileSync } from 'node:child_process';
import { cp, mkdir, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { add, chatter, noise } from '@pocket-twin/core/test/signals.ts';
import { scratchFolder, wavBytes } from '@pocket-twin/media/test/files.ts';
import { Application, bringIn, chooseClip, clipRow, expectNothingSerious, newProject, openOnBench } from './application.ts';

// A card's worth of files at once: brought in whatever happens, put into setups, decided together.

let app: Application;
let card: string;
const complaints: string[] = [];
beforeAll(async () => {
  app = await Application.start();
  card = await writeCard();
}, 180_000);
afterAll(async () => { await app?.stop(); });
afterEach(() => { expect(complaints.splice(0)).toEqual([]); });

const VOICE = add(chatter(0.12, 4, 1), noise(0.0003, 4, 3));
const HISS = noise(0.0008, 4, 2);
const GOOD = 35;
const BAD = ['notes.txt', 'empty.wav', 'list.mp3', 'mute.mp4', 'noise.bin'];

/** 40 files as a card may hold them, five of which nobody can read. */
async function writeCard(): Promise<string> {
  const folder = await scratchFolder();
  for (let take = 1; take <= GOOD; take++) {
    const name = `deck-A${String(take).padStart(3, '0')}.wav`;
    await writeFile(join(folder, name), wavBytes([VOICE.map((x, i) => x + 1e-4 * Math.sin(i * take)), take === 20 ? VOICE : HISS]));
  }
  await writeFile(join(folder, 'notes.txt'), 'take 12 is the good one');
  await writeFile(join(folder, 'empty.wav'), '');
  await writeFile(join(folder, 'list.mp3'), '#EXTM3U\nfile:///etc/hostname\n');
  await writeFile(join(folder, 'noise.bin'), Buffer.from(Array.from({ length: 4000 }, (_, i) => (i * 7919) % 251)));
  execFileSync('ffmpeg', ['-nostdin', '-loglevel', 'error', '-f', 'lavfi', '-i', 'testsrc=size=320x180:rate=25:duration=1', '-c:v', 'mpeg4', join(folder, 'mute.mp4')]);
  return folder;
}

const cardFiles = (): string[] => [...Array.from({ length: GOOD }, (_, i) => `deck-A${String(i + 1).padStart(3, '0')}.wav`), ...BAD].map((name) => join(card, name));

/** What the browser notes of a server that was killed is this test's own doing. */
function forgetLostConnections(): void {
  const kept = complaints.filter((text) => !/ERR_CONNECTION|ERR_INCOMPLETE|ERR_EMPTY_RESPONSE|Failed to load resource|Failed to fetch/.test(text));
  complaints.splice(0, complaints.length, ...kept);
}

async function expectAllFound(page: Page): Promise<void> {
  await page.getByText(`of ${GOOD + BAD.length} clips would play wrong.`).waitFor({ timeout: 90_000 });
  await page.getByText('still being measured').waitFor({ state: 'detached', timeout: 90_000 });
  await page.getByRole('radio', { name: `Not readable ${BAD.length}` }).waitFor();
  await page.getByRole('radio', { name: `One-sided ${GOOD - 1}` }).waitFor();
}

test('40 mixed files, reloaded in the middle: every one is there, the bad ones with their sentence', async () => {
  const page = await app.open('/', complaints, 1000);
  await newProject(page, 'A card');
  await bringIn(page, cardFiles());
  await page.getByText('files coming in').waitFor();
  await page.getByText('deck-A003.wav').first().waitFor();
  // Some have arrived, some are on their way, some wait: the page is loaded anew.
  await page.reload();
  const arrived = await page.evaluate(async () => {
    const id = location.pathname.split('/').at(-1);
    return (await (await fetch(`/api/projects/${id}/clips?limit=500`)).json() as { name: string }[]).map(({ name }) => name);
  });
  expect(arrived.length).toBeLessThan(GOOD + BAD.length);
  await bringIn(page, cardFiles().filter((path) => !arrived.includes(path.split('/').at(-1)!)));
  await expectAllFound(page);
  await page.getByRole('radio', { name: /Not readable/ }).click();
  for (const [name, sentence] of Object.entries({
    'notes.txt': 'is a text file inside', 'empty.wav': 'is empty', 'list.mp3': 'is a text file inside', 'mute.mp4': 'has a picture but no sound in it', 'noise.bin': 'is not a kind of recording',
  })) await clipRow(page, name).filter({ hasText: sentence }).waitFor();
  await expectNothingSerious(page);
  await page.close();
});

test('server and worker killed outright in the middle of uploading and measuring: started again, nothing is lost', async () => {
  const page = await app.open('/', complaints, 1000);
  await newProject(page, 'A rough day');
  const long = join(await scratchFolder(), 'long.wav');
  await writeFile(long, wavBytes([chatter(0.1, 120, 1), noise(0.001, 120, 2)]));
  let held = true;
  await page.route('**/api/uploads/*', async (route) => {
    // The long one is still on its way when the server dies.
    if (held && route.request().method() === 'PATCH' && Number(route.request().headers()['content-length'] ?? 0) > 10_000_000) {
      const bytes = route.request().postDataBuffer()!.subarray(0, 5_000_000);
      await route.fetch({ postData: bytes, headers: { ...route.request().headers(), 'content-length': String(bytes.length) } }).catch(() => undefined);
      await route.abort('connectionreset');
      return;
    }
    await route.continue().catch(() => undefined);
  });
  await bringIn(page, [...cardFiles(), long]);
  await page.getByText('still being measured').waitFor({ timeout: 30_000 });
  await app.kill('worker');
  await app.kill('server');
  held = false;
  await app.run();
  await page.getByText(`of ${GOOD + BAD.length + 1} clips would play wrong.`).waitFor({ timeout: 120_000 });
  await page.getByText('still being measured').waitFor({ state: 'detached', timeout: 120_000 });
  await page.getByRole('radio', { name: `One-sided ${GOOD}` }).waitFor();
  await page.getByRole('radio', { name: `Not readable ${BAD.length}` }).waitFor();
  forgetLostConnections();
  await page.close();
}, 240_000);

test('a folder is linked, falls into setups that a person corrects, and gets its repairs and loses them again together', async () => {
  await mkdir(join(app.media, 'day 1'));
  for (const take of ['001', '002', '003', '020']) await cp(join(card, `deck-A${take}.wav`), join(app.media, 'day 1', `deck-A${take}.wav`));
  await writeFile(join(app.media, 'day 1', 'booth.wav'), wavBytes([VOICE, VOICE]));
  const page = await app.open('/', complaints);
  await newProject(page, 'Linked');
  await page.getByRole('button', { name: 'Bring in without copying' }).click();
  await page.getByRole('row', { name: 'day 1' }).getByRole('checkbox').click({ force: true });
  await expectNothingSerious(page);
  await page.getByRole('button', { name: 'Bring in 1 chosen' }).click();
  const deck = page.getByRole('row').filter({ hasText: 'names deck-A001 to deck-A020' });
  await deck.filter({ hasText: '4 clips' }).filter({ hasText: '1 differs' }).waitFor({ timeout: 60_000 });
  await clipRow(page, 'deck-A020.wav').filter({ hasText: 'odd one out' }).waitFor();
  await expectNothingSerious(page);

  // Corrected: named, and the odd one split off.
  await deck.getByRole('button', { name: /^Setup / }).click();
  await page.getByLabel('Name').fill('Ferry deck');
  await page.getByLabel('Left carries').fill('keeper');
  await page.getByRole('button', { name: 'Keep' }).click();
  await page.getByRole('row').filter({ hasText: 'Ferry deck' }).waitFor();
  await chooseClip(page, 'deck-A020.wav');
  await page.getByRole('button', { name: 'More for the chosen clips' }).click();
  await page.getByRole('menuitem', { name: 'Move to a setup' }).click();
  await page.getByLabel('Its name').fill('Second recorder');
  await page.getByRole('button', { name: 'Move', exact: true }).click();
  await page.getByRole('row').filter({ hasText: 'Second recorder' }).filter({ hasText: '1 clip' }).waitFor();
  await page.getByRole('row').filter({ hasText: 'Ferry deck' }).filter({ hasText: '3 clips' }).waitFor();

  // Unfolded: each channel by its role, and heard alone.
  await clipRow(page, 'deck-A001.wav').getByRole('button', { name: 'Show or hide channels' }).click();
  const left = page.getByRole('row').filter({ hasText: 'Left · keeper' });
  await left.getByRole('button', { name: 'Hear Left · keeper of deck-A001.wav alone' }).click();
  await left.getByRole('button', { name: /^Stop/ }).waitFor();
  await left.getByRole('button', { name: /^Stop/ }).click();

  // Chosen by mouse and keyboard; what the filter hides stays chosen.
  await page.keyboard.press('Escape');
  await clipRow(page, 'deck-A001.wav').getByText('Fill right from left').click();
  await clipRow(page, 'deck-A003.wav').getByText('Fill right from left').click({ modifiers: ['Shift'] });
  await page.getByText('3 clips chosen').waitFor();
  await page.getByRole('radio', { name: /^Same on both sides/ }).click();
  await page.getByText('3 not in this view').waitFor();
  await chooseClip(page, 'booth.wav');
  await page.getByText('4 clips chosen').waitFor();
  await page.getByRole('radio', { name: /^All/ }).click();
  await page.getByRole('button', { name: 'Fill right from left on 3' }).click();
  await page.getByText('“Fill right from left” kept on 3 clips.').waitFor();
  await page.getByText('Left alone: booth.wav suggests “Left only, as mono”.').waitFor();
  await clipRow(page, 'deck-A002.wav').filter({ hasText: 'Repair kept' }).waitFor();
  await expectNothingSerious(page);
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByText('“Fill right from left” taken back on 3 clips.').waitFor();
  await clipRow(page, 'deck-A002.wav').filter({ hasText: 'New' }).waitFor();

  // The chosen ones are what the bench goes through.
  await page.getByRole('button', { name: 'Open on bench' }).click();
  await page.getByRole('grid', { name: 'Clips to go through' }).getByRole('row').nth(3).waitFor();
  expect(await page.getByRole('grid', { name: 'Clips to go through' }).getByRole('row').count()).toBe(4);
  await page.close();
});

test('a linked file that moves is said so, and pointed to again', async () => {
  await mkdir(join(app.media, 'later'));
  await cp(join(card, 'deck-A005.wav'), join(app.media, 'later', 'deck-A005.wav'));
  const page = await app.open('/', complaints);
  await newProject(page, 'Moved');
  await page.getByRole('button', { name: 'Bring in without copying' }).click();
  await page.getByRole('row', { name: 'later' }).getByRole('checkbox').click({ force: true });
  await page.getByRole('button', { name: 'Bring in 1 chosen' }).click();
  await clipRow(page, 'deck-A005.wav').filter({ hasText: 'Only the left side' }).waitFor();
  await mkdir(join(app.media, 'archive'));
  await rename(join(app.media, 'later', 'deck-A005.wav'), join(app.media, 'archive', 'deck-A005.wav'));
  // Somebody looks at the project again: then its linked files are looked after.
  await page.waitForTimeout(3100);
  await page.reload();
  await page.getByText('The linked file has moved.').waitFor();
  await page.getByText('1 linked file has moved or changed.').waitFor();
  await page.getByRole('button', { name: 'Point to it again' }).click();
  await page.getByRole('button', { name: 'Open archive' }).click();
  await page.getByRole('grid', { name: 'Files and folders' }).getByRole('row', { name: 'deck-A005.wav' }).click();
  await page.getByRole('button', { name: 'Point to this file' }).click();
  await page.getByText('The linked file has moved.').waitFor({ state: 'detached' });
  await openOnBench(page, 'deck-A005.wav');
  await page.getByRole('heading', { name: 'Only the left side carries speech.' }).waitFor();
  await page.close();
});

test('a folder is brought in with its structure; an upload pauses and goes on', async () => {
  const folder = await scratchFolder();
  await mkdir(join(folder, 'shoot', 'day 1'), { recursive: true });
  await writeFile(join(folder, 'shoot', 'day 1', 'a.wav'), wavBytes([VOICE, HISS]));
  await writeFile(join(folder, 'shoot', 'list.txt'), 'not a recording');
  const page = await app.open('/', complaints);
  await newProject(page, 'Folders');
  await page.route('**/api/uploads/*', async (route) => {
    if (route.request().method() === 'PATCH') await new Promise((resolve) => setTimeout(resolve, 2500));
    await route.continue().catch(() => undefined);
  });
  await page.getByRole('button', { name: 'Other ways to add clips' }).click();
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('menuitem', { name: 'A whole folder' }).click();
  await (await chooser).setFiles(join(folder, 'shoot'));
  await page.getByRole('button', { name: 'Pause a.wav' }).click();
  await page.getByText('paused').waitFor();
  await page.unroute('**/api/uploads/*');
  await page.getByRole('button', { name: 'Go on with a.wav' }).click();
  await clipRow(page, 'a.wav').filter({ hasText: 'Only the left side' }).waitFor();
  const folders = await page.evaluate(async () => {
    const id = location.pathname.split('/').at(-1);
    const lineup = await (await fetch(`/api/projects/${id}/lineup`)).json() as { groups: { ids: string[] }[]; total: number };
    const rows = await (await fetch(`/api/projects/${id}/rows`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ ids: lineup.groups[0].ids }) })).json() as { folder: string }[];
    return [lineup.total, ...rows.map((row) => row.folder)];
  });
  expect(folders).toEqual([1, 'shoot/day 1']);
  await page.close();
});
