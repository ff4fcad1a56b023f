import { join } from 'node:path';
import type { ReceiptEntry } from '@pocket-twin/core/handoff/receiptPage.ts';
import { receiptLine } from '@pocket-twin/core/handoff/receiptLine.ts';
import { repairName } from '@pocket-twin/core/repair/plan/describe.ts';
import type { HandedOff, HandoffClip } from '@pocket-twin/media/handoff/handoffOrder.ts';
import type { SecondsSpan } from '@pocket-twin/core/time/spans.ts';
import type { Outcome } from './manyFiles.ts';
import { jsonOf } from './repairResult.ts';

/** What became of one recording. */
export type HandedOffOrLeft =
  | { handedOff: HandedOff; pieces: (SecondsSpan & { files: string[] })[]; clip: HandoffClip }
  | { leftAlone: string; mustDecide: boolean; clip: HandoffClip };

/** One line of --json, as `repair` prints it, with old against new. */
export function lineOf(out: string): (outcome: Outcome<HandedOffOrLeft>) => object {
  return (outcome) => {
    const { file } = outcome;
    if ('error' in outcome) return jsonOf({ file, error: outcome.error });
    const { result } = outcome;
    if ('leftAlone' in result)
      return jsonOf({ file, result: { leftAlone: result.leftAlone, mustDecide: result.mustDecide } });
    const { receipt, files } = result.handedOff;
    return receiptLine(
      file,
      receipt,
      files.map(({ path, conform }) => ({ path: join(out, path), conform })),
    );
  };
}

/** What the page to read says of it. */
export function entryOf(outcome: Outcome<HandedOffOrLeft>): Omit<ReceiptEntry, 'file'> {
  if ('error' in outcome) return { receipt: null, left: outcome.error, conform: [] };
  const { result } = outcome;
  if ('leftAlone' in result) return { receipt: null, left: `Left for you to decide. ${result.leftAlone}`, conform: [] };
  return { receipt: result.handedOff.receipt, left: null, conform: result.handedOff.files[0].conform };
}

export function textOf(outcome: Outcome<HandedOffOrLeft>): string {
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

export function summaryText(
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
