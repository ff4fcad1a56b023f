import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { mix, scale } from '@pocket-twin/core/synth/mono.ts';
import { noise } from '@pocket-twin/core/synth/noise.ts';
import { scratchFolder } from '@pocket-twin/media/test/files.ts';
import { Application, chooseClip, clipRow, dropFiles, openOnBench, pickRadio } from './application.ts';
import { DAY, dayOf, focused, setupRow, VOICE, wav } from './workingDay.ts';

// What a day's use shows: the keys, the focus and the words from a folder to written files.

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

const writingsOf = (page: Page): Promise<{ state: string; receipt: { repair: { action: string } } | null }[]> =>
  page.evaluate(
    async () =>
      (await (await fetch(`/api/clips/${location.pathname.split('/').at(-1)}/writings`)).json()) as {
        state: string;
        receipt: { repair: { action: string } } | null;
      }[],
  );

test('from a folder to written files by keyboard alone, and the focus is never lost', async () => {
  const folder = join(await scratchFolder(), 'Ferry day');
  await mkdir(folder);
  for (const { name, buffer } of DAY) await writeFile(join(folder, name), buffer);
  const page = await app.open('/', complaints);
  await page.getByText('New project').waitFor();
  await dropFiles(page, [folder]);
  await page.getByText('Ferry day').first().waitFor();
  await page.getByText('4 of 5 clips would play wrong.').waitFor();
  await page.getByText('still being measured').waitFor({ state: 'detached' });
  await page.locator('[role=row]:focus').waitFor();
  await setupRow(page, 'deck').filter({ hasText: '3 clips' }).waitFor();

  // One key keeps the suggestion of each chosen clip; what was left alone is said.
  await page.keyboard.press('Control+a');
  await page.getByText('5 clips chosen').waitFor();
  await page.keyboard.press('k');
  await page.getByText('The suggestion of each kept on 5 clips.').waitFor();
  await page.getByText('Nothing would play wrong any more.').waitFor();
  await page.locator('[role=row]:focus').waitFor();
  await page.keyboard.press('Control+z');
  await page.getByText('Taken back: The suggestion of each kept on 5 clips.').waitFor();
  await page.getByText('4 of 5 clips would play wrong.').waitFor();

  // Enter opens, keeps, writes and goes on to the next that is undecided.
  await page.keyboard.press('Escape');
  await page.keyboard.press('Home');
  while (!/^deck-1\.wav/.test(await focused(page))) await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await page.locator('h1:focus', { hasText: 'Only the left side carries speech.' }).waitFor();
  await page.getByRole('button', { name: 'Keep: fill right from left' }).waitFor();
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Write the repaired file', exact: true }).waitFor();
  await page.keyboard.press('Enter');
  await page.getByText('Written: Fill right from left.').waitFor();
  await page.getByRole('button', { name: 'Next clip to decide' }).waitFor();
  await page.keyboard.press('Enter');
  // The heading of the clip before may have the focus still.
  await page
    .getByRole('list', { name: 'Clips to go through' })
    .locator('[aria-current]', { hasText: 'deck-2.wav' })
    .waitFor();
  await page.getByRole('heading', { level: 1 }).and(page.locator(':focus')).waitFor();
  await page.getByText('4 of 5 left to do').waitFor();
  await page.keyboard.press('u');
  await page.locator('[role=row]:focus').waitFor();
  expect(await focused(page)).toMatch(/^deck-2\.wav, /);
  await page.context().close();
});

test('W before Enter writes what is chosen, once however often it is pressed, and the receipt says what was done', async () => {
  const page = await dayOf(app, complaints, 'W first');
  await openOnBench(page, 'deck-1.wav');
  await page.getByRole('button', { name: 'Keep: fill right from left' }).waitFor();
  for (let press = 0; press < 3; press++) await page.keyboard.press('w');
  const receipt = page.getByRole('region', { name: 'Receipt' });
  await receipt.getByText('Written: Fill right from left.').waitFor();
  await page
    .getByRole('status')
    .filter({ hasText: /Repair kept/ })
    .waitFor();
  expect((await writingsOf(page)).map((writing) => writing.receipt?.repair.action)).toEqual(['fill']);
  // What is chosen is marked, and nothing is said of an earlier writing.
  expect(await page.getByRole('radio', { name: /^Fill right from left/ }).isChecked()).toBe(true);
  expect(await page.getByText('Written earlier').count()).toBe(0);

  // As it is: then it is not green, and says so.
  await page.keyboard.press('8');
  await receipt.getByText('Written earlier: “Fill right from left”, not what is chosen now.').waitFor();
  const washOf = (): Promise<string> => receipt.evaluate((element) => getComputedStyle(element).backgroundColor);
  const look = await washOf();
  await page.keyboard.press('w');
  await receipt.getByText('Written as it is: nothing was repaired.').waitFor();
  expect(await washOf()).toBe(look);
  await page.keyboard.press('1');
  await page.keyboard.press('w');
  await receipt.getByText('Written: Fill right from left.').waitFor();
  expect(await washOf()).not.toBe(look);
  await page.context().close();
});

test('after keeping, the choice stays marked and the note agrees with the verdict, also after a reload', async () => {
  const trace = mix(scale(VOICE, 0.004), noise(0.00002, 3, 9));
  const page = await dayOf(app, complaints, 'Kept', [wav('trace.wav', [mix(VOICE, noise(0.00002, 3, 8)), trace])]);
  await openOnBench(page, 'trace.wav');
  await page.getByRole('radio', { name: /^Left only, as mono/ }).waitFor({ state: 'attached' });
  await page.keyboard.press('4');
  await page.getByRole('button', { name: 'Keep: left only, as mono' }).click();
  for (let look = 0; look < 2; look++) {
    await page.getByRole('button', { name: 'Write the repaired file', exact: true }).waitFor();
    expect(await page.getByRole('radio', { name: /^Left only, as mono/ }).isChecked()).toBe(true);
    await page.getByText('What is left out has only a faint trace of what is kept.').waitFor();
    expect(await page.getByText('carries sound of its own').count()).toBe(0);
    await page.reload();
  }
  // What is left as it is needs no copy: Enter goes on from there.
  await page.getByRole('radio', { name: /^Leave as it is/ }).waitFor({ state: 'attached' });
  await page.keyboard.press('8');
  await page.getByRole('button', { name: 'Keep: leave as it is' }).waitFor();
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Back to the lineup' }).waitFor();
  await page.keyboard.press('Enter');
  await clipRow(page, 'trace.wav')
    .filter({ hasText: /Repair kept/ })
    .waitFor();
  await page.context().close();
});

test('Space plays and Enter does what the main button says, whatever was clicked before', async () => {
  const page = await dayOf(app, complaints, 'Clicks', [DAY[0]]);
  await openOnBench(page, 'deck-1.wav');
  await page
    .getByRole('radio', { name: /^Swap sides/ })
    .locator('xpath=ancestor::label')
    .click();
  await page.getByRole('button', { name: 'Keep: swap sides' }).waitFor();
  const plays = async (): Promise<void> => {
    await page.keyboard.press(' ');
    await page.getByRole('button', { name: 'Pause' }).waitFor();
    await page.keyboard.press(' ');
    await page.getByRole('button', { name: 'Play' }).waitFor();
  };
  await plays();
  await pickRadio(page, 'Hear the sum');
  await plays();
  await page.getByRole('button', { name: 'Zoom in' }).click();
  await page.getByText('1.5 s shown').waitFor();
  await plays();
  await page.getByText('1.5 s shown').waitFor();
  await page.keyboard.press('Enter');
  await page
    .getByRole('status')
    .filter({ hasText: /Repair kept/ })
    .waitFor();
  await page.getByText('1.5 s shown').waitFor();
  expect(await page.getByRole('radio', { name: /^Swap sides/ }).isChecked()).toBe(true);
  // By Tab as well: it has a key of its own. What has none still hears Enter.
  await page.getByRole('button', { name: 'Zoom out' }).focus();
  await plays();
  await page.getByText('1.5 s shown').waitFor();
  await page.keyboard.press('w');
  const link = page.getByRole('link', { name: 'Download deck-1-repaired.wav' });
  await link.waitFor();
  await link.focus();
  const download = page.waitForEvent('download');
  await page.keyboard.press('Enter');
  await download;
  await page.context().close();
});

test('nothing behind a dialog or a menu hears a key', async () => {
  const page = await dayOf(app, complaints, 'Layers');
  await chooseClip(page, 'deck-1.wav');
  for (const open of [
    () => page.keyboard.press('?'),
    () => page.getByRole('button', { name: 'More for the chosen clips' }).click(),
    () => page.getByRole('button', { name: 'View' }).click(),
  ]) {
    await open();
    const layer = page.locator('[role=dialog], [role=menu]').first();
    await layer.waitFor();
    for (const key of ['Delete', 'k', 'z', 'n', 'h']) await page.keyboard.press(key);
    await layer.waitFor();
    await page.keyboard.press('Escape');
    await layer.waitFor({ state: 'detached' });
    await page.getByText('1 clip chosen').waitFor();
  }
  await clipRow(page, 'deck-1.wav').filter({ hasText: 'Open' }).waitFor();
  expect(
    await page
      .getByRole('status')
      .filter({ hasText: /kept|taken/i })
      .count(),
  ).toBe(0);

  await openOnBench(page, 'deck-1.wav');
  await page.getByRole('button', { name: 'Keep: fill right from left' }).waitFor();
  await page.keyboard.press('?');
  await page.getByRole('dialog').getByText('Next clip that is undecided').waitFor();
  for (const key of ['w', 'n', '3', 'z']) await page.keyboard.press(key);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Keep: fill right from left' }).waitFor();
  expect(await writingsOf(page)).toEqual([]);
  await page.context().close();
});

test('a sum that cancels is warned of at the choice', async () => {
  const page = await dayOf(app, complaints, 'Hollow', [DAY[4]]);
  await openOnBench(page, 'hollow.wav');
  await page.getByRole('heading', { level: 1 }).and(page.locator(':focus')).waitFor();
  await page.getByLabel('The two sides cancel each other: nothing is left of the sum. Turn one over first.').waitFor();
  await page.keyboard.press('6');
  await page.getByRole('status').getByText('The two sides cancel each other').waitFor();
  // The suggestion turns one side over, and says so in words.
  await page.keyboard.press('9');
  await page.getByText('Samples are turned over, not recalculated.').waitFor();
  await page.keyboard.press('w');
  await page.getByText('frames are the source’s own samples, turned over.').waitFor();
  await page.context().close();
});
