import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { rounds } from './rounds.ts';
import { writeInterview } from './interview.ts';

// Writing an exact fill of an hour of stereo, against copying that file. Both end on the disk (sync).
const MOST_TIMES_CP = 2.5;
const MOST_MEGABYTES = 300;

const folder = mkdtempSync(join(tmpdir(), 'pocket-twin-bench-'));
try {
  const source = join(folder, 'hour.wav');
  await writeInterview(source);
  const frames = (statSync(source).size - 44) / 6;
  let peakMegabytes = 0;
  const medians = await rounds(3, {
    cp: () => {
      execFileSync('sh', ['-c', `cp ${source} ${folder}/copy.wav && sync ${folder}/copy.wav`]);
    },
    fill: () => {
      const said = execFileSync(
        process.execPath,
        ['bench/child.built.mjs', 'fill', source, join(folder, 'filled.wav'), String(frames)],
        { encoding: 'utf8' },
      );
      peakMegabytes = Math.max(peakMegabytes, (JSON.parse(said) as { peakMegabytes: number }).peakMegabytes);
    },
  });
  const ratio = medians.fill / medians.cp;
  console.log(
    `fill of one hour, 48 kHz 24-bit stereo: ${ratio.toFixed(2)} times cp with sync (${medians.fill.toFixed(2)} s to ${medians.cp.toFixed(2)} s, start-up included; bar ${MOST_TIMES_CP})`,
  );
  console.log(`peak memory: ${peakMegabytes.toFixed(0)} MB (bar ${MOST_MEGABYTES})`);
  if (ratio > MOST_TIMES_CP || peakMegabytes > MOST_MEGABYTES) process.exitCode = 1;
} finally {
  rmSync(folder, { recursive: true });
}
