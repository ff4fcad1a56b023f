import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Chance } from '@pocket-twin/core/synth/chance.ts';
import { wavBytes } from '@pocket-twin/media/test/files.ts';
import { rounds } from './rounds.ts';
import { makeCase } from './verdicts/cases.ts';

// What looking again at a short clip costs, once the code is warm, beside the first look and beside FFmpeg: npm run bench -- secondLook
const MOST_MS = 100;
const KINDS = [
  'oneSided',
  'dualMono',
  'fakeStereo',
  'twoTalkers',
  'nearAndFar',
  'pairInRoom',
  'mixdown',
  'closeMicrophones',
];
const OF_EACH = 3;
/** Of the verdicts bench's material, seeds that no other bench uses. */
const FIRST_SEED = 8_800_000;

const folder = mkdtempSync(join(tmpdir(), 'pocket-twin-bench-'));
try {
  for (const kind of KINDS)
    for (let i = 0; i < OF_EACH; i++) {
      const { sides } = makeCase(new Chance(FIRST_SEED + i), kind);
      const frames = Math.min(...sides.map((side) => side.length));
      writeFileSync(join(folder, `${kind}-${i}.wav`), wavBytes(sides.map((side) => side.subarray(0, frames))));
    }
  const clips = readdirSync(folder);
  let looks = { firstMs: 0, secondMs: 0 };
  const { ffmpeg } = await rounds(3, {
    ffmpeg: () => {
      for (const clip of clips)
        execFileSync('ffmpeg', ['-nostdin', '-loglevel', 'error', '-i', join(folder, clip), '-f', 'null', '-']);
    },
    looks: () => {
      const [line] = execFileSync(process.execPath, ['bench/child.built.mjs', 'looks', folder], {
        encoding: 'utf8',
      }).split('\n');
      looks = JSON.parse(line) as typeof looks;
    },
  });
  const each = (ms: number): string => (ms / clips.length).toFixed(0);
  console.log(
    `second look at ${clips.length} clips of ${KINDS.length} kinds, warm: ${each(looks.secondMs)} ms of processor a clip (bar ${MOST_MS}), ${(looks.secondMs / looks.firstMs).toFixed(1)} times the first look (${each(looks.firstMs)} ms), ${(looks.secondMs / (1000 * ffmpeg)).toFixed(2)} times ffmpeg -f null (${each(1000 * ffmpeg)} ms)`,
  );
  if (looks.secondMs > MOST_MS * clips.length) process.exitCode = 1;
} finally {
  rmSync(folder, { recursive: true });
}
