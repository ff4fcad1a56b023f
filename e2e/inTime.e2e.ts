import { readFile } from 'node:fs/promises';
import type { Page } from 'playwright-core';
import { voiceByClock } from '@pocket-twin/core/synth/anyTime.ts';
import { Chance } from '@pocket-twin/core/synth/chance.ts';
import { mix, later } from '@pocket-twin/core/synth/mono.ts';
import { chatter, hiss, noise } from '@pocket-twin/core/synth/noise.ts';
import { talkOf } from '@pocket-twin/core/synth/talk.ts';
import { wavBytes } from '@pocket-twin/media/test/files.ts';
import { Application, bringIn, clipRow, expectNothingSerious, newProject, openOnBench } from './application.ts';
import { dayOf, HISS, VOICE, wav } from './workingDay.ts';

// Repairs that moving whole channels does not make: in time, by hand, and for many.

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

const RATE = 48_000;
const LONG = mix(chatter(0.12, 8, 1), noise(0.0004, 8, 2));
const plan = (page: Page, words: string) => page.getByText(words).first();

async function bench(name: string, file: ReturnType<typeof wav>): Promise<Page> {
  const page = await app.open('/', complaints);
  await newProject(page, name);
  await bringIn(page, [file]);
  await clipRow(page, file.name).filter({ hasNotText: 'Measuring' }).getByRole('link', { name: file.name }).waitFor();
  await openOnBench(page, file.name);
  await page.getByRole('complementary', { name: 'Repair' }).waitFor();
  return page;
}

async function written(page: Page, name: string): Promise<Buffer> {
  await page.keyboard.press('w');
  const link = page.getByRole('link', { name: `Download ${name}` });
  await link.waitFor();
  const download = page.waitForEvent('download');
  await link.click();
  return readFile((await (await download).path())!);
}

/** Opens a clip whose sides drop out by turns, of which sections are suggested, and holds back what is found until it is asked for. */
async function openBeforeFound(name: string): Promise<{ page: Page; answer: () => Promise<void> }> {
  const page = await app.open('/', complaints);
  await newProject(page, name);
  const lost = (from: number, to: number) => LONG.map((x, i) => (i >= from * RATE && i < to * RATE ? 0 : x));
  await bringIn(page, [wav(`${name}.wav`, [lost(1, 3), lost(5, 7)])]);
  await clipRow(page, `${name}.wav`).filter({ hasText: 'changes' }).waitFor();
  let release = (): void => undefined;
  const held = new Promise<void>((resolve) => {
    release = resolve;
  });
  await page.route('**/proposals', async (route) => {
    await held;
    await route.continue();
  });
  const asked = page.waitForRequest('**/proposals');
  await openOnBench(page, `${name}.wav`);
  await asked;
  await page.getByRole('radio', { name: /^Leave as it is/ }).waitFor({ state: 'attached' });
  const answer = async (): Promise<void> => {
    const answered = page.waitForResponse('**/proposals');
    release();
    await (await answered).finished();
    await page.getByText('Listening ...').waitFor({ state: 'detached' });
  };
  return { page, answer };
}

test('what is found late never takes the place of what a person has chosen meanwhile', async () => {
  const { page, answer } = await openBeforeFound('late');
  await page.keyboard.press('8');
  await page.keyboard.press('Enter');
  await page
    .getByRole('status')
    .filter({ hasText: /Repair kept/ })
    .waitFor();
  await answer();
  await page.keyboard.press('q');
  await page.getByText('before the repair').first().waitFor();
  expect(await page.getByRole('radio', { name: /^Leave as it is/ }).isChecked()).toBe(true);
  expect(await page.getByText('Something else is kept').count()).toBe(0);
  await page.context().close();
});

test('while what is suggested is still being found, Enter and W keep nothing in its place', async () => {
  const { page, answer } = await openBeforeFound('early');
  const main = page.getByRole('button', { name: 'Listening ...' });
  expect(await main.isDisabled()).toBe(true);
  expect(await page.getByRole('button', { name: /^Keep and write/ }).isDisabled()).toBe(true);
  await page.keyboard.press('Enter');
  await page.keyboard.press('w');
  await expectNothingSerious(page);
  await answer();
  await plan(page, 'fill left from right').waitFor();
  expect(await page.getByText('No repair kept yet').count()).toBe(1);
  await page.keyboard.press('Enter');
  await page
    .getByRole('status')
    .filter({ hasText: /Repair kept/ })
    .waitFor();
  expect(await page.getByRole('radio', { name: /^Leave as it is/ }).isChecked()).toBe(false);
  await page.context().close();
});

test('a side that drops out is mended by sections: found, nudged at the ribbon by key, written but for its fades as it was', async () => {
  const right = LONG.map((x, i) => (i >= 2.5 * RATE && i < 5 * RATE ? 0 : x));
  const page = await bench('Dropout', wav('dropout.wav', [LONG, right]));
  await page.keyboard.press('f');
  await plan(page, '3 sections: as it is, fill right from left, as it is.').waitFor();
  await page.getByRole('button', { name: 'Section 2: fill right from left' }).waitFor();
  await plan(page, 'exact but for 2 fades of 10 ms').waitFor();
  await expectNothingSerious(page);

  // A boundary is a slider: an arrow moves it by 10 ms, with Shift by 1.
  const boundary = page.getByRole('slider', { name: 'Boundary between sections 2 and 3' });
  const at = async (): Promise<number> => Number(await boundary.getAttribute('aria-valuenow'));
  const before = await at();
  expect(before).toBeGreaterThan(4.99);
  expect(before).toBeLessThan(5.03);
  await page.keyboard.press('Tab');
  await boundary.focus();
  await page.keyboard.press('ArrowRight');
  await page.waitForFunction(
    (value) =>
      Math.abs(
        Number(
          document.querySelector('[aria-label="Boundary between sections 2 and 3"]')!.getAttribute('aria-valuenow'),
        ) - value,
      ) < 1e-6,
    before + 0.01,
  );

  // Dragged near to where it was found, it goes there; with the pointer as well.
  const handle = (await boundary.boundingBox())!;
  const grip = { x: handle.x + handle.width / 2, y: handle.y + 5 };
  await page.mouse.move(grip.x, grip.y);
  await page.mouse.down();
  await page.mouse.move(grip.x + 60, grip.y, { steps: 5 });
  expect(await at()).toBeGreaterThan(before + 0.2);
  await page.mouse.move(grip.x + 3, grip.y, { steps: 5 });
  await page.mouse.up();
  expect(await at()).toBeCloseTo(before, 6);
  await boundary.focus();
  await page.keyboard.press('ArrowRight');
  const file = await written(page, 'dropout-repaired.wav');
  await plan(page, 'frames are right, exact but for 2 fades of 10 ms').waitFor();
  const wanted = wavBytes([LONG, LONG]);
  expect(file.length).toBe(wanted.length);
  const differing = Array.from({ length: LONG.length }, (_, i) => i).filter((i) => {
    const byte = wanted.length - (LONG.length - i) * 6;
    return file.compare(wanted, byte, byte + 6, byte, byte + 6) !== 0;
  });
  // Both sides carry the same at the joints: there is next to nothing to hear, and nothing at all outside of them.
  expect(differing.every((i) => Math.abs(i - 2.5 * RATE) < 1000 || Math.abs(i - (before + 0.01) * RATE) < 1000)).toBe(
    true,
  );
  await page.context().close();
});

test('two talkers become one centred mix, each microphone open while its own speaks, and a turn can be handed over', async () => {
  const { microphones, turns } = talkOf(new Chance(5), {
    ...{ talkers: 2, seconds: 20, bleedDb: 14, decaySeconds: 0.2, noiseDbfs: -66, overlaps: 0, yeses: 0 },
  });
  const page = await bench('Talk', wav('talk.wav', microphones));
  await page.keyboard.press('t');
  await plan(page, '2 microphones in turns, one mix on both sides.').waitFor();
  await plan(page, 'quieter under one talker').waitFor();
  await page.getByRole('button', { name: new RegExp(`^Time ?${turns.length} turns`) }).click();
  await page.getByRole('button', { name: 'Work on the turn at the playhead' }).click();
  const first = turns[0].talker + 1;
  await page.getByText(`Channel ${first}, turn 1 of ${turns.length}`).waitFor();
  await expectNothingSerious(page);
  await page.getByRole('button', { name: `To ${3 - first}`, exact: true }).click();
  await page.getByText(`Channel ${3 - first}, turn 1 of`).waitFor();
  await page.getByRole('button', { name: `To ${first}`, exact: true }).click();
  const file = await written(page, 'talk-repaired.wav');
  const words = (i: number, side: number): number =>
    file.readIntLE(file.length - (microphones[0].length - i) * 6 + 3 * side, 3);
  expect(Array.from({ length: 1000 }, (_, n) => n * 900).every((i) => words(i, 0) === words(i, 1))).toBe(true);
  await page.context().close();
});

test('cables are laid by key, trims typed, two microphones lined up by what they hear', async () => {
  const page = await bench('By hand', wav('late.wav', [VOICE, later(VOICE, 14)]));
  await page.keyboard.press('8');
  await plan(page, 'Leave as it is.').waitFor();
  await page.getByRole('button', { name: /^Routes/ }).click();
  const right = page.getByRole('button', { name: /^Right, from 2\./ });
  await right.focus();
  await page.keyboard.press('1');
  await page.getByRole('button', { name: /^Right, from 1 and 2\./ }).waitFor();
  await plan(page, 'Routed by hand: left from 1, right from 1 + 2.').waitFor();
  await page.keyboard.press('1');
  await page.getByRole('button', { name: /^Right, from 2\./ }).waitFor();
  await page.getByRole('button', { name: /^Trim/ }).click();
  await page.getByRole('button', { name: 'Line up 1 and 2 by the whole clip' }).click();
  await page.getByText('The second is 14.00 samples late.').waitFor();
  await plan(page, 'Line up the sides').waitFor();
  await page.getByText(/^Summed to mono, 1 and 2 lose 0\.0 dB like this \(\d+\.\d dB as they were\)\.$/).waitFor();
  await page.getByRole('button', { name: 'See it at single samples' }).click();
  await page.getByText('120 samples shown').waitFor();
  // What was tried is taken back and done again, before anything is kept.
  await page.keyboard.press('z');
  await plan(page, 'Leave as it is.').waitFor();
  await page.keyboard.press('Shift+Z');
  await plan(page, 'Line up the sides').waitFor();
  // A gain is dragged by its unit, and dragged back.
  const unit = page.getByRole('group', { name: 'Left side' }).getByText('dB', { exact: true });
  await unit.scrollIntoViewIfNeeded();
  const box = (await unit.boundingBox())!;
  await page.mouse.move(box.x + 4, box.y + 6);
  await page.mouse.down();
  await page.mouse.move(box.x + 4 - 24, box.y + 6, { steps: 6 });
  await page.mouse.up();
  await page.getByRole('button', { name: /^Trim.*1 by −3.0 dB/ }).waitFor();
  await page.keyboard.press('z');
  await page.getByRole('button', { name: /^Trim\W*1 moved 14 samples later/ }).waitFor();
  const file = await written(page, 'late-repaired.wav');
  const late = later(VOICE, 14);
  expect(file.equals(wavBytes([late, late]))).toBe(true);
  await page.context().close();
});

test('two devices whose clocks run apart are lined up by keyboard, kept, found again after a reload and written in step', async () => {
  const sides = [
    mix(voiceByClock(10, RATE, 1, 0), hiss(10 * RATE, -76, 3)),
    mix(voiceByClock(10, RATE, 1 - 80e-6, 0.003), hiss(10 * RATE, -76, 4)),
  ];
  const page = await bench('Two devices', wav('apart.wav', sides));
  await page.keyboard.press('8');
  await plan(page, 'Leave as it is.').waitFor();
  await page.getByRole('button', { name: /^Trim/ }).press('Enter');
  await page.getByRole('button', { name: 'Line up 1 and 2 by the whole clip' }).press('Enter');
  await page.getByText(/The second runs (79|80)\.\d ppm behind: its clock is undone too\./).waitFor();
  await page.getByText(/^Played (79|80)\.\d ppm faster\.$/).waitFor();
  await expectNothingSerious(page);
  await page.evaluate(() => (document.activeElement as HTMLElement).blur());
  await page.keyboard.press('Enter');
  await page.getByRole('banner').getByText('Repair kept', { exact: true }).waitFor();
  await page.reload();
  await plan(page, 'Line up the sides').waitFor();
  await page.getByText(/The right side is moved .* and is played (79|80)\.\d ppm faster\./).waitFor();
  const file = await written(page, 'apart-repaired.wav');
  const words = (channel: number): Float64Array =>
    Float64Array.from({ length: 10 * RATE }, (_, i) =>
      file.readIntLE(file.length - 60 * RATE + 6 * i + 3 * channel, 3),
    );
  const [left, right] = [words(0), words(1)];
  const power = (from: number, of: (i: number) => number): number =>
    left.subarray(from, from + RATE).reduce((sum, _, i) => sum + of(from + i) ** 2, 0);
  // In step at the start and at the end: what is left is the noise of both.
  for (const from of [RATE, 8 * RATE])
    expect(
      10 * Math.log10(power(from, (i) => left[i] - right[i]) / power(from, (i) => left[i] + right[i])),
    ).toBeLessThan(-30);
  await page.context().close();
});

test('a recipe on a setup of ten with two exceptions: the forecast names them, one is forced, one undo takes all back', async () => {
  const clips = Array.from({ length: 10 }, (_, i) => {
    const name = `lapel-${String(i + 1).padStart(2, '0')}.wav`;
    const voice = VOICE.map((x) => x * (1 - i / 20));
    return i === 3
      ? wav(name, [HISS, voice])
      : i === 7
        ? wav(name, [voice, voice.map((_, n) => voice[(n + 60_000) % voice.length])])
        : wav(name, [voice, HISS]);
  });
  const page = await dayOf(app, complaints, 'Ten', clips);
  await openOnBench(page, 'lapel-01.wav');
  await page.getByRole('button', { name: 'Save as a recipe for others ...' }).click();
  await page.getByLabel('Recipe', { exact: true }).fill('Lapel left');
  await page.keyboard.press('Enter');
  await page.getByText('Saved for stereo, programme on 1, nothing on 2.').waitFor();
  await page.getByRole('link', { name: /^Lineup/ }).click();
  await clipRow(page, 'lapel-01.wav').waitFor();
  await page.keyboard.press('Control+a');
  await page.getByRole('button', { name: 'Recipe ...' }).click();
  await page.getByRole('button', { name: 'Use Lapel left ...' }).click();
  await page.getByText('8 clips get it.').waitFor();
  await page.getByText('2 do not fit.').waitFor();
  await page.getByText('Here the left side is only noise: nothing would be left of it.').waitFor();
  await expectNothingSerious(page);
  await page.getByRole('checkbox', { name: 'Use it on lapel-08.wav all the same' }).press(' ');
  await page.getByRole('button', { name: 'Keep on 9 clips' }).click();
  await page.getByText('“Lapel left” kept on 9 clips. Left alone: lapel-04.wav.').waitFor();
  await clipRow(page, 'lapel-08.wav').filter({ hasText: 'Kept' }).waitFor();
  await clipRow(page, 'lapel-04.wav').filter({ hasText: 'Kept' }).waitFor({ state: 'detached' });
  await page.keyboard.press('z');
  await page.getByText('Taken back: “Lapel left” kept on 9 clips.').waitFor();
  await clipRow(page, 'lapel-08.wav').filter({ hasText: 'Kept' }).waitFor({ state: 'detached' });

  // Given to the setup, it comes to what comes in from now on, where it fits, and to nothing that was there.
  await page.getByRole('button', { name: 'Setup lapel', exact: true }).click();
  await page.getByRole('button', { name: /^No recipe/ }).click();
  await page.getByRole('option', { name: '“Lapel left”, where it fits' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Keep', exact: true }).click();
  await page.getByText('newcomers get “Lapel left”').waitFor();
  await bringIn(page, [
    wav('lapel-11.wav', [VOICE.map((x) => 0.9 * x), HISS]),
    wav('lapel-12.wav', [HISS, VOICE.map((x) => 0.8 * x)]),
  ]);
  await clipRow(page, 'lapel-11.wav').filter({ hasText: 'Kept' }).waitFor();
  await clipRow(page, 'lapel-12.wav').filter({ hasText: 'Only the right' }).waitFor();
  expect(
    await page
      .getByRole('row')
      .filter({ hasText: /Repair kept/ })
      .count(),
  ).toBe(1);
  await page.context().close();
});

test('a left and a right file are joined and lined up from the question about them, and the clip is one like any other', async () => {
  const page = await app.open('/', complaints);
  await newProject(page, 'Two files');
  await bringIn(page, [wav('walk_L.wav', [LONG]), wav('walk_R.wav', [later(LONG, 17)])]);
  await page.getByText('look like the left and the right of one recording').waitFor();
  await page.getByRole('button', { name: 'Join them ...' }).click();
  await page.getByText('its sound 17 samples later').waitFor();
  await page.getByText('summed to mono they sound hollow').waitFor();
  await expectNothingSerious(page);
  await page.getByRole('button', { name: 'Line up and join' }).click();
  await page.getByText('walk.wav is joined from walk_L.wav and walk_R.wav, which stay as they are.').waitFor();
  await clipRow(page, 'walk.wav').filter({ hasText: 'The same on both sides' }).waitFor();
  expect(await clipRow(page, 'walk_L.wav').count()).toBe(1);
  await openOnBench(page, 'walk.wav');
  await page.getByText('joined from walk_L.wav and walk_R.wav').waitFor();
  await page.context().close();
});

test('of four microphones one is picked by ear: stepped through at one loudness, the clearest marked, copies told, and kept alone', async () => {
  const voice = mix(chatter(0.1, 8, 1), noise(0.0002, 8, 2));
  const far = mix(
    voice.map((x) => 0.25 * x),
    noise(0.004, 8, 3),
  );
  const page = await bench('Four', wav('four.wav', [far, voice, far, noise(0.0005, 8, 4)]));
  const heard = page.getByTestId('heard');
  await page.getByText('Clearest: channel 2').waitFor();
  await page.getByRole('button', { name: 'Hear, Channel 3, copy of 1' }).waitFor();
  await page.getByRole('button', { name: 'Hear, Channel 4, only noise' }).waitFor();
  await page.keyboard.press(' ');
  await page.keyboard.press('c');
  const words = heard.getByText(/^Heard: Channel 1 alone, [\d.]+ dB up to be as loud as the others$/);
  expect(Number(/[\d.]+(?= dB)/.exec((await words.textContent())!)![0])).toBeCloseTo(12, 0);
  await page.getByRole('button', { name: 'Pause' }).waitFor();
  await page.keyboard.press('c');
  await heard.getByText('Heard: Channel 2 alone').waitFor();
  await page.keyboard.press('Shift+C');
  await heard.getByText('Heard: Channel 1 alone').waitFor();
  await page.keyboard.press('c');
  await expectNothingSerious(page);
  await page.keyboard.press('o');
  await page.getByTestId('plan').getByText('Channel 2 only').waitFor();
  await heard.getByText('Heard: both sides, after the repair').waitFor();
  await page.keyboard.press(' ');

  // Of many channels pairs are folded and unfolded.
  const pair = page.getByRole('button', { name: 'Channels 3 and 4' });
  expect(await pair.getAttribute('aria-expanded')).toBe('true');
  await pair.press('Enter');
  await page.getByText('Channels 3 and 4 · copy of 1 · only noise').waitFor();
  await pair.press(' ');
  await page.getByText('Channels 3 and 4 · copy of 1 · only noise').waitFor({ state: 'detached' });
  await pair.press('Enter');
  const file = await written(page, 'four-repaired.wav');
  expect(file.equals(wavBytes([voice]))).toBe(true);
  await page.context().close();
});
