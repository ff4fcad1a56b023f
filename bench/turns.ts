import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeInterview } from './interview.ts';
import { rounds } from './rounds.ts';

// An hour of two microphones: proposing who speaks when, beyond measuring; and writing 200 turns and trims, against FFmpeg's volume and pan.
const MOST_PROPOSING_SECONDS = 3;
const MOST_TIMES_FFMPEG = 1.5;
const MOST_MEGABYTES = 300;

const folder = mkdtempSync(join(tmpdir(), 'pocket-twin-bench-'));
try {
  const source = join(folder, 'hour.wav');
  await writeInterview(source);
  const frames = (statSync(source).size - 44) / 6;
  const child = (what: string, target: string): { seconds: number; peakMegabytes: number } =>
    JSON.parse(
      execFileSync(process.execPath, ['bench/child.built.mjs', what, source, target, String(frames)], {
        encoding: 'utf8',
      }),
    ) as { seconds: number; peakMegabytes: number };
  const peaks = { propose: 0, turns: 0 };
  const proposing: number[] = [];
  const medians = await rounds(3, {
    ffmpeg: () => {
      const filter = 'volume=-2dB,pan=stereo|c0=c0+0.8*c1|c1=c0+0.8*c1';
      const args = `-v error -y -i ${source} -af "${filter}" -c:a pcm_s24le ${folder}/mixed.wav`;
      execFileSync('sh', ['-c', `ffmpeg ${args} && sync ${folder}/mixed.wav`]);
    },
    turns: () => {
      peaks.turns = Math.max(peaks.turns, child('turns', join(folder, 'turns.wav')).peakMegabytes);
    },
    propose: () => {
      const { seconds, peakMegabytes } = child('propose', '');
      proposing.push(seconds);
      peaks.propose = Math.max(peaks.propose, peakMegabytes);
    },
  });
  const ratio = medians.turns / medians.ffmpeg;
  const proposed = proposing.sort((a, b) => a - b)[1];
  console.log(
    `writing one hour with 200 turns and trims: ${ratio.toFixed(2)} times ffmpeg with volume and pan (${medians.turns.toFixed(2)} s to ${medians.ffmpeg.toFixed(2)} s, start-up included; bar ${MOST_TIMES_FFMPEG}), peak memory ${peaks.turns.toFixed(0)} MB (bar ${MOST_MEGABYTES})`,
  );
  console.log(
    `proposing turns for one hour of two microphones: ${proposed.toFixed(2)} s (bar ${MOST_PROPOSING_SECONDS}), peak memory ${peaks.propose.toFixed(0)} MB (bar ${MOST_MEGABYTES})`,
  );
  if (ratio > MOST_TIMES_FFMPEG || proposed > MOST_PROPOSING_SECONDS) process.exitCode = 1;
  if (Math.max(peaks.turns, peaks.propose) > MOST_MEGABYTES) process.exitCode = 1;
} finally {
  rmSync(folder, { recursive: true });
}
