import { mkdir, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { wavBytes } from '@pocket-twin/media/test/files.ts';
import {
  Application,
  chooseClip,
  clipRow,
  expectNothingSerious,
  newProject,
  openOnBench,
  undoLast,
} from './application.ts';
import { ODD_ONE, VOICE, takeBytes, takeName } from './card.ts';

// A day's folder that the server can see: linked, put into setups, decided together.

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

test('a folder is linked, falls into setups that a person corrects, and gets its repairs and loses them again together', async () => {
  await mkdir(join(app.media, 'day 1'));
  for (const take of [1, 2, 3, ODD_ONE]) await writeFile(join(app.media, 'day 1', takeName(take)), takeBytes(take));
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
  await clipRow(page, 'deck-A001.wav').getByRole('button', { name: 'Show channels of deck-A001.wav' }).click();
  const left = page.getByRole('row').filter({ hasText: 'Left · keeper' });
  await left.getByRole('button', { name: 'Hear Left · keeper of deck-A001.wav alone' }).click();
  await left.getByRole('button', { name: /^Stop/ }).waitFor();
  await left.getByRole('button', { name: /^Stop/ }).click();

  // Chosen by mouse and keyboard; what the filter hides stays chosen.
  await page.keyboard.press('Escape');
  await clipRow(page, 'deck-A001.wav').getByText('Fill right from left').click();
  await clipRow(page, 'deck-A003.wav')
    .getByText('Fill right from left')
    .click({ modifiers: ['Shift'] });
  await page.getByText('3 clips chosen').waitFor();
  await page.getByRole('radio', { name: /^Same on both sides/ }).click();
  await page.getByText('3 not in this view').waitFor();
  await chooseClip(page, 'booth.wav');
  await page.getByText('4 clips chosen').waitFor();
  await page.getByRole('radio', { name: /^All/ }).click();
  await page.getByRole('button', { name: 'One suggestion alone' }).click();
  await page.getByRole('menuitem', { name: 'Fill right from left on 3' }).click();
  await page.getByText('Fill right from left kept on 3 clips.').waitFor();
  await page.getByText('Left alone: booth.wav suggests “Left only, as mono”.').waitFor();
  await clipRow(page, 'deck-A002.wav')
    .filter({ hasText: /Repair kept/ })
    .waitFor();
  await expectNothingSerious(page);
  await undoLast(page);
  await page.getByText('Taken back: Fill right from left kept on 3 clips.').waitFor();
  await clipRow(page, 'deck-A002.wav').filter({ hasText: 'Open' }).waitFor();

  // The chosen ones are what the bench goes through.
  await page.getByRole('button', { name: 'Open on bench' }).click();
  await page.getByRole('list', { name: 'Clips to go through' }).getByRole('listitem').nth(3).waitFor();
  expect(await page.getByRole('list', { name: 'Clips to go through' }).getByRole('listitem').count()).toBe(4);
  await page.close();
});

test('a linked file that moves is said so, and pointed to again', async () => {
  await mkdir(join(app.media, 'later'));
  await writeFile(join(app.media, 'later', takeName(5)), takeBytes(5));
  const page = await app.open('/', complaints);
  await newProject(page, 'Moved');
  await page.getByRole('button', { name: 'Bring in without copying' }).click();
  await page.getByRole('row', { name: 'later' }).getByRole('checkbox').click({ force: true });
  await page.getByRole('button', { name: 'Bring in 1 chosen' }).click();
  await clipRow(page, 'deck-A005.wav').filter({ hasText: 'Only the left side' }).waitFor();
  await mkdir(join(app.media, 'archive'));
  await rename(join(app.media, 'later', 'deck-A005.wav'), join(app.media, 'archive', 'deck-A005.wav'));
  // Somebody looks at the project again: then its linked files are looked after, every few seconds at most.
  const moved = page.getByText('The linked file has moved.');
  while (!(await moved.isVisible())) {
    await page.reload();
    await clipRow(page, 'deck-A005.wav').waitFor();
  }
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
