import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Handoff } from '@pocket-twin/core/schema/handoff.ts';
import type { Project } from '@pocket-twin/core/schema/project.ts';
import type { Writing } from '@pocket-twin/core/schema/writing.ts';
import { fillFrom } from '@pocket-twin/core/repair/plan/plans.ts';
import { inTurn, mix } from '@pocket-twin/core/synth/mono.ts';
import { hiss } from '@pocket-twin/core/synth/noise.ts';
import { voice } from '@pocket-twin/demo/voice.ts';
import { wavBytes } from '@pocket-twin/media/test/files.ts';
import { Application } from '../e2e/application.ts';
import { writeInterview } from './interview.ts';
import { rounds } from './rounds.ts';

// What a person waits for: an exact fill of an hour from pressing the button to its proven receipt, in the application and in the terminal, against cp with
// sync of that file; a shoot of clips with picture, against FFmpeg copying the picture with the same sound one after another. npm run bench -- handoff [CLIPS]
const CLIPS = Number(process.argv.slice(2).find((word) => /^\d+$/.test(word)) ?? 100);
const CLIP_SECONDS = 30;
const MOST_TIMES_CP = 2.5;
const MOST_TIMES_FFMPEG = 1.3;
const MOST_MEGABYTES = 300;
// Seldom enough that looking takes nothing from what is measured.
const LOOK_EVERY_MS = 200;
// While other contenders run nobody looks after an open connection.
const UNSHARED = { Connection: 'close' };
let rounded = 0;

const app = await Application.start({ POCKET_TWIN_DEMO: 'off' });
try {
  if (!process.argv.includes('--films')) await hour();
  await films();
} finally {
  await app.stop();
}

async function hour(): Promise<void> {
  const folder = join(app.media, 'hour');
  mkdirSync(folder);
  const source = join(folder, 'hour.wav');
  await writeInterview(source);
  const { clips } = await linked('Hour', 'hour', 1);
  // Each writes a file that was not there: giving back the room of an old one takes seconds of its own.
  let written = 0;
  const medians = await rounds(3, {
    cp: () => {
      const copy = join(app.home, `copy-${++written}.wav`);
      execFileSync('sh', ['-c', `cp ${source} ${copy} && sync ${copy}`]);
    },
    button: async () => {
      // Each time another plan than the last, or it would be answered from what is there.
      await post(`clips/${clips[0].id}/writings`, { repair: fillFrom(rounded++ % 2 === 0 ? 1 : 2, 2) });
      await until(async () => {
        const [writing] = await get<Writing[]>(`clips/${clips[0].id}/writings`);
        return writing.state === 'done';
      });
    },
    terminal: () => {
      const out = join(app.home, `terminal-${++written}`);
      execFileSync(process.execPath, ['cli/bin/pocket-twin.mjs', 'repair', source, '--fill', '1', '--out', out]);
    },
  });
  for (const what of ['button', 'terminal'] as const) {
    const ratio = medians[what] / medians.cp;
    console.log(
      `exact fill of an hour to its proven receipt, ${what === 'button' ? 'from pressing the button' : 'npx pocket-twin repair as a whole process'}: ${ratio.toFixed(2)} times cp with sync (${medians[what].toFixed(2)} s to ${medians.cp.toFixed(2)} s; bar ${MOST_TIMES_CP})`,
    );
    if (ratio > MOST_TIMES_CP) process.exitCode = 1;
  }
}

async function films(): Promise<void> {
  const folder = join(app.media, 'films');
  mkdirSync(folder);
  const talk = inTurn(await voice('ottilie-deck'), await voice('narrator'), await voice('lock-office'));
  const sides = [mix(talk, hiss(talk.length, -66, 1)), hiss(talk.length, -62, 2)];
  const frames = CLIP_SECONDS * 48000;
  const picture = join(app.home, 'picture.mov');
  ffmpeg(
    '-f',
    'lavfi',
    '-i',
    `testsrc2=s=1280x720:r=25:d=${CLIP_SECONDS}`,
    '-c:v',
    'libx264',
    '-preset',
    'ultrafast',
    '-b:v',
    '8M',
    picture,
  );
  const files = Array.from({ length: CLIPS }, (_, i) => {
    const start = (i * 7919) % Math.max(1, talk.length - frames);
    const sound = join(app.home, `sound-${i}.wav`);
    writeFileSync(sound, wavBytes(sides.map((side) => side.subarray(start, start + frames))));
    const path = join(folder, `clip-${String(i + 1).padStart(3, '0')}.mov`);
    ffmpeg('-i', picture, '-i', sound, '-map', '0:v', '-map', '1:a', '-c:v', 'copy', '-c:a', 'pcm_s24le', path);
    return { path, sound };
  });
  const { projectId, clips } = await linked('Films', 'films', CLIPS);
  await post(`projects/${projectId}/suggestions`, { clipIds: clips.map(({ id }) => id), suggestion: null });
  let round = 0;
  const medians = await rounds(3, {
    ffmpeg: () => {
      const copied = join(app.home, `copied-${++round}`);
      mkdirSync(copied);
      files.forEach(({ path, sound }, i) => {
        const target = join(copied, `${i}.mov`);
        ffmpeg('-i', path, '-i', sound, '-map', '0:v', '-map', '1:a', '-c:v', 'copy', '-c:a', 'pcm_s24le', target);
      });
      execFileSync('sync', ['-f', copied]);
    },
    handoff: async () => {
      const name = `Round ${++round}`;
      const { id } = await post<Handoff>(`projects/${projectId}/handoffs`, {
        name,
        place: { kind: 'folder', root: 0 },
      });
      await until(
        async () =>
          (await get<Handoff[]>(`projects/${projectId}/handoffs`)).find((one) => one.id === id)?.state === 'done',
      );
    },
  });
  const ratio = medians.handoff / medians.ffmpeg;
  console.log(
    `${CLIPS} clips of ${CLIP_SECONDS} s with picture handed off, proven, with receipts: ${ratio.toFixed(2)} times ffmpeg -c:v copy one after another (${medians.handoff.toFixed(1)} s to ${medians.ffmpeg.toFixed(1)} s; bar ${MOST_TIMES_FFMPEG})`,
  );
  const megabytes = peakMegabytes(app.pidOf('worker'));
  console.log(`peak memory of the worker: ${megabytes.toFixed(0)} MB (bar ${MOST_MEGABYTES})`);
  if (ratio > MOST_TIMES_FFMPEG || megabytes > MOST_MEGABYTES) process.exitCode = 1;
}

/** The most that a process ever held, as the system counts it. */
function peakMegabytes(pid: number): number {
  return Number(/VmHWM:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) / 1024;
}

async function linked(name: string, folder: string, count: number): Promise<{ projectId: string; clips: Clip[] }> {
  const { id: projectId } = await post<Project>('projects', { name });
  await post(`projects/${projectId}/links`, { folder: 0, paths: [folder] });
  const all = (): Promise<Clip[]> => get<Clip[]>(`projects/${projectId}/clips?limit=500`);
  await until(async () => {
    const clips = await all();
    return clips.length === count && clips.every(({ state }) => state === 'ready');
  });
  return { projectId, clips: await all() };
}

async function get<Body>(path: string): Promise<Body> {
  return (await (await fetch(`${app.origin}/api/${path}`, { headers: UNSHARED })).json()) as Body;
}

async function post<Body>(path: string, body: unknown): Promise<Body> {
  const answer = await fetch(`${app.origin}/api/${path}`, {
    method: 'POST',
    headers: { ...UNSHARED, 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  if (!answer.ok) throw new Error(await answer.text());
  return (await answer.json()) as Body;
}

async function until(look: () => Promise<boolean>): Promise<void> {
  while (!(await look()))
    await new Promise((resolve) => {
      setTimeout(resolve, LOOK_EVERY_MS);
    });
}

function ffmpeg(...words: string[]): void {
  execFileSync('ffmpeg', ['-nostdin', '-loglevel', 'error', '-y', ...words]);
}
