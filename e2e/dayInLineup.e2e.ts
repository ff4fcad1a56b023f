import {
  Application,
  bringIn,
  chooseClip,
  clipRow,
  expectNothingSerious,
  expectPageStays,
  expectOnlyOwn,
  newProject,
  openOnBench,
} from './application.ts';
import { DAY, dayOf, focused, HISS, setupRow, VOICE, wav } from './workingDay.ts';

// What a day's use shows in the lineup and around it: its tree, moves, widths, bad links, being offline.

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

test('the list is a tree: arrows unfold it, rows are called by their clips, and coming back it stands where it stood', async () => {
  const many = Array.from({ length: 24 }, (_, n) =>
    wav(`take-${String(n + 1).padStart(2, '0')}.wav`, [VOICE.map((x) => x * (1 - n / 100)), HISS]),
  );
  const page = await dayOf(app, complaints, 'Tree', many.slice(0, 2));
  await bringIn(page, many.slice(2));
  await page.getByRole('radio', { name: 'All 24', exact: true }).waitFor();
  await page.getByText('24 of 24 clips would play wrong.').waitFor({ timeout: 60_000 });
  await page.locator('[role=row][data-setup]').first().focus();
  await page.keyboard.press('ArrowDown');
  expect(await focused(page)).toBe('take-01.wav, Only the left side carries speech. Fill right from left');
  const row = page.locator('[role=row]:focus');
  expect(await row.getAttribute('aria-expanded')).toBe('false');
  await page.keyboard.press('ArrowRight');
  await page.locator('[role=row]:focus[aria-expanded=true]').waitFor();
  await page.keyboard.press('ArrowRight');
  expect(await focused(page)).toBe('Left of take-01.wav');
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('ArrowLeft');
  await page.locator('[role=row]:focus[aria-expanded=false]').waitFor();
  await page.getByRole('checkbox', { name: 'Choose take-01.wav' }).waitFor();
  await page.getByRole('link', { name: 'take-01.wav', exact: true }).waitFor();
  await expectNothingSerious(page);

  await page.getByRole('radio', { name: /^One-sided/ }).click();
  await page.locator('[role=row]').nth(3).focus();
  await page.keyboard.press('End');
  await page.locator('[role=row]:focus', { hasText: 'take-24.wav' }).waitFor();
  await page.keyboard.press('ArrowUp');
  const scrolled = (): Promise<number> => page.getByRole('treegrid').evaluate((grid) => grid.scrollTop);
  const before = await scrolled();
  expect(before).toBeGreaterThan(100);
  await page.keyboard.press('Enter');
  await page.locator('h1:focus').waitFor();
  await page.goBack();
  await page.locator('[role=row]:focus').waitFor();
  expect(await focused(page)).toMatch(/^take-23\.wav, /);
  expect(Math.abs((await scrolled()) - before)).toBeLessThan(60);
  expect(await page.getByRole('radio', { name: /^One-sided/ }).isChecked()).toBe(true);
  // State and verdict are words that are found.
  await page.getByLabel('Search clips').fill('open one-sided 07');
  await page.getByRole('radio', { name: 'All 1', exact: true }).waitFor();
  await page.context().close();
}, 240_000);

test('moved clips are moved, by any name, and undo takes back in order', async () => {
  const page = await dayOf(app, complaints, 'Moves');
  const setup = (words: string) => setupRow(page, words);
  await setup('deck').filter({ hasText: '3 clips' }).waitFor();
  await chooseClip(page, 'booth.wav');
  await page.getByRole('button', { name: 'More for the chosen clips' }).click();
  await page.getByRole('menuitem', { name: 'Move to a setup' }).click();
  await page.getByRole('button', { name: /Into/ }).click();
  await page.getByRole('option', { name: 'deck', exact: true }).click();
  await page.getByRole('button', { name: 'Move', exact: true }).click();
  await page.getByText('1 clip moved to “deck”.').waitFor();
  await setup('deck').filter({ hasText: '4 clips' }).waitFor();
  await page.keyboard.press('Delete');
  await page.getByText('booth.wav taken out of the project.').waitFor();
  await setup('deck').filter({ hasText: '3 clips' }).waitFor();
  await page.keyboard.press('z');
  await page.getByText('Taken back: booth.wav taken out of the project.').waitFor();
  await setup('deck').filter({ hasText: '4 clips' }).waitFor();
  await page.keyboard.press('z');
  await page.getByText('Taken back: 1 clip moved to “deck”.').waitFor();
  await setup('deck').filter({ hasText: '3 clips' }).waitFor();
  await page.keyboard.press('Shift+z');
  await setup('deck').filter({ hasText: '4 clips' }).waitFor();
  await page.context().close();
});

test('the sentence keeps 240 pixels at every width, the page itself never scrolls, and the repair stays in sight', async () => {
  const page = await dayOf(app, complaints, 'Widths');
  for (const [width, height] of [
    [1920, 1080],
    [1280, 800],
    [1024, 600],
    [640, 800],
  ]) {
    await page.setViewportSize({ width, height });
    const sentence = page.getByRole('columnheader', { name: 'What is on it' });
    await page.waitForFunction((most) => document.querySelector('[role=treegrid]')!.scrollWidth <= most, width);
    expect((await sentence.boundingBox())!.width).toBeGreaterThanOrEqual(240);
    const repair = (await page.getByRole('columnheader', { name: 'Repair' }).boundingBox())!;
    expect(repair.x + repair.width).toBeLessThanOrEqual(width);
    await expectPageStays(page);
  }
  await page.getByRole('link', { name: 'deck-1.wav' }).click();
  await page.getByRole('button', { name: 'Keep: fill right from left' }).scrollIntoViewIfNeeded();
  const button = (await page.getByRole('button', { name: 'Keep: fill right from left' }).boundingBox())!;
  expect(button.x + button.width).toBeLessThanOrEqual(640);
  await expectPageStays(page);
  await expectNothingSerious(page);
  await page.context().close();
});

test('bad links say what is missing, a clip stays in its project, a deleted project can be put back, an archived one says so', async () => {
  const page = await dayOf(app, complaints, 'First film', [DAY[0]]);
  const projectPath = new URL(page.url()).pathname;
  await openOnBench(page, 'deck-1.wav');
  const clipId = new URL(page.url()).pathname.split('/').at(-1)!;
  await page.goto(`${app.origin}/`);
  await newProject(page, 'Second film');
  const other = new URL(page.url()).pathname;
  await page.goto(`${app.origin}${other}/bench/${clipId}`);
  await page.getByRole('heading', { name: 'This clip belongs to another project.' }).waitFor();
  await page.getByRole('link', { name: 'Open it there' }).click();
  await page.getByRole('heading', { name: 'Only the left side carries speech.' }).waitFor();
  await page.goto(`${app.origin}/projects/nonsense`);
  await page.getByText('There is no project at that address.').waitFor();
  await page.goto(`${app.origin}${projectPath}/bench/nonsense`);
  await page.getByText('There is no clip at that address.').waitFor();
  expectOnlyOwn(complaints, /404/);

  await page.goto(`${app.origin}/`);
  await page.getByRole('button', { name: 'More for First film' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await page.getByText('“First film” is deleted. For a day it can be put back.').waitFor();
  await page.getByRole('link', { name: 'First film' }).waitFor({ state: 'detached' });
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('link', { name: 'First film' }).waitFor();
  await page.getByRole('button', { name: 'More for First film' }).click();
  await page.getByRole('menuitem', { name: 'Archive' }).click();
  await page.getByRole('button', { name: /Show the archive/ }).waitFor();
  expect(await page.evaluate(() => document.activeElement === document.body)).toBe(false);
  await page.goto(`${app.origin}${projectPath}`);
  await page.getByText('This project is in the archive.').waitFor();
  await page.getByRole('button', { name: 'Take it out' }).click();
  await page.getByText('This project is in the archive.').waitFor({ state: 'detached' });
  await page.context().close();
});

test('offline, the bench says so and offers to try again', async () => {
  const page = await dayOf(app, complaints, 'Cable', DAY.slice(0, 2));
  await openOnBench(page, 'deck-1.wav');
  await page.getByRole('button', { name: 'Keep: fill right from left' }).waitFor();
  const to = page.url();
  await page.route('**/api/clips/*', (route) => route.abort('internetdisconnected'));
  await page.goto(to);
  await page.getByText('The server does not answer.').waitFor();
  await page.unroute('**/api/clips/*');
  await page.getByRole('button', { name: 'Try again' }).click();
  await page.getByRole('heading', { name: 'Only the left side carries speech.' }).waitFor();
  expectOnlyOwn(complaints, /ERR_INTERNET_DISCONNECTED|Failed to load/);
  await page.context().close();
});

test('in forced colours what is chosen is still seen', async () => {
  const page = await dayOf(app, complaints, 'Forced', DAY.slice(0, 2));
  await page.emulateMedia({ forcedColors: 'active' });
  await chooseClip(page, 'deck-1.wav');
  const outline = (name: string): Promise<string> =>
    clipRow(page, name).evaluate((row) => getComputedStyle(row).outlineStyle);
  expect([await outline('deck-1.wav'), await outline('deck-2.wav')]).toEqual(['solid', 'none']);
  await openOnBench(page, 'deck-1.wav');
  const label = page.getByRole('radio', { name: 'Hear both sides' }).locator('xpath=ancestor::label');
  await label.waitFor();
  const background = (name: string): Promise<string> =>
    page
      .getByRole('radio', { name })
      .locator('xpath=ancestor::label')
      .evaluate((element) => getComputedStyle(element).backgroundColor);
  expect(await background('Hear both sides')).not.toBe(await background('Hear the sum'));
  await page.context().close();
});
