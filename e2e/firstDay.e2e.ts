import { readFile } from 'node:fs/promises';
import type { Page } from 'playwright-core';
import { mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { wavBytes } from '@pocket-twin/media/test/files.ts';
import {
  Application,
  bringIn,
  chooseClip,
  clipRow,
  expectNothingSerious,
  newProject,
  openOnBench,
  searchFor,
  pickRadio,
  undoLast,
} from './application.ts';

let app: Application;
const complaints: string[] = [];
beforeAll(async () => {
  // As on the first day of all: the demo's clips are made.
  app = await Application.start({ POCKET_TWIN_DEMO: '' });
}, 180000);
afterAll(async () => {
  await app?.stop();
});
afterEach(() => {
  expect(complaints.splice(0)).toEqual([]);
});

const LEFT = mix(chatter(0.12, 6, 1), noise(0.0003, 6, 3));
const RIGHT = noise(0.0008, 6, 2);

const wav = (name: string, buffer: Buffer) => ({ name, buffer });

async function meter(page: Page, side: string): Promise<number> {
  return Number(await page.getByRole('meter', { name: side }).getAttribute('aria-valuenow'));
}

test('the demo opens with the right verdict on each of its clips', async () => {
  const page = await app.open('/', complaints, 1700);
  await expectNothingSerious(page);
  await page.getByText('The Last Crossing').click();
  const expected: Record<string, string> = {
    'crossing-A001.wav': 'Only the left side carries speech',
    'crossing-A002.wav': 'Only the left side carries speech',
    'crossing-A003.mp4': 'Only the left side carries speech',
    'lock-office.wav': 'Only the right side carries speech',
    'keeper-and-mate.wav': 'Two microphones, one on each side',
    'narration-03.wav': '6.0 dB quieter',
    'narration-04.wav': '640.0 samples (13.33 ms) later',
    'narration-05.wav': 'upside down',
    'narration-06.wav': 'filtered',
    'office-near-far.wav': '4.2 ms later',
    'office-dropout.wav': 'This clip changes on the way',
    'narration-02.wav': 'The same on both sides',
    'river-dawn.wav': 'Stereo, as it should be',
    'slate-test.wav': 'Nothing was recorded',
  };
  for (const [name, sentence] of Object.entries(expected))
    await clipRow(page, name).filter({ hasText: sentence }).waitFor();
  await page.getByText('14 of 22 clips would play wrong.').waitFor();
  await expectNothingSerious(page);
  await page.close();
});

test('a one-sided clip is seen, heard, filled, written and got back, byte for byte', async () => {
  const page = await app.open('/', complaints);
  await newProject(page, 'First day');
  await bringIn(page, [wav('interview.wav', wavBytes([LEFT, RIGHT]))]);
  await clipRow(page, 'interview.wav').filter({ hasText: 'Only the left side carries speech' }).waitFor();
  await openOnBench(page, 'interview.wav');
  await page.getByRole('heading', { name: 'Only the left side carries speech.' }).waitFor();
  await expectNothingSerious(page);

  // Heard before the repair: a voice on the left, hiss on the right. After: the same on both.
  await pickRadio(page, 'Hear the clip before the repair');
  await page.getByRole('button', { name: 'Play' }).click();
  await page.waitForFunction(() => Number(document.querySelector('[role=meter]')!.getAttribute('aria-valuenow')) > -30);
  expect(await meter(page, 'Left')).toBeGreaterThan((await meter(page, 'Right')) + 20);
  await page.keyboard.press('q');
  await page.waitForFunction(() => {
    const [left, right] = [...document.querySelectorAll('[role=meter]')].map((element) =>
      Number(element.getAttribute('aria-valuenow')),
    );
    return left > -40 && left === right && document.querySelector('[data-testid=correlation]')!.textContent === '1.00';
  });
  await page.keyboard.press(' ');
  // Stopped, the meters fall to where nothing is heard.
  await page.waitForFunction(() =>
    [...document.querySelectorAll('[role=meter]')].every((element) => element.getAttribute('aria-valuenow') === '-60'),
  );

  await page.getByRole('button', { name: 'Keep: fill right from left' }).click();
  await page
    .getByRole('status')
    .filter({ hasText: /Repair kept/ })
    .waitFor();
  await page.getByRole('button', { name: 'Write the repaired file' }).click();
  const link = page.getByRole('link', { name: 'Download interview-repaired.wav' });
  await link.waitFor();
  await page.getByText('all 288 000 frames are the source’s own samples', { exact: false }).waitFor();
  const download = page.waitForEvent('download');
  await link.click();
  const file = await readFile((await (await download).path())!);
  expect(file.equals(wavBytes([LEFT, LEFT]))).toBe(true);

  await page.keyboard.press('z');
  await page.getByRole('status').filter({ hasText: 'No repair kept yet' }).waitFor();
  await page.reload();
  await page.getByRole('button', { name: 'Redo' }).click();
  await page
    .getByRole('status')
    .filter({ hasText: /Repair kept/ })
    .waitFor();
  await page.close();
});

test('several files at once: bad ones get a sentence on their row, a cut one is read as far as it goes', async () => {
  const page = await app.open('/', complaints);
  await newProject(page, 'A mixed card');
  const whole = wavBytes([LEFT, LEFT]);
  await bringIn(page, [
    wav('notes.wav', Buffer.from('words')),
    wav('empty.wav', Buffer.alloc(0)),
    wav('cut.wav', whole.subarray(0, whole.length / 2)),
    wav('good.wav', whole),
  ]);
  await clipRow(page, 'notes.wav').filter({ hasText: 'is a text file inside' }).waitFor();
  await clipRow(page, 'empty.wav').filter({ hasText: 'is empty' }).waitFor();
  await clipRow(page, 'cut.wav').filter({ hasText: 'cut.wav is cut off: 3.0 of 6.0 s are there.' }).waitFor();
  await clipRow(page, 'good.wav').filter({ hasText: 'The same on both sides' }).waitFor();
  await chooseClip(page, 'notes.wav');
  await page.getByRole('button', { name: 'More for the chosen clips' }).click();
  await page.getByRole('menuitem', { name: 'Remove from the project' }).click();
  await clipRow(page, 'notes.wav').waitFor({ state: 'detached' });
  await page.getByText('notes.wav taken out of the project. The file stays where it is.').waitFor();
  await undoLast(page);
  await clipRow(page, 'notes.wav').waitFor();
  await page.close();
});

test('the ribbon zooms from the whole clip to single samples, and the keys are all in one place', async () => {
  const page = await app.open('/', complaints);
  await newProject(page, 'Close up');
  await bringIn(page, [wav('close.wav', wavBytes([LEFT, RIGHT]))]);
  await clipRow(page, 'close.wav').filter({ hasText: 'Only the left' }).waitFor();
  await openOnBench(page, 'close.wav');
  const span = page.getByTestId('span');
  await page.getByText('6.0 s shown').waitFor();
  for (let i = 0; i < 14; i++) await page.keyboard.press('+');
  await page.getByText('24 samples shown').waitFor();
  await page.keyboard.press('0');
  expect(await span.textContent()).toBe('6.0 s shown');
  const colourful = await page
    .getByRole('region', { name: 'Ribbon' })
    .locator('canvas')
    .evaluate((canvas: HTMLCanvasElement) => {
      const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
      let left = 0;
      for (let i = 0; i < data.length; i += 4)
        if (data[i] === 0x5a && data[i + 1] === 0x4f && data[i + 2] === 0xcf) left++;
      return left;
    });
  expect(colourful).toBeGreaterThan(2000);
  await page.keyboard.press('?');
  await page.getByRole('dialog').getByText('Hear the difference').waitFor();
  await expectNothingSerious(page);
  await page.keyboard.press('Escape');
  await page.keyboard.press('6');
  await page.getByRole('button', { name: 'Keep: sum to mono' }).waitFor();
  await page.getByRole('status').getByText('filling is cleaner', { exact: false }).waitFor();
  await page.close();
});

test('a key is changed: a taken one is told and exchanged, it lasts, the screen shows it, and ours come back', async () => {
  const page = await app.open('/', complaints);
  await newProject(page, 'My keys');
  await bringIn(page, [wav('mine.wav', wavBytes([LEFT, RIGHT]))]);
  await clipRow(page, 'mine.wav').filter({ hasText: 'Only the left' }).waitFor();
  await openOnBench(page, 'mine.wav');
  const chosen = page.getByRole('radio', { name: 'Hear the difference', checked: true });
  const dialog = page.getByRole('dialog');
  await page.getByRole('complementary', { name: 'Repair' }).waitFor();
  await page.keyboard.press('?');
  await dialog.getByRole('button', { name: 'D: Hear the difference. Change' }).press('Enter');
  await page.keyboard.press('F5');
  await dialog.getByText('F5 belongs to the browser or the system.').waitFor();
  await dialog.getByRole('button', { name: 'D: Hear the difference. Change' }).press('Enter');
  await page.keyboard.press('z');
  await dialog.getByText('Z is “Undo what was tried, then what was kept” already.').waitFor();
  await expectNothingSerious(page);
  await page.keyboard.press('Enter');
  await dialog.getByRole('button', { name: 'Z: Hear the difference. Change' }).waitFor();
  await dialog.getByRole('button', { name: 'D: Undo what was tried, then what was kept. Change' }).waitFor();
  await page.keyboard.press('Escape');
  await page.keyboard.press('z');
  await chosen.waitFor();

  await page.reload();
  await page.getByRole('button', { name: 'Undo' }).getByText('D', { exact: true }).waitFor();
  await page.keyboard.press('l');
  await chosen.waitFor({ state: 'detached' });
  await page.keyboard.press('d');
  await page.keyboard.press('z');
  await chosen.waitFor();
  await page.keyboard.press('?');
  await dialog.getByRole('button', { name: 'All keys as they came' }).click();
  await dialog.getByRole('button', { name: 'D: Hear the difference. Change' }).waitFor();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Undo' }).getByText('Z', { exact: true }).waitFor();

  // On the lineup as well, by keyboard alone.
  await page.keyboard.press('u');
  await page.locator('[role=row]:focus').waitFor();
  await page.keyboard.press('?');
  await dialog
    .getByRole('button', { name: 'K: Keep the suggestion of each chosen clip, or of the one in focus. Change' })
    .press('Enter');
  await page.keyboard.press('j');
  await dialog.getByRole('button', { name: /^J: Keep the suggestion/ }).waitFor();
  await page.keyboard.press('Escape');
  await page.locator('[role=row]:focus').waitFor();
  // The old key does nothing any more: what it would have kept is kept by the new one alone.
  let keeping = 0;
  page.on('request', (request) => {
    if (request.method() === 'POST' && request.url().includes('/suggestions')) keeping++;
  });
  await page.keyboard.press('k');
  await page.keyboard.press('j');
  await page.getByText('Fill right from left kept on 1 clip.').waitFor();
  expect(keeping).toBe(1);
  await page.keyboard.press('?');
  await dialog.getByRole('button', { name: 'All keys as they came' }).click();
  await dialog.getByRole('button', { name: /^K: Keep the suggestion/ }).waitFor();
  await page.close();
});

test('the evidence says why: findings lead to their place, views open for the verdict, and what is left can be heard', async () => {
  const page = await app.open('/', complaints);
  await page.getByText('The Last Crossing').click();
  await searchFor(page, 'narration-04.wav');
  await openOnBench(page, 'narration-04.wav');
  await page.getByText('The right side is 640.00 samples (13.33 ms) later.').waitFor();
  await page.getByText('under −80 dB').first().waitFor();
  await expectNothingSerious(page);
  await page.getByRole('button', { name: 'How to read: Which side hears it first' }).click();
  await page.getByText('Up to 4.6 ms: a stereo pair can do that, on a bar of a metre and a half.').waitFor();
  await page.getByRole('button', { name: 'Hear what is left, plain' }).click();
  await page.waitForFunction(() => Number(document.querySelector('[role=meter]')!.getAttribute('aria-valuenow')) > -40);
  await page.getByRole('button', { name: 'Hear what is left, matched' }).click();
  await page
    .getByTestId('correlation')
    .filter({ hasText: /^1\.00$/ })
    .waitFor();
  await page.keyboard.press(' ');
  await page.getByRole('button', { name: 'Left against right' }).click();
  await page.getByRole('img', { name: 'Left against Right' }).waitFor();

  // Four suggestions that a fake stereo clip can get are repairs of their own; this one lines the sides up.
  await page.getByRole('button', { name: 'Keep: line up the sides' }).waitFor();

  await page.goto(page.url().replace(/bench\/.*/, ''));
  await searchFor(page, 'office-dropout.wav');
  await openOnBench(page, 'office-dropout.wav');
  await page.getByRole('button', { name: '00:06.0 to 00:10.0' }).click();
  await page
    .getByTestId('span')
    .filter({ hasText: /^5\.[12] s shown$/ })
    .waitFor();
  await pickRadio(page, 'What the ribbon shows');
  await page.getByText('00:05.4 to 00:10.6').waitFor();
  await expectNothingSerious(page);
  await page.close();
});
