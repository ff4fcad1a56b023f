import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page, Route } from 'playwright-core';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { scratchFolder, wavBytes } from '@pocket-twin/media/test/files.ts';
import {
  Application,
  bringIn,
  clipRow,
  dropFiles,
  expectNothingSerious,
  expectOnlyOwn,
  newProject,
} from './application.ts';
import { BAD, GOOD, HISS, VOICE, cardFiles, writeCard } from './card.ts';

// A card's worth of files on their way in, whatever happens to the line, the page and the server meanwhile.

const LARGEST_BYTES = 40_000_000;

let app: Application;
let card: string;
const complaints: string[] = [];
beforeAll(async () => {
  app = await Application.start({ POCKET_TWIN_DEMO: 'off', POCKET_TWIN_LARGEST_BYTES: String(LARGEST_BYTES) });
  card = await writeCard();
}, 180_000);
afterAll(async () => {
  await app?.stop();
});
afterEach(() => {
  expect(complaints.splice(0)).toEqual([]);
});

/** What the browser notes of a server that was killed is this test's own doing. */
function forgetLostConnections(): void {
  const kept = complaints.filter(
    (text) =>
      !/ERR_CONNECTION|ERR_INTERNET_DISCONNECTED|ERR_INCOMPLETE|ERR_EMPTY_RESPONSE|Failed to load resource|Failed to fetch/.test(
        text,
      ),
  );
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
  await dropFiles(page, cardFiles(card));
  await page.getByText('files coming in').waitFor();
  await page.getByText('deck-A003.wav').first().waitFor();
  // Some have arrived, some are on their way, some wait: the page is loaded anew.
  await page.reload();
  const arrived = await page.evaluate(async () => {
    const id = location.pathname.split('/').at(-1);
    return ((await (await fetch(`/api/projects/${id}/clips?limit=500`)).json()) as { name: string }[]).map(
      ({ name }) => name,
    );
  });
  expect(arrived.length).toBeLessThan(GOOD + BAD.length);
  await dropFiles(
    page,
    cardFiles(card).filter((path) => !arrived.includes(path.split('/').at(-1)!)),
  );
  await expectAllFound(page);
  await page.getByRole('radio', { name: /Not readable/ }).click();
  for (const [name, sentence] of Object.entries({
    'notes.txt': 'is a text file inside',
    'empty.wav': 'is empty',
    'list.mp3': 'is a text file inside',
    'mute.mp4': 'has a picture but no sound in it',
    'noise.bin': 'is not a kind of recording',
  }))
    await clipRow(page, name).filter({ hasText: sentence }).waitFor();
  await expectNothingSerious(page);
  await page.close();
});

test('server and worker killed outright in the middle of uploading and measuring: they come back by themselves, nothing is lost', async () => {
  const page = await app.open('/', complaints, 1000);
  await newProject(page, 'A rough day');
  const long = join(await scratchFolder(), 'long.wav');
  await writeFile(long, wavBytes([chatter(0.1, 120, 1), noise(0.001, 120, 2)]));
  let held = true;
  await page.route('**/api/uploads/*', async (route) => {
    // The long one is still on its way when the server dies.
    if (
      held &&
      route.request().method() === 'PATCH' &&
      Number(route.request().headers()['content-length'] ?? 0) > 10_000_000
    ) {
      const bytes = route.request().postDataBuffer()!.subarray(0, 5_000_000);
      await route
        .fetch({ postData: bytes, headers: { ...route.request().headers(), 'content-length': String(bytes.length) } })
        .catch(() => undefined);
      await route.abort('connectionreset');
      return;
    }
    await route.continue().catch(() => undefined);
  });
  await bringIn(page, [...cardFiles(card), long]);
  await page.getByText('still being measured').waitFor({ timeout: 30_000 });
  await app.kill('worker');
  await app.kill('server');
  held = false;
  await page.getByText(`of ${GOOD + BAD.length + 1} clips would play wrong.`).waitFor({ timeout: 120_000 });
  await page.getByText('still being measured').waitFor({ state: 'detached', timeout: 120_000 });
  await page.getByRole('radio', { name: `One-sided ${GOOD}` }).waitFor();
  await page.getByRole('radio', { name: `Not readable ${BAD.length}` }).waitFor();
  forgetLostConnections();
  await page.close();
}, 240_000);

test('a folder is brought in with its structure; an upload pauses and goes on', async () => {
  const folder = await scratchFolder();
  await mkdir(join(folder, 'shoot', 'day 1'), { recursive: true });
  await writeFile(join(folder, 'shoot', 'day 1', 'a.wav'), wavBytes([VOICE, HISS]));
  await writeFile(join(folder, 'shoot', 'list.txt'), 'not a recording');
  const page = await app.open('/', complaints);
  await newProject(page, 'Folders');
  const release = await holdUploads(page);
  await page.getByRole('button', { name: 'Other ways to add clips' }).click();
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('menuitem', { name: 'A whole folder' }).click();
  await (await chooser).setFiles(join(folder, 'shoot'));
  await page.getByRole('button', { name: 'Pause a.wav' }).click();
  await page.getByText('paused').waitFor();
  await release();
  await page.getByRole('button', { name: 'Go on with a.wav' }).click();
  await clipRow(page, 'a.wav').filter({ hasText: 'Only the left side' }).waitFor();
  const folders = await page.evaluate(async () => {
    const id = location.pathname.split('/').at(-1);
    const lineup = (await (await fetch(`/api/projects/${id}/lineup`)).json()) as {
      groups: { ids: string[] }[];
      total: number;
    };
    const rows = (await (
      await fetch(`/api/projects/${id}/rows`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ ids: lineup.groups[0].ids }),
      })
    ).json()) as { folder: string }[];
    return [lineup.total, ...rows.map((row) => row.folder)];
  });
  expect(folders).toEqual([1, 'shoot/day 1']);
  await page.close();
});

test('an upload on its way can be cancelled', async () => {
  const page = await app.open('/', complaints);
  await newProject(page, 'Slow line');
  const path = join(await scratchFolder(), 'long.wav');
  await writeFile(path, wavBytes([chatter(0.1, 40, 1), noise(0.001, 40, 2)]));
  const release = await holdUploads(page);
  await bringIn(page, path);
  await page.getByRole('button', { name: 'Cancel long.wav' }).click();
  await page.getByRole('button', { name: 'Cancel long.wav' }).waitFor({ state: 'detached' });
  await page.getByText('Drop your clips here.').waitFor();
  await release();
  await page.close();
});

/** Nothing that is sent up arrives until it is let go. */
async function holdUploads(page: Page): Promise<() => Promise<void>> {
  let letGo = (): void => undefined;
  const free = new Promise<void>((resolve) => {
    letGo = resolve;
  });
  await page.route('**/api/uploads/*', async (route) => {
    if (route.request().method() === 'PATCH') await free;
    await route.continue().catch(() => undefined);
  });
  return async () => {
    letGo();
    await page.unroute('**/api/uploads/*');
  };
}

/** Lets the first bytes of the next upload through; `then` ends that request, or leaves it open. Answers with the offsets that uploads went on from. */
async function letThrough(
  page: Page,
  arrived: number,
  bytes: Buffer,
  then: (route: Route) => Promise<void> | void,
): Promise<{ offsets: number[] }> {
  const offsets: number[] = [];
  await page.route('**/api/uploads/*', async (route) => {
    const request = route.request();
    if (request.method() !== 'PATCH') return route.continue();
    offsets.push(Number(request.headers()['upload-offset']));
    if (offsets.length > 1) return route.continue();
    await route.fetch({
      postData: bytes.subarray(0, arrived),
      headers: { ...request.headers(), 'content-length': String(arrived) },
    });
    await then(route);
  });
  return { offsets };
}

test('an upload whose connection is lost goes on where it stopped', async () => {
  const page = await app.open('/', complaints);
  await newProject(page, 'Train journey');
  const path = join(await scratchFolder(), 'journey.wav');
  const bytes = wavBytes([chatter(0.1, 20, 1), chatter(0.1, 20, 1)]);
  await writeFile(path, bytes);
  const arrived = 2_000_000;
  const { offsets } = await letThrough(page, arrived, bytes, (route) => route.abort('connectionreset'));
  await bringIn(page, path);
  await clipRow(page, 'journey.wav').filter({ hasText: 'The same on both sides' }).waitFor();
  expect(offsets).toEqual([0, arrived]);
  expectOnlyOwn(complaints, /ERR_CONNECTION_RESET/);
  await page.close();
});

/** The same, and then nothing until the page is loaded anew. */
async function holdAfter(
  page: Page,
  arrived: number,
  bytes: Buffer,
): Promise<{ offsets: number[]; held: Promise<void> }> {
  let held!: () => void;
  const holding = new Promise<void>((resolve) => {
    held = resolve;
  });
  return { ...(await letThrough(page, arrived, bytes, () => held())), held: holding };
}

test('an upload that a reload cut off is shown; it goes on with what is missing once its file is there again, or is forgotten', async () => {
  const page = await app.open('/', complaints);
  await newProject(page, 'Reloaded');
  const bytes = wavBytes([chatter(0.1, 20, 1), chatter(0.1, 20, 1)]);
  const path = join(await scratchFolder(), 'reloaded.wav');
  await writeFile(path, bytes);
  const arrived = 3_000_000;
  const interrupted = page.getByText(
    'Was interrupted. Choose or drop the same file again: it goes on where it stopped.',
  );

  const { offsets, held } = await holdAfter(page, arrived, bytes);
  await dropFiles(page, [path]);
  await held;
  await page.reload();
  await interrupted.waitFor();
  await expectNothingSerious(page);
  await dropFiles(page, [path]);
  await clipRow(page, 'reloaded.wav').filter({ hasText: 'The same on both sides' }).waitFor();
  expect(offsets).toEqual([0, arrived]);
  expect(await interrupted.count()).toBe(0);

  await page.unroute('**/api/uploads/*');
  const again = await holdAfter(page, arrived, bytes);
  await dropFiles(page, [path]);
  await again.held;
  await page.reload();
  await page.getByRole('button', { name: 'Forget reloaded.wav' }).click();
  await interrupted.waitFor({ state: 'detached' });
  await page.reload();
  await clipRow(page, 'reloaded.wav').waitFor();
  expect(await interrupted.count()).toBe(0);
  await page.close();
});

test('uploads wait while the machine is offline, and go on by themselves', async () => {
  const page = await app.open('/', complaints);
  await page.clock.install();
  await page.reload();
  await newProject(page, 'Tunnel');
  const bytes = wavBytes([chatter(0.1, 20, 1), chatter(0.1, 20, 1)]);
  const path = join(await scratchFolder(), 'tunnel.wav');
  await writeFile(path, bytes);
  let patches = 0;
  await page.route('**/api/uploads/*', async (route) => {
    if (route.request().method() === 'PATCH' && patches++ === 0) {
      await page.context().setOffline(true);
      await route.abort('internetdisconnected');
    } else await route.continue();
  });
  const cutOff = page.waitForEvent('requestfailed', (request) => request.method() === 'PATCH');
  await dropFiles(page, [path]);
  await cutOff;
  // Longer than it would be tried again by itself.
  await page.clock.runFor(180_000);
  await page.getByRole('progressbar', { name: 'Bringing in tunnel.wav' }).waitFor();
  await page.context().setOffline(false);
  await clipRow(page, 'tunnel.wav').filter({ hasText: 'The same on both sides' }).waitFor();
  forgetLostConnections();
  await page.close();
});

test('what is too large or finds no room says so in its place, the rest comes in, and it can be tried again', async () => {
  const page = await app.open('/', complaints);
  await newProject(page, 'A full disk');
  const folder = await scratchFolder();
  await writeFile(join(folder, 'huge.wav'), Buffer.alloc(LARGEST_BYTES + 1));
  for (const name of ['small.wav', 'other.wav']) await writeFile(join(folder, name), wavBytes([VOICE, HISS]));
  await page.route('**/api/uploads', async (route) => {
    const metadata = route.request().headers()['upload-metadata'] ?? '';
    if (metadata.includes(Buffer.from('other.wav').toString('base64'))) await route.fulfill({ status: 507, body: '' });
    else await route.continue();
  });
  await dropFiles(
    page,
    ['huge.wav', 'small.wav', 'other.wav'].map((name) => join(folder, name)),
  );
  const alerts = page.getByRole('region', { name: 'Coming in' }).getByRole('alert');
  await alerts.getByText('huge.wav is larger than this server takes. Bring in a shorter file.').waitFor();
  await alerts.getByText('There is no room on the server’s disk for other.wav. Free some and try again.').waitFor();
  await clipRow(page, 'small.wav').filter({ hasText: 'Only the left' }).waitFor();
  await expectNothingSerious(page);
  await page.unroute('**/api/uploads');
  await page.getByRole('button', { name: 'Try other.wav again' }).click();
  await clipRow(page, 'other.wav').filter({ hasText: 'Only the left' }).waitFor();
  await page.getByRole('button', { name: 'Cancel huge.wav' }).click();
  await page.getByRole('region', { name: 'Coming in' }).waitFor({ state: 'detached' });
  expectOnlyOwn(complaints, /413|507/);
  await page.close();
});
