import type { Page } from 'playwright-core';
import { Application, chooseClip, clipRow, expectNothingSerious, undoLast } from './application.ts';

// The lineup of the demo project as a person makes it their own: what it shows, what it asks, what is heard in it, what is put right by hand.

let app: Application;
const complaints: string[] = [];
beforeAll(async () => {
  app = await Application.start();
}, 180_000);
afterAll(async () => {
  await app?.stop();
});
afterEach(() => {
  expect(complaints.splice(0)).toEqual([]);
});

const CLIPS = 22;

async function openDemo(height = 1700): Promise<Page> {
  const page = await app.open('/', complaints, height);
  await page.getByText('The Last Crossing').click();
  await page.getByText(`of ${CLIPS} clips would play wrong.`).waitFor({ timeout: 90_000 });
  await page.getByText('still being measured').waitFor({ state: 'detached', timeout: 90_000 });
  return page;
}

async function headings(page: Page): Promise<string[]> {
  return (await page.getByRole('columnheader').allTextContents())
    .map((text) => text.replace(/[↑↓]/, '').trim())
    .filter((text) => text !== '');
}

/** Names of the clips in sight, from the top. */
function namesInSight(page: Page): Promise<string[]> {
  return page
    .locator('[data-clip]')
    .evaluateAll((cells) =>
      cells
        .sort((a, b) => a.getBoundingClientRect().top - b.getBoundingClientRect().top)
        .map((cell) => cell.getAttribute('data-clip')!),
    );
}

async function pick(page: Page, label: string, option: string): Promise<void> {
  await page.getByRole('button', { name: label }).click();
  await page.getByRole('option', { name: option, exact: true }).click();
}

test('columns are chosen, ordered and widened by keyboard alone, and stay so', async () => {
  const page = await openDemo();
  expect(await headings(page)).toEqual([
    'Verdict',
    'Clip',
    'Left above, right below',
    'What is on it',
    'Left, LUFS',
    'Right, LUFS',
    'Repair',
    'State',
  ]);
  await page.getByRole('button', { name: 'View' }).focus();
  await page.keyboard.press('Enter');
  await page.getByRole('checkbox', { name: 'Timecode' }).press('Space');
  for (let steps = 0; steps < 5; steps++)
    await page.getByRole('button', { name: 'Move Timecode to the left' }).press('Enter');
  await page.getByRole('checkbox', { name: 'State' }).press('Space');
  await expectNothingSerious(page);
  await page.keyboard.press('Escape');
  const ordered = [
    'Verdict',
    'Clip',
    'Left above, right below',
    'Timecode',
    'What is on it',
    'Left, LUFS',
    'Right, LUFS',
    'Repair',
  ];
  expect(await headings(page)).toEqual(ordered);

  const width = async (): Promise<number> =>
    (await page.getByRole('columnheader', { name: 'Repair' }).boundingBox())!.width;
  const before = await width();
  const edge = page.getByRole('slider', { name: 'Width of Repair' });
  await edge.focus();
  for (let steps = 0; steps < 4; steps++) await page.keyboard.press('ArrowRight');
  const wider = await width();
  expect(wider).toBeGreaterThan(before + 20);
  // The sentence keeps what it needs; loudness gives way for it.
  const fitting = ordered.filter((title) => !title.endsWith('LUFS'));
  expect(await headings(page)).toEqual(fitting);
  expect((await page.getByRole('columnheader', { name: 'What is on it' }).boundingBox())!.width).toBeGreaterThanOrEqual(
    240,
  );
  await page.reload();
  await page.getByRole('columnheader', { name: 'Timecode' }).waitFor();
  expect(await headings(page)).toEqual(fitting);
  expect(Math.abs((await width()) - wider)).toBeLessThan(2);

  await page.getByRole('button', { name: 'View' }).click();
  await page.getByRole('button', { name: 'As at first' }).click();
  await page.keyboard.press('Escape');
  expect((await headings(page)).at(-1)).toBe('State');
  await page.context().close();
});

test('what the sound cannot tell is asked once, and the answer is kept', async () => {
  const page = await openDemo();
  const question = page.getByRole('region', { name: 'Question' });
  await question.getByText('How many frames a second does this project have?').waitFor();
  await question.getByText('1 of 2 questions').waitFor();
  await expectNothingSerious(page);
  await pick(page, 'Frame rate', '24');
  await question.getByRole('button', { name: 'Keep' }).click();
  await question
    .getByText('bank-walk_L.wav and bank-walk_R.wav look like the left and the right of one recording.')
    .waitFor();
  await question.getByRole('button', { name: 'They belong together' }).click();
  await question.waitFor({ state: 'detached' });
  await page.reload();
  await clipRow(page, 'crossing-A001.wav').waitFor();
  expect(await question.count()).toBe(0);
  await page.context().close();
});

test('found, sorted and narrowed: the server answers, and the counts say how many', async () => {
  const page = await openDemo();
  await page.keyboard.press('/');
  await page.keyboard.type('narration upside');
  await page.getByRole('radio', { name: 'All 1', exact: true }).waitFor();
  expect(await namesInSight(page)).toEqual(['narration-05.wav']);
  await page.getByLabel('Search clips').fill('no such clip');
  await page.getByRole('radio', { name: 'All 0', exact: true }).waitFor();
  await expectNothingSerious(page);
  await page.getByLabel('Search clips').fill('');
  await page.getByRole('radio', { name: `All ${CLIPS}`, exact: true }).waitFor();
  await page.getByRole('button', { name: 'View' }).click();
  await page.getByRole('checkbox', { name: 'Group by setup' }).click({ force: true });
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Clip', exact: true }).click();
  await page.getByRole('button', { name: 'Clip', exact: true }).click();
  await page.locator('[role=columnheader][aria-sort=descending]').waitFor();
  // The heading turns at once, the order comes from the server.
  await page.waitForFunction((first) => {
    const cells = [...document.querySelectorAll('[data-clip]')].sort(
      (one, other) => one.getBoundingClientRect().top - other.getBoundingClientRect().top,
    );
    return cells[0]?.getAttribute('data-clip') === first;
  }, 'winch-camera-4ch.wav');
  const names = await namesInSight(page);
  expect(names).toEqual([...names].sort((a, b) => b.localeCompare(a, 'en', { numeric: true })));
  await page.context().close();
});

test('clips are chosen by keyboard alone: a run, one more, all, none', async () => {
  const page = await openDemo();
  const chosen = page.getByRole('region', { name: 'Chosen clips' });
  // The focus is on the table's first line, a setup; the next is its first clip.
  await page.locator('[role=row]:focus').waitFor();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Space');
  await chosen.getByText('1 clip chosen').waitFor();
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Shift+ArrowDown');
  await chosen.getByText('3 clips chosen').waitFor();
  await chosen.getByText('all from setup Field recorder B').waitFor();
  await page.keyboard.press('Shift+ArrowUp');
  await chosen.getByText('2 clips chosen').waitFor();
  await page.keyboard.press('Control+a');
  await chosen.getByText(`${CLIPS} clips chosen`).waitFor();
  await page.keyboard.press('Escape');
  await chosen.waitFor({ state: 'detached' });
  await page.context().close();
});

test('a clip is heard from its row by key and by resting on its ribbon, one at a time', async () => {
  const page = await openDemo();
  await clipRow(page, 'lock-office.wav').getByText('Only the right side carries speech').click();
  await page.keyboard.press('h');
  await page.getByRole('button', { name: 'Stop lock-office.wav' }).waitFor();
  await page.keyboard.press('h');
  await page.getByRole('button', { name: 'Hear lock-office.wav' }).waitFor();

  await page.getByRole('button', { name: 'Hear river-dawn.wav' }).hover();
  await page.getByRole('button', { name: 'Stop river-dawn.wav' }).waitFor();
  await page.mouse.move(5, 5);
  await page.getByRole('button', { name: 'Hear river-dawn.wav' }).waitFor();

  // A press makes it stay, and another clip takes its turn.
  await page.getByRole('button', { name: 'Hear river-dawn.wav' }).hover();
  await page.getByRole('button', { name: 'Stop river-dawn.wav' }).click();
  await page.mouse.move(5, 5);
  // What leaving ends it ends at once; the next frame would show it.
  await page.evaluate(() => new Promise((shown) => requestAnimationFrame(() => requestAnimationFrame(shown))));
  await page.getByRole('button', { name: 'Stop river-dawn.wav' }).waitFor();
  await clipRow(page, 'lock-office.wav').getByText('Only the right side carries speech').click();
  await page.keyboard.press('h');
  await page.getByRole('button', { name: 'Stop lock-office.wav' }).waitFor();
  await page.getByRole('button', { name: 'Hear river-dawn.wav' }).waitFor();
  await page.keyboard.press('h');
  await page.context().close();
});

test('setups are merged; a clip is renamed, taken out and put back; a project is renamed and archived', async () => {
  const page = await openDemo();
  const setupRow = (words: string) =>
    page
      .getByRole('row')
      .filter({ has: page.getByRole('button', { name: /^Setup / }) })
      .filter({ hasText: words });
  const gone = (await page
    .getByRole('button', { name: /^Setup / })
    .nth(0)
    .getAttribute('aria-label'))!;
  const target = (
    (await page
      .getByRole('button', { name: /^Setup / })
      .nth(1)
      .getAttribute('aria-label')) ??
    (await page
      .getByRole('button', { name: /^Setup / })
      .nth(1)
      .innerText())
  ).replace(/^Setup /, '');
  await page
    .getByRole('button', { name: /^Setup / })
    .nth(0)
    .click();
  await page.getByRole('button', { name: /The same setup as/ }).click();
  await page.getByRole('option', { name: target, exact: true }).click();
  await page.getByRole('button', { name: `Merge into ${target}` }).click();
  await page.getByRole('button', { name: gone, exact: true }).waitFor({ state: 'detached' });
  await setupRow(target).waitFor();

  // What is the only one of its kind stands with its like, until a person gives its setup a name.
  const lone = page.getByRole('row').filter({ hasText: 'Nothing else here was recorded the same way.' });
  const clips = Number(/(\d+) clips/.exec(await lone.innerText())![1]);
  await chooseClip(page, 'pilot-memo.wav');
  await page.getByRole('button', { name: 'More for the chosen clips' }).click();
  await page.getByRole('menuitem', { name: 'Its setup' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Phone of the pilot');
  await page.keyboard.press('Enter');
  await setupRow('Phone of the pilot').filter({ hasText: '1 clip' }).waitFor();
  await lone.filter({ hasText: `${clips - 1} clips` }).waitFor();
  await page.keyboard.press('Escape');

  await chooseClip(page, 'slate-test.wav');
  await page.getByRole('button', { name: 'More for the chosen clips' }).click();
  await page.getByRole('menuitem', { name: 'Rename' }).click();
  await page.getByText('The file stays slate-test.wav.').waitFor();
  await page.getByLabel('Called').fill('Nothing plugged in');
  await page.getByRole('dialog').getByRole('button', { name: 'Keep' }).click();
  await clipRow(page, 'Nothing plugged in').waitFor();

  await page.keyboard.press('Delete');
  await page.getByRole('radio', { name: `All ${CLIPS - 1}`, exact: true }).waitFor();
  expect(await clipRow(page, 'Nothing plugged in').count()).toBe(0);
  await undoLast(page);
  await clipRow(page, 'Nothing plugged in').waitFor();

  await page.goto(`${app.origin}/`);
  await page.getByRole('button', { name: /^More for/ }).click();
  await page.getByRole('menuitem', { name: 'Rename, intake, frame rate' }).click();
  await page.getByLabel('Name', { exact: true }).last().fill('The Last Crossing, cut 2');
  await pick(page, 'The edit takes its clips as', 'separate monos');
  await page.getByRole('dialog').getByRole('button', { name: 'Keep' }).click();
  await page.getByRole('link', { name: 'The Last Crossing, cut 2' }).waitFor();
  await page.getByRole('button', { name: /^More for/ }).click();
  await page.getByRole('menuitem', { name: 'Archive' }).click();
  await page.getByText('All projects are in the archive.').waitFor();
  await expectNothingSerious(page);
  await page.reload();
  await page.getByRole('button', { name: 'Show the archive (1)' }).click();
  await page.getByRole('button', { name: /^More for/ }).click();
  await page.getByRole('menuitem', { name: 'Take out of the archive' }).click();
  await page.getByRole('button', { name: /the archive/ }).waitFor({ state: 'detached' });
  await page.getByRole('link', { name: 'The Last Crossing, cut 2' }).waitFor();
  await page.context().close();
});
