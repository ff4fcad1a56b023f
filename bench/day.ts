import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Locator, Page } from 'playwright-core';
import { Chance } from '@pocket-twin/core/synth/chance.ts';
import { scratchFolder, wavBytes } from '@pocket-twin/media/test/files.ts';
import { Application } from '../e2e/application.ts';
import { makeCase } from './verdicts/cases.ts';

// What a day costs in keys and in presses of the mouse, from a folder of clips to files in the edit, each step counted: npm run bench -- day [CLIPS]
const CLIPS = Number(process.argv.slice(2).find((word) => /^\d+$/.test(word)) ?? 60);
/** Of the verdicts bench's material, seeds that no other bench uses. */
const FIRST_SEED = 8_700_000;
const PATIENCE_MS = 40_000;

/** A person's hand: counts each key and each press, and nothing else reaches the page. */
class Hand {
  private count = 0;

  constructor(
    readonly page: Page,
    private readonly what: 'keys' | 'presses',
  ) {}

  async key(...keys: string[]): Promise<void> {
    for (const key of keys) {
      this.count++;
      await this.page.keyboard.press(key);
    }
  }

  async press(target: Locator): Promise<void> {
    this.count++;
    await target.click();
  }

  /** Tab until what has the focus is called so. */
  async tabTo(name: RegExp): Promise<void> {
    const label = (): Promise<string> =>
      this.page
        .locator(':focus')
        .evaluate((element) => element.getAttribute('aria-label') ?? element.textContent ?? '')
        .catch(() => '');
    for (let tabs = 0; tabs < 60 && !name.test(await label()); tabs++) await this.key('Tab');
  }

  async step(name: string, act: () => Promise<void>): Promise<void> {
    const before = this.count;
    await act();
    console.log(`  ${name}: ${this.count - before} ${this.what}`);
  }

  total(): void {
    console.log(`  in all: ${this.count} ${this.what}`);
  }
}

const folder = join(await scratchFolder(), 'Ferry shoot');
await mkdir(folder);
for (let i = 0; i < CLIPS; i++) {
  const { sides } = makeCase(new Chance(FIRST_SEED + i), 'first');
  const frames = Math.min(...sides.map((side) => side.length));
  await writeFile(
    join(folder, `take-${String(i + 1).padStart(3, '0')}.wav`),
    wavBytes(sides.map((side) => side.subarray(0, frames))),
  );
}
for (const what of ['keys', 'presses'] as const) {
  const app = await Application.start({ POCKET_TWIN_DEMO: 'off' });
  try {
    const page = await app.open('/', []);
    page.setDefaultTimeout(PATIENCE_MS);
    console.log(what === 'keys' ? `${CLIPS} clips, by keyboard alone:` : `${CLIPS} clips, by mouse alone:`);
    await day(new Hand(page, what), what === 'keys');
  } finally {
    await app.stop();
  }
}

/** In the order of work: bring in, keep what is suggested, decide what is left by ear, hand off, read the receipt. */
async function day(hand: Hand, byKeys: boolean): Promise<void> {
  const { page } = hand;
  const button = (name: string | RegExp): Locator => page.getByRole('button', { name });
  await button('Choose a folder').waitFor();
  await hand.step('bring in a folder', async () => {
    const chooser = page.waitForEvent('filechooser');
    if (byKeys) {
      await hand.tabTo(/^Choose a folder/);
      await hand.key('Enter');
    } else await hand.press(button('Choose a folder'));
    await (await chooser).setFiles(folder);
    await page.getByText(new RegExp(`of ${CLIPS} clips would play wrong`)).waitFor();
    await page.getByText('still being measured').waitFor({ state: 'detached' });
    await page.locator('[role=row]:focus').waitFor();
  });
  await hand.step('keep the suggestion of each', async () => {
    if (byKeys) await hand.key('Control+a', 'k');
    else {
      await hand.press(page.getByRole('checkbox', { name: 'Choose all', exact: true }));
      await hand.press(button(/Use each clip’s own suggestion on/));
    }
    await page.getByText(/^The suggestion of each kept on/).waitFor();
    await page.locator('[data-filter="open"]').waitFor({ state: 'detached' });
  });
  await hand.step('choose none', async () => {
    if (byKeys) await hand.key('Escape');
    else await hand.press(button(/^Choose none/));
  });
  const look = page.locator('[data-filter="look"]');
  const left = (await look.count()) > 0 ? Number(await look.locator('.numeric').textContent()) : 0;
  for (let clip = 1; clip <= left; clip++)
    await hand.step(`decide clip ${clip} of the ${left} that are left: open, hear, choose, keep`, () =>
      decide(hand, byKeys, clip === 1),
    );
  if (left > 0)
    await hand.step('back to the lineup', async () => {
      if (byKeys) await hand.key('Enter');
      else {
        await hand.press(button('Back to the lineup'));
        await hand.press(page.locator('[data-filter="all"]'));
      }
    });
  await page.getByText('Nothing would play wrong any more.').waitFor();
  await hand.step('check a clip before against after', async () => {
    if (byKeys) await hand.key('Home', 'ArrowDown', 'Enter');
    else await hand.press(page.locator('[data-clip] a').first());
    await page.locator('h1:focus').waitFor();
    if (byKeys) await hand.key(' ', 'q', 'q', 'u');
    else {
      await hand.press(button('Play'));
      for (const when of ['Hear the clip before the repair', 'Hear the clip after the repair'])
        await hand.press(page.getByRole('radio', { name: when, exact: true }).locator('xpath=ancestor::label'));
      await hand.press(page.getByRole('link', { name: 'Lineup' }));
    }
    await page.locator('[role=row]:focus').waitFor();
  });
  await hand.step('hand off all, to the receipt', async () => {
    if (byKeys) {
      await hand.tabTo(/^Handoff/);
      await hand.key('Enter');
    } else await hand.press(page.getByRole('link', { name: 'Handoff' }));
    const ready = page.getByRole('button', { name: `Hand off ${CLIPS} clips` });
    await ready.waitFor();
    if (byKeys) {
      await page.locator('h1:focus').waitFor();
      await hand.key('Enter');
    } else await hand.press(ready);
    await page.getByRole('heading', { name: `all ${CLIPS} clips are handed off, and proven.` }).waitFor();
  });
  hand.total();
}

/** One clip that a person must decide: heard, then both microphones kept as they are. */
async function decide(hand: Hand, byKeys: boolean, first: boolean): Promise<void> {
  const { page } = hand;
  const current = page.getByRole('list', { name: 'Clips to go through' }).locator('[aria-current]');
  const before = first ? '' : await current.textContent();
  if (byKeys) await hand.key(first ? 'n' : 'Enter');
  else if (first) {
    await hand.press(page.locator('[data-filter="look"]'));
    await hand.press(page.locator('[data-clip] a').first());
  } else await hand.press(page.getByRole('button', { name: 'Next clip to decide' }));
  await current.filter({ hasNotText: before?.match(/\S+\.wav/)?.[0] ?? 'nothing yet' }).waitFor();
  await page.locator('h1:focus').waitFor();
  if (byKeys) await hand.key(' ');
  else await hand.press(page.getByRole('button', { name: 'Play', exact: true }));
  await page.getByRole('button', { name: 'Pause' }).waitFor();
  if (byKeys) await hand.key('8', 'Enter');
  else {
    await hand.press(page.getByRole('radio', { name: /^Leave as it is/ }).locator('xpath=ancestor::label'));
    await hand.press(page.getByRole('button', { name: 'Keep: leave as it is' }));
  }
  await page.getByRole('button', { name: /^(Next clip to decide|Back to the lineup)/ }).waitFor();
}
