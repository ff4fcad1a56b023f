// Speaks the demo's lines with espeak-ng (Debian) and keeps them as dry 24 kHz FLAC files.
// Run by hand when the lines change; the FLAC files are in the repository, so that building
// the demo needs neither espeak-ng nor sox.
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { voices } from './lines.mjs';

const scratch = mkdtempSync(join(tmpdir(), 'voices-'));
for (const { file, voice, speed, pitch, lines } of voices) {
  const parts = lines.map((line, i) => {
    const part = join(scratch, `${file}-${i}.wav`);
    execFileSync('espeak-ng', ['-v', voice, '-s', String(speed), '-p', String(pitch), '-w', part, line]);
    return part;
  });
  // Each line is followed by a breath of 0.7 s.
  const padded = parts.map((part) => {
    const out = part.replace('.wav', '-p.wav');
    execFileSync('sox', [part, out, 'pad', '0', '0.7']);
    return out;
  });
  execFileSync('sox', [
    ...padded,
    '-b',
    '16',
    '-r',
    '24000',
    new URL(`./${file}.flac`, import.meta.url).pathname,
    'norm',
    '-3',
  ]);
}
rmSync(scratch, { recursive: true });
