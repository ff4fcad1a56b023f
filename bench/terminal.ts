import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { inTurn, mix } from '@pocket-twin/core/synth/mono.ts';
import { hiss } from '@pocket-twin/core/synth/noise.ts';
import { voice } from '@pocket-twin/demo/voice.ts';
import { wavBytes } from '@pocket-twin/media/test/files.ts';
import { rounds } from './rounds.ts';

// Many short clips inspected in one call, against FFmpeg decoding them one after another. npm run bench -- terminal [CLIPS]
const CLIPS = Number(process.argv.slice(2).find((word) => /^\d+$/.test(word)) ?? 226);
const SECONDS = 13;
const MOST_TIMES_FFMPEG = 0.5;

const folder = mkdtempSync(join(tmpdir(), 'pocket-twin-bench-'));
try {
  const talk = inTurn(await voice('ottilie-deck'), await voice('narrator'), await voice('lock-office'));
  const sides = [mix(talk, hiss(talk.length, -66, 1)), hiss(talk.length, -62, 2)];
  const frames = SECONDS * 48000;
  const files = Array.from({ length: CLIPS }, (_, i) => {
    const start = (i * 7919) % (talk.length - frames);
    const path = join(folder, `take-${i}.wav`);
    writeFileSync(path, wavBytes(sides.map((side) => side.subarray(start, start + frames))));
    return path;
  });
  const medians = await rounds(3, {
    ffmpeg: () => {
      for (const file of files)
        execFileSync('ffmpeg', ['-nostdin', '-loglevel', 'error', '-i', file, '-f', 'null', '-']);
    },
    // It finds something, and says so by its exit status.
    inspect: () => {
      execFileSync('sh', [
        '-c',
        `"$0" cli/bin/pocket-twin.mjs inspect "$@" --json > /dev/null; test $? = 1`,
        process.execPath,
        ...files,
      ]);
    },
  });
  const ratio = medians.inspect / medians.ffmpeg;
  console.log(
    `${CLIPS} clips of ${SECONDS} s inspected in one call: ${ratio.toFixed(2)} times ffmpeg one after another (${medians.inspect.toFixed(1)} s to ${medians.ffmpeg.toFixed(1)} s; bar ${MOST_TIMES_FFMPEG})`,
  );
  if (ratio > MOST_TIMES_FFMPEG) process.exitCode = 1;
} finally {
  rmSync(folder, { recursive: true });
}
