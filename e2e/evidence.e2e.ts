import type { Page } from 'playwright-core';
import { delayed } from '@pocket-twin/core/synth/filters.ts';
import { mix, scale } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { wavBytes } from '@pocket-twin/media/test/files.ts';
import {
  Application,
  bringIn,
  clipRow,
  expectNothingSerious,
  expectPageStays,
  newProject,
  openOnBench,
  searchFor,
} from './application.ts';

let app: Application;
const complaints: string[] = [];
beforeAll(async () => {
  app = await Application.start();
}, 180000);
afterAll(async () => {
  await app?.stop();
});
afterEach(() => {
  expect(complaints.splice(0)).toEqual([]);
});

const DECIDED = 'What decided it';
const LEVELS = 'Levels over time';
const DIFFERS = 'What differs, plain and matched';
const ARRIVAL = 'Which side hears it first';
const SPECTRA = 'Both sides over frequency';
const SCOPE = 'Left against right';
const VIEWS = [DECIDED, LEVELS, DIFFERS, ARRIVAL, SPECTRA, SCOPE];

const card = (page: Page, title: string) => page.getByRole('button', { name: title, exact: true });

async function openViews(page: Page): Promise<string[]> {
  await card(page, LEVELS).waitFor();
  const open: string[] = [];
  for (const title of VIEWS) if ((await card(page, title).getAttribute('aria-expanded')) === 'true') open.push(title);
  return open;
}

/** How many different colours each canvas of the evidence shows: a blank one has a single one. */
async function coloursDrawn(page: Page): Promise<number[]> {
  return page
    .getByRole('region', { name: 'Why' })
    .locator('canvas')
    .evaluateAll((canvases) =>
      canvases.map((element) => {
        const canvas = element as HTMLCanvasElement;
        const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
        return new Set(new Uint32Array(data.buffer)).size;
      }),
    );
}

test('each verdict opens with the views that speak for it; all the others are a press away, and say how they are read', async () => {
  const page = await app.open('/', complaints, 1400);
  await page.getByText('The Last Crossing').click();
  await page.getByLabel('Search clips').waitFor();
  const lineup = page.url();
  const speaking: Record<string, [string, ...string[]]> = {
    'crossing-A001.wav': ['Speaks for one-sided', LEVELS],
    'narration-02.wav': ['Speaks for same on both sides', DIFFERS, SCOPE],
    'narration-03.wav': ['Speaks for fake stereo', DIFFERS, SCOPE],
    'narration-04.wav': ['Speaks for fake stereo', DIFFERS, ARRIVAL],
    'narration-06.wav': ['Speaks for fake stereo', DIFFERS, SPECTRA],
    'keeper-and-mate.wav': ['Speaks for two microphones', LEVELS, ARRIVAL],
    'river-dawn.wav': ['Does not speak for two microphones', ARRIVAL, SCOPE],
    'office-dropout.wav': ['Speaks for same on both sides', LEVELS],
  };
  for (const [name, [decided, ...views]] of Object.entries(speaking)) {
    await page.goto(lineup);
    await searchFor(page, name);
    await openOnBench(page, name);
    expect([name, await openViews(page)]).toEqual([name, [DECIDED, ...views]]);
    await page.getByText(decided, { exact: true }).first().waitFor();
  }
  const across = async () => Promise.all(VIEWS.map(async (title) => (await card(page, title).boundingBox())!.x));
  const before = await across();
  expect(new Set(before).size).toBe(2);
  for (const title of VIEWS) {
    if ((await card(page, title).getAttribute('aria-expanded')) !== 'true') await card(page, title).click();
    await page.getByRole('button', { name: `How to read: ${title}` }).click();
  }
  // What is opened pushes others down, and none to the other side of the screen.
  expect(await across()).toEqual(before);
  for (const sentence of [
    'Lines together: balanced.',
    'longer is more alike',
    'The peak shows how much later',
    'High everywhere: one signal.',
    'A cloud: stereo.',
  ]) {
    await page.getByText(sentence, { exact: false }).waitFor();
  }
  await page.waitForFunction(() => document.querySelectorAll('section[aria-label=Why] canvas').length === 4);
  for (const colours of await coloursDrawn(page)) expect(colours).toBeGreaterThan(5);
  await expectNothingSerious(page);

  // On a small laptop what lies further down is come to by key, and the top bar stays where it is.
  await page.setViewportSize({ width: 1024, height: 640 });
  await expectPageStays(page);
  await page.getByRole('region', { name: 'Ribbon' }).scrollIntoViewIfNeeded();
  const wholeClip = page.getByRole('radio', { name: 'Whole clip' });
  await wholeClip.focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowLeft');
  await expectPageStays(page);
  const player = (await page.getByRole('button', { name: 'Play', exact: true }).boundingBox())!;
  const focused = (await wholeClip.locator('xpath=ancestor::label').boundingBox())!;
  expect(focused.y + focused.height).toBeLessThan(player.y);

  await page.goto(lineup);
  await searchFor(page, 'slate-test.wav');
  await openOnBench(page, 'slate-test.wav');
  await page.getByRole('heading', { name: 'Nothing was recorded', exact: false }).waitFor();
  expect(await card(page, DIFFERS).count()).toBe(0);
  await page.close();
});

test('any two channels of many are compared, and the numbers are those of the sound', async () => {
  const page = await app.open('/', complaints, 1400);
  await newProject(page, 'Four channels');
  const voice = mix(chatter(0.12, 6, 1), noise(0.0003, 6, 3));
  const four = [voice, noise(0.001, 6, 4), scale(delayed(voice, 96), 0.5), scale(voice, -1)];
  await bringIn(page, [{ name: 'field.wav', buffer: wavBytes(four) }]);
  await clipRow(page, 'field.wav').filter({ hasText: 'channels' }).waitFor();
  await openOnBench(page, 'field.wav');
  const choose = async (which: string, channel: number): Promise<void> => {
    await page.getByRole('button', { name: which }).click();
    await page.getByRole('option', { name: `Channel ${channel}`, exact: true }).click();
  };
  await choose('Second channel', 3);
  for (const title of [DIFFERS, ARRIVAL, SCOPE])
    if ((await card(page, title).getAttribute('aria-expanded')) !== 'true') await card(page, title).click();
  await page.getByText('The right side is 96.00 samples (2.00 ms) later.').waitFor();
  await page.getByText('Undone: −6.0 dB, 96.00 samples (2.00 ms).').waitFor();
  await page.getByRole('img', { name: 'Channel 1 against Channel 3' }).waitFor();
  await choose('Second channel', 4);
  await page.getByText('Both sides at once and upside down.').waitFor();
  await page.getByText('Undone: polarity, 0.0 dB, 0.00 samples (0.00 ms).').waitFor();
  await page.getByRole('img', { name: 'Channel 1 against Channel 4' }).waitFor();

  // By night the charts are drawn anew, in the night's colours.
  const byDay = await page.getByRole('img', { name: 'Channel 1 against Channel 4' }).screenshot();
  await page.getByRole('button', { name: 'Day or night' }).click();
  await expectNothingSerious(page);
  expect(byDay.equals(await page.getByRole('img', { name: 'Channel 1 against Channel 4' }).screenshot())).toBe(false);
  await page.close();
});
