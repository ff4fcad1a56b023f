import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { wavBytes } from '@pocket-twin/media/test/files.ts';
import { Application } from '../e2e/application.ts';
import { copyRows } from './copyRows.ts';
import { followTasks } from './mainThreadTasks.ts';
import { uploadStraight } from './uploadStraight.ts';

// What a person waits for at the page: files coming in by the hundred against the server alone; filtering, sorting, searching, choosing and opening
// with 226 and with 5,000 clips; the longest task of each. npm run bench -- page [FILES]
const FILES = Number(process.argv.slice(2).find((word) => /^\d+$/.test(word)) ?? 300);
const MOST_TIMES_SERVER = 1.5;
const LONGEST_TASK_COMING_IN_MS = 50;
const LONGEST_TASK_MS = 100;
const SHOWN_MS = 150;
const CHOSEN_MS = 100;
const PICTURE_MS = 400;
const SOUND_MS = 100;
const VOICE = mix(chatter(0.1, 0.085, 1), noise(0.0005, 0.085, 3));

const app = await Application.start({ POCKET_TWIN_DEMO: 'off' });
try {
  await comingIn();
  for (const rows of [226, 5000]) await atHand(rows);
} finally {
  await app.stop();
}

/** The same files straight to the server and through the page, each into a project of its own, in turn. */
async function comingIn(): Promise<void> {
  const nameOf = (part: string, i: number): string => `${part}-${String(i + 1).padStart(3, '0')}.wav`;
  const files = (part: string) =>
    Array.from({ length: FILES }, (_, i) => ({ name: nameOf(part, i), buffer: tinyWav(i) }));
  // As a person has them: on the disk.
  const folder = join(app.home, 'to-bring-in');
  mkdirSync(folder);
  const paths = files('b').map(({ name, buffer }) => {
    writeFileSync(join(folder, name), buffer);
    return join(folder, name);
  });
  const straight = async (part: string): Promise<number> => {
    const id = await newProject(`Straight ${part}`);
    const start = Date.now();
    await uploadStraight(app.origin, id, files(part));
    const took = Date.now() - start;
    await measured(id, FILES);
    return took;
  };
  const first = await straight('a');
  const page = await openAt(await newProject('Through the page'));
  await page.waitForTimeout(1500);
  const tasks = await followTasks(page);
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Choose clips' }).click();
  const start = Date.now();
  await (await chooser).setFiles(paths);
  await page.waitForFunction(
    (count) => Number(document.querySelector('nav [aria-current=page] .numeric')?.textContent) === count,
    FILES,
    { timeout: 300_000 },
  );
  const through = Date.now() - start;
  await measured(page.url().match(/projects\/([^/]+)/)![1], FILES);
  const { longestOwnMs, longestMs, over50 } = await tasks();
  await page.context().close();
  const alone = (first + (await straight('c'))) / 2;
  report(
    through / alone,
    MOST_TIMES_SERVER,
    `${FILES} files of 25 kB through the page: ${(through / 1000).toFixed(1)} s, ${(through / alone).toFixed(2)} times the server alone (${(alone / 1000).toFixed(1)} s; bar ${MOST_TIMES_SERVER})`,
  );
  report(
    longestOwnMs,
    LONGEST_TASK_COMING_IN_MS,
    `  longest task until all are measured: ${longestOwnMs.toFixed(0)} ms of its own (bar ${LONGEST_TASK_COMING_IN_MS}); by the clock, beside server, worker and database on these cores, ${longestMs.toFixed(0)} ms, ${over50} over 50 ms`,
  );
}

async function atHand(rows: number): Promise<void> {
  const id = await newProject(`Rows ${rows}`);
  await copyRows(app, id, rows);
  const page = await openAt(id);
  await page.locator('[data-clip-id]').first().waitFor({ timeout: 60_000 });
  await page.waitForTimeout(1500);
  await longTasks(page);
  const shown = (count: number) => `() => document.querySelector('[data-shown]')?.dataset.shown === '${count}'`;
  const step = async (what: string, bar: number, act: string, seen: string): Promise<void> => {
    const ms = await felt(page, act, seen);
    const { longest } = await longTasks(page);
    report(ms, bar, `${rows} clips: ${what} after ${ms.toFixed(0)} ms (bar ${bar})`);
    report(longest, LONGEST_TASK_MS, `  longest task: ${longest.toFixed(0)} ms (bar ${LONGEST_TASK_MS})`);
  };
  const press = (selector: string): string => `() => document.querySelector(${JSON.stringify(selector)}).click()`;
  await step('filter shown', SHOWN_MS, press('[data-filter="stereo"]'), shown(Math.floor(rows / 4)));
  await step('filter taken away', SHOWN_MS, press('[data-filter="all"]'), shown(rows));
  await step(
    'sorted',
    SHOWN_MS,
    press('[data-sort="name"]'),
    `() => document.querySelector('[data-sort="name"]').closest('[role=columnheader]').ariaSort !== 'none' && document.querySelector('[data-sorted-by="name"]') !== null`,
  );
  const type = (text: string): string =>
    `() => { const box = document.querySelector('input[type=search], input[placeholder=Search]'); Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(box, ${JSON.stringify(text)}); box.dispatchEvent(new Event('input', { bubbles: true })); }`;
  await step(
    'search shown',
    SHOWN_MS,
    type('take-17'),
    `() => { const n = Number(document.querySelector('[data-shown]')?.dataset.shown); return n > 0 && n < ${rows}; }`,
  );
  await step('search taken away', SHOWN_MS, type(''), shown(rows));
  await step(
    'all chosen',
    CHOSEN_MS,
    `() => { document.querySelector('[role=treegrid]').focus(); }`,
    `() => document.activeElement.closest('[role=treegrid]') !== null`,
  );
  const allMs = await feltKey(
    page,
    'Control+a',
    `() => document.querySelector('[aria-label="Chosen clips"]')?.textContent.includes('${rows.toLocaleString('en').replace(',', '')} clips chosen')`,
  );
  report(allMs, CHOSEN_MS, `${rows} clips: all chosen by key after ${allMs.toFixed(0)} ms (bar ${CHOSEN_MS})`);
  const { longest: choosingTask } = await longTasks(page);
  report(choosingTask, LONGEST_TASK_MS, `  longest task: ${choosingTask.toFixed(0)} ms (bar ${LONGEST_TASK_MS})`);
  await page.keyboard.press('Escape');
  await longTasks(page);
  await step(
    'bench picture',
    PICTURE_MS,
    `() => document.querySelector('[data-clip] a').click()`,
    `() => {
    const canvas = document.querySelector('section[aria-label="Ribbon"] canvas');
    if (!canvas || canvas.width === 0) return false;
    const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height);
    let drawn = 0;
    for (let i = 0; i < data.length; i += 4) if (data[i] === 0x5a && data[i + 1] === 0x4f && data[i + 2] === 0xcf) drawn++;
    return drawn > 300;
  }`,
  );
  await page.waitForTimeout(1500);
  await longTasks(page);
  const soundMs = await feltKey(
    page,
    ' ',
    `() => [...document.querySelectorAll('[role=meter]')].some((meter) => Number(meter.getAttribute('aria-valuenow')) > -60)`,
  );
  report(
    soundMs,
    SOUND_MS,
    `${rows} clips: sound moves ${soundMs.toFixed(0)} ms after Space, the first time (bar ${SOUND_MS})`,
  );
  await page.context().close();
}

/** Milliseconds from an act in the page until what is to be seen is there, looked at once a frame. */
function felt(page: Page, act: string, seen: string): Promise<number> {
  return page.evaluate(`(async () => {
    const start = performance.now();
    (${act})();
    const seen = ${seen};
    while (!seen()) {
      await new Promise(requestAnimationFrame);
      if (performance.now() - start > 20000) return Infinity;
    }
    return performance.now() - start;
  })()`);
}

/** The same for a key. The page keeps keys from other listeners, so the time begins just before it is pressed. */
async function feltKey(page: Page, key: string, seen: string): Promise<number> {
  const start = await page.evaluate<number>('performance.now()');
  await page.keyboard.press(key);
  return page.evaluate<number>(`(async () => {
    const seen = ${seen};
    while (!seen()) {
      await new Promise(requestAnimationFrame);
      if (performance.now() - ${start} > 20000) return Infinity;
    }
    return performance.now() - ${start};
  })()`);
}

async function openAt(projectId: string): Promise<Page> {
  const page = await app.open('/', []);
  await page.addInitScript(`
    window.longTasks = [];
    new PerformanceObserver((list) => window.longTasks.push(...list.getEntries().map(({ duration }) => duration))).observe({ entryTypes: ['longtask'] });`);
  await page.goto(`${app.origin}/projects/${projectId}`);
  return page;
}

/** The tasks over 50 ms since it was asked last. */
function longTasks(page: Page): Promise<{ longest: number; count: number }> {
  return page.evaluate(`(async () => {
    await new Promise((resolve) => setTimeout(resolve, 300));
    const durations = window.longTasks.splice(0);
    return { longest: Math.max(0, ...durations), count: durations.length };
  })()`);
}

/** 25 kB; no two alike. */
function tinyWav(n: number): Buffer {
  return wavBytes([VOICE, noise(0.0008, 0.085, n + 10)]);
}

async function newProject(name: string): Promise<string> {
  const answer = await fetch(`${app.origin}/api/projects`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ name }),
  });
  return ((await answer.json()) as { id: string }).id;
}

async function measured(projectId: string, clips: number): Promise<void> {
  for (;;) {
    const found = (await (await fetch(`${app.origin}/api/projects/${projectId}/clips?limit=500`)).json()) as {
      state: string;
    }[];
    if (found.length === clips && found.every(({ state }) => state === 'ready' || state === 'failed')) return;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}

function report(figure: number, bar: number, line: string): void {
  console.log(line);
  if (figure > bar) process.exitCode = 1;
}
