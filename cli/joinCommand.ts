import { rm } from 'node:fs/promises';
import { basename, dirname, join, resolve } from 'node:path';
import { NO_KINSHIP, planJoin, type JoinTiming, type Kinship } from '@pocket-twin/core/join/plan.ts';
import type { Joining } from '@pocket-twin/core/schema/joining.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { sayNumber } from '@pocket-twin/core/signal/sayDecibels.ts';
import { makeFolder } from '@pocket-twin/media/disk/makeFolder.ts';
import { makeScratch } from '@pocket-twin/media/disk/scratch.ts';
import { measureJoin } from '@pocket-twin/media/join/measureJoin.ts';
import { ensureJoinable, writeJoin, type JoinSource } from '@pocket-twin/media/join/writeJoin.ts';
import { inspectFile } from '@pocket-twin/media/read/inspectFile.ts';
import { EXIT } from './exit.ts';
import { JOIN_HELP } from './help.ts';
import { identitiesOf, isOneOf } from '@pocket-twin/media/disk/identity.ts';
import { progressBar } from './progress.ts';
import { readPair, readWords } from './words.ts';

const OPTIONS = {
  'line-up': { type: 'boolean' },
  offset: { type: 'string', multiple: true },
  out: { type: 'string' },
  overwrite: { type: 'boolean' },
  json: { type: 'boolean' },
  help: { type: 'boolean' },
} as const;

/** Several files of one recording become one. */
export async function joinCommand(args: string[]): Promise<number> {
  const { values, positionals: files } = readWords(args, OPTIONS);
  if (values.help) {
    process.stdout.write(JOIN_HELP);
    return EXIT.done;
  }
  if (files.length < 2) throw new Refusal('bad-request', 'Name two files or more to join. See --help.');
  if (!values.out) throw new Refusal('bad-request', 'Say what the joined file is called: --out FILE.wav.');
  if (!/\.wave?$/i.test(values.out))
    throw new Refusal('bad-request', `A joined file is a WAV: call it ${values.out.replace(/\.[^./]*$/, '')}.wav.`);
  const offsets = readOffsets(values.offset ?? [], files.length);
  if (offsets && values['line-up']) throw new Refusal('bad-request', 'Say --line-up or --offset, not both.');
  const target = resolve(values.out);
  if (await isOneOf(await identitiesOf(files), target))
    throw new Refusal(
      'not-allowed',
      `${values.out} is an original, and originals are never replaced. Choose another --out.`,
    );
  await makeFolder(dirname(target)).catch(() => {
    throw new Refusal('bad-request', `The folder ${dirname(target)} can’t be made. Choose another with --out.`);
  });
  const timing = values['line-up'] ? 'measured' : offsets;
  const { path, joining } = await joinFiles(files, { timing, target, overwrite: values.overwrite ?? false });
  const file = join(dirname(values.out), basename(path));
  process.stdout.write(values.json ? `${JSON.stringify(jsonOf(file, joining))}\n` : textOf(file, files, joining));
  // What could not be lined up is written as it lies, for a person to decide.
  return joining.warnings.some(({ code }) => code === 'nothing-in-common') ? EXIT.found : EXIT.done;
}

async function joinFiles(
  files: string[],
  { timing, target, overwrite }: { timing: JoinTiming; target: string; overwrite: boolean },
): Promise<{ path: string; joining: Joining }> {
  const scratch = await makeScratch(target);
  const bar = progressBar(`${files.length} files`);
  try {
    const sources: (JoinSource & { frames: number })[] = [];
    for (const [i, file] of files.entries()) {
      const workingCopy = join(scratch, `${i}.pcm`);
      const { inspection, facts, pcm } = await inspectFile(file, { workingCopy });
      sources.push({ name: basename(file), pcm: pcm!, facts, frames: inspection.format.frames });
      bar.show((i + 1) / (2 * files.length));
    }
    ensureJoinable(sources);
    const kinships: Kinship[] = [NO_KINSHIP];
    for (const { pcm } of sources.slice(1)) kinships.push(await measureJoin(sources[0].pcm, pcm));
    const joining = planJoin(
      sources.map(({ frames }) => frames),
      kinships,
      timing,
      sources[0].pcm.sampleRate,
      sources.map(({ name }) => name),
    );
    return { path: await writeJoin(sources, joining, target, overwrite), joining };
  } finally {
    bar.done();
    await rm(scratch, { recursive: true, force: true });
  }
}

/** `N=SAMPLES`: file N starts so much later than the first. null where none is given. */
function readOffsets(texts: string[], files: number): number[] | null {
  if (texts.length === 0) return null;
  const offsets = Array<number>(files).fill(0);
  for (const text of texts) {
    const { channel: file, value } = readPair(text, '--offset');
    if (file > files) throw new Refusal('bad-request', `--offset names file ${file}, and there are ${files}.`);
    if (!Number.isInteger(value)) throw new Refusal('bad-request', `--offset takes whole samples, not “${text}”.`);
    offsets[file - 1] = value;
  }
  return offsets;
}

function jsonOf(file: string, { offsetsSamples, frames, warnings }: Joining): object {
  return { file, offsetsSamples, frames, warnings };
}

function textOf(file: string, files: string[], { offsetsSamples, padsFrames, frames, warnings }: Joining): string {
  const lines = files.map((source, i) => {
    const offset = offsetsSamples[i];
    const found =
      i === 0
        ? ''
        : offset === null
          ? ', nothing in common with the first'
          : `, its sound ${sayNumber(Math.abs(offset), Number.isInteger(offset) ? 0 : 2)} samples ${offset < 0 ? 'earlier' : 'later'} than in the first`;
    return `  ${i + 1}  ${basename(source)}${found}${padsFrames[i] > 0 ? `; ${padsFrames[i]} samples of silence before it` : ''}\n`;
  });
  return `${file}: ${frames} frames\n${lines.join('')}${warnings.map(({ message }) => `  ${message}\n`).join('')}`;
}
