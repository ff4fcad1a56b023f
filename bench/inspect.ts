import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { rounds } from './rounds.ts';
import { writeInterview, writeWithLosses } from './interview.ts';

// Inspecting an hour of stereo with its outline, against FFmpeg decoding it.
const MOST_TIMES_FFMPEG = { plain: 0.5, withBoundaries: 0.7 };
const MOST_MEGABYTES = 250;
const MOST_MEGABYTES_OF_24 = 300;

const folder = mkdtempSync(join(tmpdir(), 'pocket-twin-bench-'));
const source = join(folder, 'interview.wav');
const inspectOnce = (): { seconds: number; peakMegabytes: number } =>
  JSON.parse(
    execFileSync(process.execPath, ['bench/child.built.mjs', 'inspect', source, join(folder, 'outline')], {
      encoding: 'utf8',
    }),
  );
try {
  const compare = async (what: string, mostTimes: number): Promise<void> => {
    let peakMegabytes = 0;
    const medians = await rounds(5, {
      ffmpeg: () => {
        execFileSync('ffmpeg', ['-nostdin', '-loglevel', 'error', '-i', source, '-f', 'null', '-']);
      },
      inspect: () => {
        peakMegabytes = Math.max(peakMegabytes, inspectOnce().peakMegabytes);
      },
    });
    const ratio = medians.inspect / medians.ffmpeg;
    console.log(
      `inspect of ${what}, 48 kHz 24-bit stereo: ${ratio.toFixed(2)} times ffmpeg -f null (${medians.inspect.toFixed(2)} s to ${medians.ffmpeg.toFixed(2)} s, start-up included; bar ${mostTimes}), peak memory ${peakMegabytes.toFixed(0)} MB (bar ${MOST_MEGABYTES})`,
    );
    if (ratio > mostTimes || peakMegabytes > MOST_MEGABYTES) process.exitCode = 1;
  };
  await writeInterview(source);
  await compare('one hour', MOST_TIMES_FFMPEG.plain);
  // Segments to look at, and boundaries to place: as many as there ever are.
  await writeWithLosses(source, 6);
  await compare('one hour with twelve boundaries', MOST_TIMES_FFMPEG.withBoundaries);

  // The cost grows with length and channels, and with nothing else.
  for (const [minutes, channels] of [
    [1, 2],
    [10, 2],
    [60, 2],
    [180, 2],
    [10, 24],
  ]) {
    await writeInterview(source, minutes, channels);
    const { seconds, peakMegabytes: peak } = inspectOnce();
    console.log(
      `${String(minutes).padStart(4)} min, ${String(channels).padStart(2)} channels: ${seconds.toFixed(2).padStart(6)} s, ${((1000 * seconds) / (minutes * channels)).toFixed(1).padStart(6)} ms a minute and channel, ${peak.toFixed(0)} MB`,
    );
    if (peak > (channels === 24 ? MOST_MEGABYTES_OF_24 : MOST_MEGABYTES)) process.exitCode = 1;
  }
} finally {
  rmSync(folder, { recursive: true });
}
