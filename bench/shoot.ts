import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Project } from '@pocket-twin/core/schema/project.ts';
import { inTurn, mix } from '@pocket-twin/core/synth/mono.ts';
import { hiss } from '@pocket-twin/core/synth/noise.ts';
import { voice } from '@pocket-twin/demo/voice.ts';
import { wavBytes } from '@pocket-twin/media/test/files.ts';
import { Application } from '../e2e/application.ts';
import { copyRows } from './copyRows.ts';
import { writeInterview } from './interview.ts';
import { screenRate, scrollByWheel } from './scrolling.ts';

// A whole shoot: many clips brought in by link and diagnosed, against FFmpeg decoding them one after another; the lineup of 5,000 scrolled;
// the longest clips brought in and opened. npm run bench -- shoot [CLIPS] [--no-long]
const CLIPS = Number(process.argv.slice(2).find((word) => /^\d+$/.test(word)) ?? 1000);
const LONG = !process.argv.includes('--no-long');
const MOST_TIMES_FFMPEG = 0.25;
const MOST_MEGABYTES = 300;
const MOST_RIBBON_SECONDS = 0.5;
const ROWS = 5000;
const FASTEST_READ = 1920;
const LEAST_OF_SCREEN_RATE = 0.95;
const MOST_BARE = 0.01;

const app = await Application.start({ POCKET_TWIN_DEMO: 'off' });
try {
  await manyClips();
  await scrolling();
  if (LONG)
    for (const [minutes, channels] of [
      [180, 2],
      [60, 24],
    ])
      await longClip(minutes, channels);
} finally {
  await app.stop();
}

async function manyClips(): Promise<void> {
  const card = join(app.media, 'card');
  mkdirSync(card);
  const talk = inTurn(await voice('ottilie-deck'), await voice('narrator'), await voice('lock-office'));
  const long = mix(talk, hiss(talk.length, -66, 1));
  const dead = hiss(talk.length, -62, 2);
  const files = Array.from({ length: CLIPS }, (_, i) => {
    const start = (i * 7919) % (talk.length - 480_000);
    const path = join(card, `take-${String(i + 1).padStart(4, '0')}.wav`);
    writeFileSync(path, wavBytes([long, dead].map((side) => side.subarray(start, start + 480_000))));
    return path;
  });
  const decode = (some: string[]): number =>
    seconds(() => {
      for (const file of some)
        execFileSync('ffmpeg', ['-nostdin', '-loglevel', 'error', '-i', file, '-f', 'null', '-']);
    });
  // Half before and half after, so that the machine's moods fall on both.
  const before = decode(files.filter((_, i) => i % 2 === 0));
  const projectId = await newProject('Card');
  const start = Date.now();
  await link(projectId, 'card');
  await measured(projectId);
  const took = (Date.now() - start) / 1000;
  const ffmpeg = before + decode(files.filter((_, i) => i % 2 === 1));
  report(
    took / ffmpeg,
    MOST_TIMES_FFMPEG,
    `${CLIPS} ten-second clips linked and diagnosed: ${(CLIPS / took).toFixed(1)} a second, ${(took / ffmpeg).toFixed(2)} times ffmpeg one after another (${took.toFixed(1)} s to ${ffmpeg.toFixed(1)} s; bar ${MOST_TIMES_FFMPEG})`,
  );
  sayMemory();
}

async function scrolling(): Promise<void> {
  await copyRows(app, await newProject('Five thousand'), ROWS);
  const page = await app.open('/', []);
  await page.getByText('Five thousand').click();
  const opened = await page.evaluate(() => performance.now());
  await page.locator('[data-clip-id]').first().waitFor({ timeout: 60_000 });
  console.log(
    `${ROWS} rows: first rows after ${(((await page.evaluate(() => performance.now())) - opened) / 1000).toFixed(1)} s`,
  );
  await page.waitForTimeout(1500);
  const rate = await screenRate(page);
  for (const pixels of [480, 960, 1920, 3840]) {
    const { drawn, answered, bare } = await scrollByWheel(page, pixels, rate);
    const line = `  scrolled by ${pixels} pixels a second: drawn at ${drawn.toFixed(2)} of the screen's rate (${rate.toFixed(0)} a second), ${(100 * bare).toFixed(1)} % of it with rows missing; the page itself at ${answered.toFixed(2)}`;
    // At eighty rows a second nobody reads; this only tells what happens.
    if (pixels > FASTEST_READ) console.log(line);
    else report(Math.max(LEAST_OF_SCREEN_RATE - drawn, bare - MOST_BARE), 0, line);
  }
  await page.context().close();
}

async function longClip(minutes: number, channels: number): Promise<void> {
  const folder = join(app.media, `long-${channels}`);
  mkdirSync(folder);
  await writeInterview(join(folder, 'long.wav'), minutes, channels);
  // A worker of its own, so that its peak is this clip's.
  await app.kill('worker');
  await new Promise((resolve) => setTimeout(resolve, 4000));
  const projectId = await newProject(`Long ${channels}`);
  const start = Date.now();
  await link(projectId, `long-${channels}`);
  await measured(projectId);
  const took = (Date.now() - start) / 1000;
  const page = await app.open(`/projects/${projectId}`, []);
  await page.getByRole('link', { name: 'long.wav' }).waitFor();
  const ribbon = await page.evaluate(async () => {
    const begin = performance.now();
    document.querySelector<HTMLElement>('[data-clip="long.wav"] a')!.click();
    for (;;) {
      await new Promise(requestAnimationFrame);
      const canvas = document.querySelector<HTMLCanvasElement>('section[aria-label="Ribbon"] canvas');
      const data =
        canvas && canvas.width > 0
          ? canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height).data
          : null;
      let left = 0;
      if (data)
        for (let i = 0; i < data.length; i += 4)
          if (data[i] === 0x5a && data[i + 1] === 0x4f && data[i + 2] === 0xcf) left++;
      if (left > 500) return (performance.now() - begin) / 1000;
      if (performance.now() - begin > 20_000) return Infinity;
    }
  });
  await page.context().close();
  report(
    ribbon,
    MOST_RIBBON_SECONDS,
    `${channels} channels, ${minutes} min: brought in in ${took.toFixed(0)} s, ribbon on screen ${ribbon.toFixed(2)} s after opening (bar ${MOST_RIBBON_SECONDS})`,
  );
  sayMemory();
  rmSync(folder, { recursive: true });
}

function sayMemory(): void {
  for (const part of ['server', 'worker'] as const) {
    const status = readFileSync(`/proc/${app.pidOf(part)}/status`, 'utf8');
    const peak = Number(/VmHWM:\s+(\d+)/.exec(status)![1]) / 1024;
    report(peak, MOST_MEGABYTES, `  peak memory of the ${part}: ${peak.toFixed(0)} MB (bar ${MOST_MEGABYTES})`);
  }
}

function report(figure: number, bar: number, line: string): void {
  console.log(line);
  if (figure > bar) process.exitCode = 1;
}

function seconds(run: () => void): number {
  const start = process.hrtime.bigint();
  run();
  return Number(process.hrtime.bigint() - start) / 1e9;
}

async function call<Answer>(method: string, path: string, body?: unknown): Promise<Answer> {
  const answer = await fetch(`${app.origin}/api/${path}`, {
    method,
    headers: { 'Content-Type': 'application/json' },
    body: body === undefined ? undefined : JSON.stringify(body),
  });
  return (await answer.json()) as Answer;
}

async function newProject(name: string): Promise<string> {
  return (await call<{ id: string }>('POST', 'projects', { name })).id;
}

function link(projectId: string, path: string): Promise<unknown> {
  return call('POST', `projects/${projectId}/links`, { folder: 0, paths: [path] });
}

async function measured(projectId: string): Promise<void> {
  for (;;) {
    const {
      standings: { measuring, unreadable },
      clips,
    } = await call<Project>('GET', `projects/${projectId}`);
    if (clips > 0 && measuring === 0) {
      if (unreadable > 0) throw new Error(`${unreadable} clips could not be read`);
      return;
    }
    // A person is told; to ask more often would be work of the bench's own.
    await new Promise((resolve) => setTimeout(resolve, 500));
  }
}
