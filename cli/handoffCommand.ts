import { mkdir, rm, rmdir } from 'node:fs/promises';
import { basename, dirname, join, resolve } from 'node:path';
import { nameFrom } from '@pocket-twin/core/handoff/names.ts';
import { damagedFile } from '@pocket-twin/core/repair/plan/readBack.ts';
import { USUAL_CODED_KBITS } from '@pocket-twin/core/schema/handoff.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { stampOf } from '@pocket-twin/media/disk/fileStamp.ts';
import { makeScratch } from '@pocket-twin/media/disk/scratch.ts';
import { completeFolder, RECEIPTS } from '@pocket-twin/media/handoff/completeFolder.ts';
import type { EditFile } from '@pocket-twin/media/handoff/editFile.ts';
import { handOffClip } from '@pocket-twin/media/handoff/handOffClip.ts';
import type { HandedOff, HandoffClip, HandoffOrder } from '@pocket-twin/media/handoff/handoffOrder.ts';
import { withClipSound } from '@pocket-twin/media/read/clipSound.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { inspectFile } from '@pocket-twin/media/read/inspectFile.ts';
import { readSketch } from '@pocket-twin/media/read/sketch.ts';
import { findOn } from '@pocket-twin/core/repair/propose/findOn.ts';
import { TargetFolder } from '@pocket-twin/media/handoff/targetFolder.ts';
import { cutsOf, pieceOf, together } from '@pocket-twin/media/handoff/pieces.ts';
import { whatIsUsed, type UsedFile } from './usedFiles.ts';
import { EXIT } from './exit.ts';
import { readHandoffRequest, type HandoffRequest } from './handoffRequest.ts';
import { HANDOFF_HELP } from './help.ts';
import { InTurn } from './inTurn.ts';
import { eachFile, type FileSlot, type Outcome } from './manyFiles.ts';
import { entryOf, lineOf, summaryText, textOf, type HandedOffOrLeft } from './handoffResult.ts';
import { shootFiles } from './shootFiles.ts';

/** A whole shoot into the edit: files in place of the old ones, receipts, checksums, and the edit pointing to them. */
export async function handoffCommand(args: string[]): Promise<number> {
  const request = await readHandoffRequest(args);
  if (request.help) {
    process.stdout.write(HANDOFF_HELP);
    return EXIT.done;
  }
  const folder = resolve(request.out);
  const found = await shootFiles(request.inputs, folder);
  const { edit, sources } = await whatIsUsed(request, found);
  if (sources.length === 0)
    throw new Refusal('bad-request', `${request.edit} uses none of the recordings that were named.`);
  const target = await TargetFolder.open(
    folder,
    found.map(({ path }) => path),
  );
  const taken = await target.notOurs(request.edit && basename(request.edit));
  if (taken !== null)
    throw new Refusal('not-allowed', `${join(request.out, taken)} is there already. Choose another --out.`);
  await mkdir(join(folder, RECEIPTS), { recursive: true }).catch(() => {
    throw new Refusal('bad-request', `The folder ${request.out} can’t be made. Choose another with --out.`);
  });
  const scratch = await makeScratch(join(folder, 'any'));
  const turns = new InTurn(sources.length);
  const outcomes: Outcome<HandedOffOrLeft>[] = [];
  try {
    const leftOut = await eachFile(
      sources.map(({ path }) => path),
      (_, slot) => {
        const { index } = slot;
        let stretchesToName = 1;
        const order: Order = {
          ...{ request, folder, scratch },
          willName: (stretches) => {
            stretchesToName = stretches;
          },
          // In the order given, however long each takes: the same shoot gets the same names each time.
          claim: async (paths) => {
            await turns.reached(index);
            const claimed: string[] = [];
            for (const path of paths) claimed.push(await target.claim(path));
            if (--stretchesToName === 0) turns.leave(index);
            return claimed;
          },
        };
        return handOffOne(sources[index], slot, order).finally(() => turns.leave(index));
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
  /** Says for how many stretches names will be asked. */
  willName: (stretches: number) => void;
}

async function handOffOne(
  { path, stem, stretches }: UsedFile,
  { index, ownThread, onProgress }: FileSlot,
  { request, folder, scratch, claim, willName }: Order,
): Promise<HandedOffOrLeft> {
  const workingCopy = join(scratch, `${index}.pcm`);
  const outlineFolder = join(scratch, `${index}.outline`);
  try {
    const stamp = await stampOf(path);
    const { inspection, facts, pcm, sums } = await (ownThread
      ? inThread('look', { path, workingCopy, outlineFolder })
      : inspectFile(path, { workingCopy, outlineFolder }));
    const { frames, channels } = inspection.format;
    const sketch = await readSketch(outlineFolder, frames, channels);
    await rm(outlineFolder, { recursive: true });
    onProgress(0.4);
    const clip: HandoffClip = { path, inspection, facts, pcm: pcm!, sketch, sums, stamp };
    const decided = await request.decide(inspection, (base, finds) =>
      ownThread
        ? inThread('find', { source: pcm!, base, finds, inspection })
        : withClipSound(pcm!, (sound) => findOn(base, finds, inspection, sound)),
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
    const repair = 'repair' in decided ? decided.repair : null;
    const spans = await cutsOf(clip, stretches, { repair, format: request.format, bits: request.bits });
    willName(spans.length);
    const done: HandedOff[] = [];
    for (const [i, span] of spans.entries())
      done.push(
        await handOffClip(
          {
            ...{ clip, folder, scratch, claim, repair, span, format: request.format, inThreads: ownThread },
            stem: spans.length === 1 ? named : `${named}-${i + 1}`,
            bits: request.bits,
            codedKbits: USUAL_CODED_KBITS,
          },
          ({ share }) => onProgress(0.4 + (0.6 * (i + share)) / spans.length),
        ),
      );
    return { handedOff: together(done), pieces: done.map((one, i) => pieceOf(one, spans[i], clip)), clip };
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
  const lines = outcomes.map(lineOf(request.out));
  const entries = outcomes.map((outcome, i) => {
    const handedOff = 'result' in outcome && 'handedOff' in outcome.result ? outcome.result.handedOff : null;
    return {
      ...{ file: basename(outcome.file), ...entryOf(outcome), line: handedOff && lines[i] },
      paths: handedOff?.files.map(({ path }) => path) ?? [],
    };
  });
  if (entries.every(({ line }) => line === null)) return tellOnly(request, outcomes, lines);
  const linked = edit && linkEdit(edit, outcomes, folder);
  await completeFolder({
    ...{ folder, title: `Handoff: ${basename(folder)}`, createdAt: new Date().toISOString(), entries },
    edit: linked && { name: basename(request.edit!), text: linked.text },
    known: new Map(
      outcomes.flatMap((outcome) =>
        'result' in outcome && 'handedOff' in outcome.result
          ? outcome.result.handedOff.files.map(({ path, checksums }) => [path, checksums] as const)
          : [],
      ),
    ),
  });

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

function linkEdit(edit: EditFile, outcomes: Outcome<HandedOffOrLeft>[], folder: string) {
  const clips = outcomes.flatMap((outcome) => {
    if (!('result' in outcome)) return [];
    const { clip } = outcome.result;
    const { format } = clip.inspection;
    const pieces = 'handedOff' in outcome.result ? outcome.result.pieces : [];
    return [
      {
        path: resolve(clip.path),
        reel: clip.facts.tape,
        startSeconds: clip.facts.startSamples === null ? null : clip.facts.startSamples / format.sampleRate,
        durationSeconds: format.durationSeconds,
        pieces,
        channels: {
          before: format.channels,
          after: 'handedOff' in outcome.result ? outcome.result.handedOff.receipt.files[0].after.format.channels : 0,
        },
      },
    ];
  });
  return edit.link(clips, folder);
}
