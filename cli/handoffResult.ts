import { join } from 'node:path';
import type { EventState, WrittenEdit } from '@pocket-twin/core/edit/eventOutcome.ts';
import { nameOfEvent } from '@pocket-twin/core/edit/edit.ts';
import { proofSentence } from '@pocket-twin/core/edit/proofSentence.ts';
import { conformSentence } from '@pocket-twin/core/handoff/conformSentence.ts';
import { receiptLine } from '@pocket-twin/core/handoff/receiptLine.ts';
import { repairName } from '@pocket-twin/core/repair/plan/describe.ts';
import { isProven } from '@pocket-twin/core/schema/editProof.ts';
import type { HandedOffRecording } from '@pocket-twin/core/schema/handedOffRecording.ts';
import type { FolderRecord } from '@pocket-twin/media/handoff/folderRecords.ts';
import type { Outcome } from './manyFiles.ts';
import { jsonOf } from './repairResult.ts';

/** What became of one recording. */
export type HandedOffOrLeft =
  { record: FolderRecord } | { leftAlone: string; mustDecide: boolean; recording: HandedOffRecording };

/** One line of --json, as `repair` prints it, with old against new. */
export function lineOf(out: string): (outcome: Outcome<HandedOffOrLeft>) => object {
  return (outcome) => {
    const { file } = outcome;
    if ('error' in outcome) return jsonOf({ file, error: outcome.error });
    const { result } = outcome;
    if ('leftAlone' in result)
      return jsonOf({ file, result: { leftAlone: result.leftAlone, mustDecide: result.mustDecide } });
    const { receipt, files } = result.record;
    return receiptLine(
      file,
      receipt,
      files.map(({ path, conform }) => ({ path: join(out, path), conform })),
    );
  };
}

/** Why a recording is not in the folder; null where it is. */
export function whyLeft(outcome: Outcome<HandedOffOrLeft>): string | null {
  if ('error' in outcome) return outcome.error;
  return 'leftAlone' in outcome.result ? `Left for you to decide. ${outcome.result.leftAlone}` : null;
}

export function textOf(outcome: Outcome<HandedOffOrLeft>): string {
  const { file } = outcome;
  const why = whyLeft(outcome);
  if (why !== null || !('result' in outcome) || !('record' in outcome.result)) return `${file}\n  ${why}\n\n`;
  const { receipt, files } = outcome.result.record;
  const paths = [...new Set(files.map(({ path }) => path))].map((path) => `  ${path}\n`).join('');
  return `${file}\n  ${repairName(receipt.repair)}.\n${paths}  ${conformSentence(files[0].conform)}\n\n`;
}

/** What is said of a whole handoff. */
export interface HandoffSummary {
  files: number;
  left: string[];
  edit: string | null;
  events: number;
  matched: number;
  missing: string[];
  ambiguous: string[];
  /** null where no edit was written. */
  proven: boolean | null;
  /** Files in the named folders that are no recordings. */
  ignored: string[];
}

export function editSummary(
  edit: WrittenEdit | null,
  out: string,
): Pick<HandoffSummary, 'edit' | 'events' | 'matched' | 'missing' | 'ambiguous' | 'proven'> {
  if (!edit) return { edit: null, events: 0, matched: 0, missing: [], ambiguous: [], proven: null };
  const named = (state: EventState): string[] =>
    edit.events.filter((one) => one.state === state).map(({ event }) => nameOfEvent(event));
  return {
    edit: join(out, edit.name),
    events: edit.events.length,
    matched: edit.events.filter(({ recording }) => recording !== null).length,
    missing: named('missing'),
    ambiguous: named('ambiguous'),
    proven: isProven(edit.proof),
  };
}

export function summaryText(
  { files, left, matched, events, missing, ambiguous, ignored }: HandoffSummary,
  edit: WrittenEdit | null,
  out: string,
): string {
  const loses = edit?.events.filter(({ state }) => state === 'loses') ?? [];
  const told = [
    `${files} ${files === 1 ? 'file' : 'files'} handed off to ${out}, with receipts and checksums.`,
    ...(left.length > 0 ? [`${left.length} left for you to decide.`] : []),
    ...(ignored.length > 0 ? [`Left out, as they are not recordings: ${ignored.join(', ')}.`] : []),
    ...(edit
      ? [
          `${join(out, edit.name)}: ${matched} of ${events} events are matched to a recording.`,
          proofSentence(edit),
          ...(loses.length > 0
            ? [
                `${loses.length} of its events ${loses.length === 1 ? 'loses' : 'lose'} a channel that carries sound of its own: ${[...new Set(loses.map(({ event }) => nameOfEvent(event)))].join(', ')}.`,
              ]
            : []),
          `The edit that is open in your program still plays the old files. Open ${edit.name} instead.`,
        ]
      : []),
    ...(missing.length > 0 ? [`Not found: ${[...new Set(missing)].join(', ')}.`] : []),
    ...(ambiguous.length > 0 ? [`Several recordings fit: ${[...new Set(ambiguous)].join(', ')}.`] : []),
  ];
  return `${told.join('\n')}\n`;
}
