import { execFileSync, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import type { ConformLine } from '@pocket-twin/core/schema/handoff.ts';
import { mix } from '@pocket-twin/core/synth/mono.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { writeTestWav } from '@pocket-twin/media/test/files.ts';
import { FILMS, makeFilm } from '@pocket-twin/media/test/travels/films.ts';
import { makeSounds } from '@pocket-twin/media/test/travels/sounds.ts';

// What travels along in a handoff: forty films and forty sound files, every property before and after. What is not equal is listed, and so is what the
// receipt does not tell. npm run bench -- travels [WORD]: only files whose name has the word
const BIN = new URL('../cli/bin/pocket-twin.mjs', import.meta.url).pathname;
const wanted = process.argv.slice(2).find((word) => !word.startsWith('-')) ?? '';
const folder = mkdtempSync(join(tmpdir(), 'pocket-twin-travels-'));
const card = join(folder, 'card');
mkdirSync(card);
try {
  const voice = mix(chatter(0.1, 4, 1), noise(0.0003, 4, 3));
  const wav = await writeTestWav(join(folder, 'sound.wav'), [voice, noise(0.0006, 4, 4)]);
  const files = FILMS.map((film, i) => makeFilm(film, i + 1, wav, scratch(i)));
  files.push(...(await makeSounds(join(folder, 'sounds'), wav)));
  const chosen = files.filter((file) => basename(file).includes(wanted));
  const out = join(folder, 'out');
  const { stdout, stderr } = spawnSync(process.execPath, [BIN, 'handoff', ...chosen, '--out', out, '--json'], {
    encoding: 'utf8',
    maxBuffer: 1 << 28,
  });
  if (stderr) console.log(stderr);
  let differing = 0;
  let untold = 0;
  for (const line of stdout.trim().split('\n').slice(0, -1)) {
    const { file, error, receipt, conform, leftAlone } = JSON.parse(line) as {
      file: string;
      error: string | null;
      leftAlone?: string;
      receipt: { files: { file: string }[] } | null;
      conform: ConformLine[];
    };
    const name = basename(file);
    if (!receipt) {
      console.log(`${name}: NOT WRITTEN: ${error ?? leftAlone}`);
      differing++;
      continue;
    }
    const off = conform.filter(({ equal, why }) => !equal && !why);
    const explained = conform.filter(({ equal, why }) => !equal && why);
    differing += off.length;
    console.log(
      `${name}: ${conform.length} properties, ${off.length} differ, ${explained.length} differ with a reason`,
    );
    for (const { what, old, new: now } of off) console.log(`    ${what}: ${short(old)} → ${short(now)}`);
    if (process.argv.includes('--reasons'))
      for (const { what, old, new: now, why } of explained)
        console.log(`    (${what}: ${short(old)} → ${short(now)}: ${why})`);
    const [before, after] = [packetsOf(file), packetsOf(receipt.files[0].file)];
    for (const [what, old] of Object.entries(before))
      if (after[what] !== old && !conform.some((one) => !one.equal && sameSubject(one.what, what))) {
        untold++;
        console.log(`    UNTOLD ${what}: ${short(old)} → ${short(after[what] ?? null)}`);
      }
  }
  console.log(
    `\n${chosen.length} files; ${differing} properties differ without a reason; ${untold} differences are not told in the receipt`,
  );
  if (differing + untold > 0) process.exitCode = 1;
} finally {
  if (process.argv.includes('--keep')) console.log(folder);
  else rmSync(folder, { recursive: true, force: true });
}

function scratch(number: number): string {
  const path = join(card, String(number));
  mkdirSync(path);
  return path;
}

function short(value: string | number | null | undefined): string {
  return String(value ?? 'none').slice(0, 60);
}

/** What another program sees: the packets of every stream that is not sound, with their times against the first picture; chapters; tags. */
function packetsOf(path: string): Record<string, string> {
  const seen: Record<string, string> = {};
  const told = JSON.parse(
    execFileSync(
      '/usr/bin/ffprobe',
      [
        '-v',
        'error',
        '-of',
        'json',
        '-show_streams',
        '-show_chapters',
        '-show_format',
        '-show_packets',
        '-show_data_hash',
        'crc32',
        path,
      ],
      { encoding: 'utf8', maxBuffer: 1 << 28 },
    ),
  ) as {
    streams: { index: number; codec_type: string; disposition?: { attached_pic?: number } }[];
    chapters?: { start_time: string; tags?: { title?: string } }[];
    packets: { stream_index: number; pts_time?: string; data_hash?: string }[];
    format: { tags?: Record<string, string> };
  };
  const kinds = new Map(told.streams.map(({ index, codec_type: kind }) => [index, kind]));
  const first = Number(told.packets.find(({ stream_index: index }) => kinds.get(index) === 'video')?.pts_time ?? 0);
  const count: Record<string, number> = {};
  for (const { index, codec_type: type, disposition } of told.streams) {
    if (type === 'audio' || type === 'data') continue;
    const kind = disposition?.attached_pic === 1 ? 'cover' : type;
    const packets = told.packets.filter(({ stream_index: of }) => of === index);
    const name = `${kind} ${(count[kind] = (count[kind] ?? 0) + 1)} packets`;
    seen[name] = packets
      .map(({ pts_time: at, data_hash: hash }) => `${hash}@${at === undefined ? '' : (Number(at) - first).toFixed(2)}`)
      .sort()
      .join(' ');
  }
  for (const [i, { start_time: at, tags }] of (told.chapters ?? []).entries())
    seen[`chapter ${i + 1}`] = `${Number(at).toFixed(2)} ${tags?.title}`;
  for (const key of ['title', 'artist', 'comment', 'creation_time'])
    if (told.format.tags?.[key]) seen[`tag ${key}`] = told.format.tags[key];
  return seen;
}

function sameSubject(told: string, seen: string): boolean {
  return told.startsWith(seen.split(' ').slice(0, 2).join(' ')) || told.startsWith(seen.split(' ')[0]);
}
