import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { rounds } from './rounds.ts';
import { writeInterview } from './interview.ts';

// Inspecting an hour of stereo with its outline, against FFmpeg decoding it. Reported, no bar yet.
const folder = mkdtempSync(join(tmpdir(), 'pocket-twin-bench-'));
try {
  const source = join(folder, 'hour.wav');
  await writeInterview(source);
  let peakMegabytes = 0;
  const medians = await rounds(3, {
    ffmpeg: () => { execFileSync('ffmpeg', ['-nostdin', '-loglevel', 'error', '-i', source, '-f', 'null', '-']); },
    inspect: () => {
      const said = execFileSync(process.execPath, ['bench/child.built.mjs', 'inspect', source, join(folder, 'outline')], { encoding: 'utf8' });
      peakMegabytes = Math.max(peakMegabytes, (JSON.parse(said) as { peakMegabytes: number }).peakMegabytes);
    },
  });
  console.log(`inspect of one hour, 48 kHz 24-bit stereo: ${(medians.inspect / medians.ffmpeg).toFixed(2)} times ffmpeg -f null (${medians.inspect.toFixed(2)} s to ${medians.ffmpeg.toFixed(2)} s)`);
  console.log(`peak memory: ${peakMegabytes.toFixed(0)} MB`);
} finally {
  rmSync(folder, { recursive: true });
}
