import { spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Chance } from '@pocket-twin/core/synth/chance.ts';
import { inTurn, silence, type Mono } from '@pocket-twin/core/synth/mono.ts';
import { interleave } from '@pocket-twin/core/pcm/interleave.ts';
import { decodeMono } from './codec.ts';

// Debian's packages of lines that people spoke, two of them in each of two languages: m-... and v-... are one person's each. Free, for the bench alone.
const PACKAGES = ['fillets-ng-data-cs', 'fillets-ng-data-nl'];
const LANGUAGES = ['cs', 'nl'];
const TALKERS = ['m', 'v'];
const PARTS = 2;
const SECONDS = 45;
const RATE = 24_000;
const PEAK = 0.7;
const KEPT = join(import.meta.dirname, '../../.pocket-twin/recorded-voices');

/** A folder of dry voices that were recorded, as FLAC files; downloaded once. */
export function recordedVoices(): string {
  if (existsSync(KEPT)) return KEPT;
  const scratch = mkdtempSync(join(tmpdir(), 'recorded-voices-'));
  try {
    run('apt-get', ['download', '-qq', ...PACKAGES], scratch);
    for (const file of readdirSync(scratch)) run('dpkg-deb', ['-x', file, '.'], scratch);
    const home = join(scratch, 'usr/share/games/fillets-ng/sound');
    const made = join(scratch, 'made');
    mkdirSync(made);
    for (const language of LANGUAGES)
      for (const talker of TALKERS) {
        const lines = readdirSync(home).flatMap((scene) => {
          const folder = join(home, scene, language);
          const names = existsSync(folder) ? readdirSync(folder) : [];
          return names.filter((name) => name.split('-')[1] === talker).map((name) => join(folder, name));
        });
        const chance = new Chance(lines.length);
        for (let part = 0; part < PARTS; part++)
          writeFlac(join(made, `${language}-${talker}-${part}.flac`), said(lines, chance));
      }
    cpSync(made, KEPT, { recursive: true });
  } finally {
    rmSync(scratch, { recursive: true });
  }
  return KEPT;
}

/** One line after another, with breaths between; each as loud as the next. */
function said(lines: string[], chance: Chance): Mono {
  const parts: Mono[] = [];
  for (let length = 0; length < SECONDS * RATE;) {
    const line = decodeMono(chance.pick(lines), RATE);
    const peak = line.reduce((most, x) => Math.max(most, Math.abs(x)), 1e-9);
    parts.push(
      line.map((x) => (x * PEAK) / peak),
      silence(Math.round(chance.between(0.2, 1) * RATE)),
    );
    length = parts.reduce((sum, part) => sum + part.length, 0);
  }
  return inTurn(...parts);
}

function writeFlac(path: string, sound: Mono): void {
  const raw = `${path}.raw`;
  writeFileSync(raw, interleave([sound], sound.length));
  run('ffmpeg', ['-v', 'error', '-f', 'f64le', '-ar', String(RATE), '-ac', '1', '-i', raw, '-sample_fmt', 's16', path]);
  rmSync(raw);
}

function run(command: string, words: string[], folder?: string): void {
  const { status } = spawnSync(command, words, { cwd: folder, stdio: ['ignore', 'ignore', 'inherit'] });
  if (status !== 0) throw new Error(`${command} ${words.join(' ')} failed; it needs Debian's packages.`);
}
