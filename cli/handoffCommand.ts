import { mkdir, readdir, readFile, rm, rmdir, stat, writeFile } from 'node:fs/promises';
import { hostname } from 'node:os';
import { basename, dirname, extname, join, relative, resolve, sep } from 'node:path';
import type { EditEvent } from '@pocket-twin/core/edit/edit.ts';
import { FreeNames, nameFrom, safeName } from '@pocket-twin/core/handoff/names.ts';
import {
  mhlText,
  MHL_MANIFEST,
  readSha256,
  SHA256_MANIFEST,
  sha256Text,
  type ManifestEntry,
} from '@pocket-twin/core/handoff/manifest.ts';
import { receiptPage } from '@pocket-twin/core/handoff/receiptPage.ts';
import { repairName } from '@pocket-twin/core/repair/plan/describe.ts';
import { damagedFile } from '@pocket-twin/core/repair/plan/readBack.ts';
import { looksLikeRecording } from '@pocket-twin/core/schema/mediaNames.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { stampOf } from '@pocket-twin/media/disk/fileStamp.ts';
import { makeScratch } from '@pocket-twin/media/disk/scratch.ts';
import { checksumsOf } from '@pocket-twin/media/handoff/checksums.ts';
import {
  handOffClip,
  type HandedOff,
  type HandoffClip,
  type HandoffOrder,
} from '@pocket-twin/media/handoff/handOffClip.ts';
import { withClipSound } from '@pocket-twin/media/read/clipSound.ts';
import { inspectFile } from '@pocket-twin/media/read/inspectFile.ts';
import { findOn } from '@pocket-twin/core/repair/propose/findOn.ts';
import { editOf, type EditFile } from './editFile.ts';
import { EXIT } from './exit.ts';
import { readHandoffRequest, type HandoffRequest } from './handoffRequest.ts';
import { HANDOFF_HELP } from './help.ts';
import { InTurn } from './inTurn.ts';
import { eachFile, type Outcome } from './manyFiles.ts';
import { identitiesOf, isOneOf } from './outputPlaces.ts';
import { jsonOf } from './repairResult.ts';

const RECEIPTS = 'receipts';
const PAGE = 'receipt.html';
const VERSION = '1';

/** A recording of the shoot, and where its files go within the folder. */
interface Source {
  path: string;
  /** Without its ending, forward slashes. */
  stem: string;
}

type HandedOffOrLeft =
  { handedOff: HandedOff; clip: HandoffClip } | { leftAlone: string; mustDecide: boolean; clip: HandoffClip };

/** A whole shoot into the edit: files in place of the old ones, receipts, checksums, and the edit pointing to them. */
export async function handoffCommand(args: string[]): Promise<number> {
  const request = await readHandoffRequest(args);
  if (request.help) {
    process.stdout.write(HANDOFF_HELP);
    return EXIT.done;
  }
  const folder = resolve(request.out);
  await mkdir(join(folder, RECEIPTS), { recursive: true }).catch(() => {
    throw new Refusal('bad-request', `The folder ${request.out} can’t be made. Choose another with --out.`);
  });
  const edit = request.edit === null ? null : await editOf(request.edit);
  const sources = await findSources(request, folder);
  const originals = await identitiesOf(sources.map(({ path }) => path));
  const scratch = await makeScratch(join(folder, 'any'));
  const ours = await oursBefore(folder);
  const names = new FreeNames();
  // Nothing of other people's is replaced, and never an original, whatever leads to it; what an earlier handoff put there is ours.
  const free = async (path: string): Promise<string> => {
    for (;;) {
      const name = names.claim(path);
      const target = join(folder, name);
      if (await isOneOf(originals, target))
        throw new Refusal(
          'not-allowed',
          `${target} is an original, and originals are never replaced. Choose another --out.`,
        );
      if (ours.has(name) || !(await exists(target))) return name;
    }
  };
  const turns = new InTurn(sources.length);
  const outcomes: Outcome<HandedOffOrLeft>[] = [];
  try {
    const leftOut = await eachFile(
      sources.map(({ path }) => path),
      (_, { index, onProgress }) => {
        const order: Order = {
          ...{ request, folder, scratch },
          // In the order given, however long each takes: the same shoot gets the same names each time.
          claim: (paths) =>
            turns.step(index, async () => {
              const claimed: string[] = [];
              for (const path of paths) claimed.push(await free(path));
              return claimed;
            }),
        };
        return handOffOne(sources[index], index, order, onProgress).finally(() => turns.leave(index));
      },
      (outcome) => outcomes.push(outcome),
    );
    if (leftOut > 0)
      throw new Refusal('cancelled', `Stopped: ${leftOut} of ${sources.length} files were not handed off.`);
    return await finish(request, folder, outcomes, edit);
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}

interface Order {
  request: HandoffRequest;
  folder: string;
  scratch: string;
  claim: HandoffOrder['claim'];
}

async function handOffOne(
  { path, stem }: Source,
  index: number,
  { request, folder, scratch, claim }: Order,
  onProgress: (share: number) => void,
): Promise<HandedOffOrLeft> {
  const workingCopy = join(scratch, `${index}.pcm`);
  try {
    const stamp = await stampOf(path);
    const { inspection, facts, pcm } = await inspectFile(path, { workingCopy });
    onProgress(0.4);
    const clip: HandoffClip = { path, inspection, facts, pcm: pcm!, stamp };
    const decided = await request.decide(inspection, (base, finds) =>
      withClipSound(pcm!, (sound) => findOn(base, finds, inspection, sound)),
    );
    if ('leftAlone' in decided && decided.mustDecide) return { ...decided, clip };
    const named =
      request.name === null
        ? stem
        : join(
            dirname(stem),
            nameFrom(request.name, {
              ...{ name: basename(stem), setup: '', scene: facts.scene ?? '', take: facts.take ?? '' },
              ...{ role: facts.trackNames[0] ?? '', channel: String(inspection.format.channels) },
              date: facts.recordedAt?.slice(0, 10) ?? '',
            }),
          ).replace(/^\.\//, '');
    const handedOff = await handOffClip(
      {
        ...{ clip, folder, scratch, claim, format: request.format },
        stem: named,
        repair: 'repair' in decided ? decided.repair : null,
        words: request.words(clip.pcm.words),
      },
      ({ share }) => onProgress(0.4 + 0.6 * share),
    );
    return { handedOff, clip };
  } finally {
    await rm(workingCopy, { force: true });
  }
}

/** Receipts, the page, the edit and the checksums, when every file is there; then what is said of it all. */
async function finish(
  request: HandoffRequest,
  folder: string,
  outcomes: Outcome<HandedOffOrLeft>[],
  edit: EditFile | null,
): Promise<number> {
  const createdAt = new Date().toISOString();
  const made: string[] = [];
  const keep = async (path: string, text: string): Promise<void> => {
    await mkdir(dirname(join(folder, path)), { recursive: true });
    await writeFile(join(folder, path), text);
    made.push(path);
  };
  const lines = outcomes.map(lineOf(request.out));
  for (const [i, outcome] of outcomes.entries()) {
    if (!('result' in outcome) || !('handedOff' in outcome.result)) continue;
    const [first] = outcome.result.handedOff.files;
    await keep(`${RECEIPTS}/${first.path}.json`, `${JSON.stringify(lines[i], null, 2)}\n`);
    made.push(...outcome.result.handedOff.files.map(({ path }) => path));
  }
  if (made.length === 0) return tellOnly(request, outcomes, lines);
  const linked = edit && linkEdit(edit, outcomes, folder);
  if (linked) await keep(basename(request.edit!), linked.text);
  await keep(
    PAGE,
    receiptPage(
      `Handoff: ${basename(folder)}`,
      createdAt,
      outcomes.map((outcome) => ({ file: basename(outcome.file), ...entryOf(outcome) })),
    ),
  );
  const entries: ManifestEntry[] = [];
  for (const path of [...new Set(made)].sort()) entries.push({ path, ...(await checksumsOf(join(folder, path))) });
  await writeFile(join(folder, MHL_MANIFEST), mhlText(entries, { createdAt, host: hostname(), version: VERSION }));
  await writeFile(join(folder, SHA256_MANIFEST), sha256Text(entries));

  const left = outcomes.filter((outcome) => 'result' in outcome && 'leftAlone' in outcome.result);
  const off = outcomes.some(
    (outcome) =>
      'error' in outcome ||
      ('handedOff' in outcome.result && damagedFile(outcome.result.handedOff.receipt) !== undefined),
  );
  const summary = {
    files: outcomes.reduce(
      (sum, outcome) =>
        sum + ('result' in outcome && 'handedOff' in outcome.result ? outcome.result.handedOff.files.length : 0),
      0,
    ),
    left: left.map(({ file }) => file),
    edit: linked ? join(request.out, basename(request.edit!)) : null,
    events: linked?.events ?? 0,
    matched: linked?.matched ?? 0,
    missing: linked?.missing ?? [],
    ambiguous: linked?.ambiguous ?? [],
  };
  if (request.json) {
    for (const line of lines) process.stdout.write(`${JSON.stringify(line)}\n`);
    process.stdout.write(`${JSON.stringify({ handoff: summary })}\n`);
  } else process.stdout.write(outcomes.map(textOf).join('') + summaryText(summary, request.out));
  if (off) return EXIT.off;
  return left.length > 0 ? EXIT.found : EXIT.done;
}

/** Nothing was written, so there is nothing to be proven: whatever was in the folder stays as it was. */
async function tellOnly(
  request: HandoffRequest,
  outcomes: Outcome<HandedOffOrLeft>[],
  lines: object[],
): Promise<number> {
  const left = outcomes.filter((outcome) => 'result' in outcome).map(({ file }) => file);
  const summary = { files: 0, left, edit: null, events: 0, matched: 0, missing: [], ambiguous: [] };
  if (request.json)
    process.stdout.write([...lines, { handoff: summary }].map((line) => `${JSON.stringify(line)}\n`).join(''));
  else process.stdout.write(`${outcomes.map(textOf).join('')}Nothing was handed off.\n`);
  await rmdir(join(request.out, RECEIPTS)).catch(() => undefined);
  return left.length === outcomes.length ? EXIT.found : EXIT.off;
}

function lineOf(out: string): (outcome: Outcome<HandedOffOrLeft>) => object {
  return (outcome) => {
    const { file } = outcome;
    if ('error' in outcome) return jsonOf({ file, error: outcome.error });
    const { result } = outcome;
    if ('leftAlone' in result)
      return jsonOf({ file, result: { leftAlone: result.leftAlone, mustDecide: result.mustDecide } });
    const { receipt, files } = result.handedOff;
    const line = jsonOf({ file, result: { receipt, folder: out, notes: [] } }) as { receipt: { files: object[] } };
    const written = line.receipt.files.map((one, i) => ({
      ...one,
      file: join(out, (files[i] ?? files[0]).path),
      conform: (files[i] ?? files[0]).conform,
    }));
    return { ...line, receipt: { ...line.receipt, files: written }, conform: files[0].conform };
  };
}

function entryOf(outcome: Outcome<HandedOffOrLeft>) {
  if ('error' in outcome) return { receipt: null, left: outcome.error, conform: [] };
  const { result } = outcome;
  if ('leftAlone' in result) return { receipt: null, left: `Left for you to decide. ${result.leftAlone}`, conform: [] };
  return { receipt: result.handedOff.receipt, left: null, conform: result.handedOff.files[0].conform };
}

function textOf(outcome: Outcome<HandedOffOrLeft>): string {
  const { file } = outcome;
  if ('error' in outcome) return `${file}\n  ${outcome.error}\n\n`;
  const { result } = outcome;
  if ('leftAlone' in result) return `${file}\n  Left for you to decide. ${result.leftAlone}\n\n`;
  const { receipt, files } = result.handedOff;
  const differing = files[0].conform
    .filter(({ equal }) => !equal)
    .map(({ what, old, new: now }) => `${what} ${old} → ${now}`);
  const conform =
    differing.length === 0 ? 'takes the old one’s place, equal in all' : `differs on purpose: ${differing.join(', ')}`;
  return `${file}\n  ${repairName(receipt.repair)}.\n${files.map(({ path }) => `  ${path}\n`).join('')}  ${conform}\n\n`;
}

function summaryText(
  {
    files,
    left,
    edit,
    events,
    matched,
    missing,
  }: { files: number; left: string[]; edit: string | null; events: number; matched: number; missing: string[] },
  out: string,
): string {
  const told = [
    `${files} ${files === 1 ? 'file' : 'files'} handed off to ${out}, with receipts and checksums.`,
    ...(left.length > 0 ? [`${left.length} left for you to decide.`] : []),
    ...(edit ? [`${edit}: ${matched} of ${events} events point to the new files.`] : []),
    ...(missing.length > 0 ? [`Not found: ${[...new Set(missing)].join(', ')}.`] : []),
  ];
  return `${told.join('\n')}\n`;
}

function linkEdit(edit: EditFile, outcomes: Outcome<HandedOffOrLeft>[], folder: string) {
  const clips = outcomes.flatMap((outcome) => {
    if (!('result' in outcome)) return [];
    const { clip } = outcome.result;
    const { format } = clip.inspection;
    const files = 'handedOff' in outcome.result ? outcome.result.handedOff.files : [];
    return [
      {
        path: resolve(clip.path),
        reel: clip.facts.tape,
        startSeconds: clip.facts.startSamples === null ? null : clip.facts.startSamples / format.sampleRate,
        durationSeconds: format.durationSeconds,
        files: files.map(({ path }) => path),
        channels: {
          before: format.channels,
          after:
            files.length > 0 && 'handedOff' in outcome.result
              ? outcome.result.handedOff.receipt.files[0].after.format.channels
              : 0,
        },
      },
    ];
  });
  const nameless = (event: EditEvent): string => event.target ?? event.name ?? event.reel ?? 'an event without a name';
  return edit.link(clips, folder, nameless);
}

async function findSources({ inputs }: HandoffRequest, folder: string): Promise<Source[]> {
  const found: Source[] = [];
  const add = (path: string, base: string): void => {
    const parts = relative(base, path)
      .split(sep)
      .map((part, i, all) => safeName(i === all.length - 1 ? withoutEnding(part) : part));
    found.push({ path, stem: parts.join('/') });
  };
  for (const input of inputs) {
    const info = await stat(input).catch(() => null);
    if (!info?.isDirectory()) add(input, dirname(input));
    else for (const path of await recordingsIn(input, folder)) add(path, input);
  }
  if (found.length === 0) throw new Refusal('bad-request', 'There is no recording in what was named.');
  return found;
}

/** Recordings of a folder and those within it, in order; not what was handed off into it. */
async function recordingsIn(folder: string, except: string): Promise<string[]> {
  const entries = await readdir(folder, { withFileTypes: true });
  entries.sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }));
  const paths: string[] = [];
  for (const entry of entries) {
    const path = join(folder, entry.name);
    if (entry.name.startsWith('.') || resolve(path) === except) continue;
    if (entry.isDirectory()) paths.push(...(await recordingsIn(path, except)));
    else if (entry.isFile() && looksLikeRecording(entry.name)) paths.push(path);
  }
  return paths;
}

function withoutEnding(name: string): string {
  return name.slice(0, name.length - extname(name).length);
}

/** What an earlier handoff has put into the folder, by its manifest. */
async function oursBefore(folder: string): Promise<Set<string>> {
  const text = await readFile(join(folder, SHA256_MANIFEST), 'utf8').catch(() => '');
  return new Set(readSha256(text).map(({ path }) => path));
}

async function exists(path: string): Promise<boolean> {
  return stat(path).then(
    () => true,
    () => false,
  );
}
