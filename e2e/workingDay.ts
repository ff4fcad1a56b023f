import type { Page } from 'playwright-core';
import { mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { wavBytes } from '@pocket-twin/media/test/files.ts';
import { bringIn, clipRow, newProject, type Application } from './application.ts';

// The clips of a working day, and a page with all of them measured.

export const VOICE = mix(chatter(0.12, 3, 1), noise(0.0003, 3, 3));
const OTHER = mix(chatter(0.12, 3, 5), noise(0.0003, 3, 6));
export const HISS = noise(0.0008, 3, 2);
export const wav = (name: string, sides: Float64Array[]) => ({ name, buffer: wavBytes(sides) });
export const DAY = [
  wav('deck-1.wav', [VOICE, HISS]),
  wav('deck-2.wav', [VOICE.map((x) => x * 0.9), HISS]),
  wav('deck-3.wav', [VOICE.map((x) => x * 0.8), HISS]),
  wav('booth.wav', [OTHER, OTHER]),
  wav('hollow.wav', [VOICE, VOICE.map((x) => -x)]),
];

export async function dayOf(
  app: Application,
  complaints: string[],
  name: string,
  files = DAY,
  height = 800,
): Promise<Page> {
  const page = await app.open('/', complaints, height);
  await newProject(page, name);
  await bringIn(page, files);
  for (const file of files)
    await clipRow(page, file.name).filter({ hasNotText: 'Measuring' }).getByRole('link', { name: file.name }).waitFor();
  await page.getByText('still being measured').waitFor({ state: 'detached' });
  return page;
}

export const focused = (page: Page): Promise<string> =>
  page.evaluate(() => document.activeElement?.getAttribute('aria-label') ?? document.activeElement?.textContent ?? '');

/** The rows of setups with these words; setups are formed a moment after clips are measured. */
export const setupRow = (page: Page, words: string) =>
  page.locator('[role=row][data-setup]').filter({ hasText: words });
