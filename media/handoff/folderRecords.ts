import { createHash } from 'node:crypto';
import { readdir, readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { receiptLine } from '@pocket-twin/core/handoff/receiptLine.ts';
import { receiptFromSeconds } from '@pocket-twin/core/repair/plan/receiptInSeconds.ts';
import { HandoffRecord, GivenEdit, type HandoffCall } from '@pocket-twin/core/schema/handoffRecord.ts';
import type { HandedOffRecording } from '@pocket-twin/core/schema/handedOffRecording.ts';
import type { Receipt } from '@pocket-twin/core/schema/receipt.ts';

export const RECEIPTS = 'receipts';
const LONGEST_NAME_BYTES = 250;
/** Edits as they were given. */
export const EDITS = `${RECEIPTS}/edits`;

/** A recording that was handed off into a folder, with its receipt. */
export interface FolderRecord {
  /** As it was called then. */
  file: string;
  receipt: Receipt;
  recording: HandedOffRecording;
  /** Others that its files hold. */
  also: HandedOffRecording[];
  files: HandoffRecord['files'];
  call: HandoffCall | null;
  /** What its file holds, where it was read from there: it stays as it is. */
  text?: string;
}

export function recordOf(
  file: string,
  { receipt, files }: Pick<FolderRecord, 'receipt' | 'files'>,
  recording: HandedOffRecording,
  call: HandoffCall | null,
  also: HandedOffRecording[] = [],
): FolderRecord {
  return { file, receipt, recording, also, files, call };
}

/** Whether a record is of this very call, of this very recording, and its files are those that were written. */
export async function isStillThere(folder: string, { files, call }: FolderRecord, now: HandoffCall): Promise<boolean> {
  if (call?.key !== now.key || call.bytes !== now.bytes || call.modifiedMs !== now.modifiedMs) return false;
  for (const { path, checksums } of files) {
    const found = await stat(join(folder, path)).catch(() => null);
    if (found?.size !== checksums.bytes || found.mtime.toISOString() !== checksums.modifiedAt) return false;
  }
  return true;
}

/** Where a recording's receipt lies within the folder. */
export function receiptPath({ files }: Pick<FolderRecord, 'files'>): string {
  const { path } = files[0];
  const at = path.lastIndexOf('/') + 1;
  const name = path.slice(at);
  if (Buffer.byteLength(name) <= LONGEST_NAME_BYTES) return `${RECEIPTS}/${path}.json`;
  // What would be too long with its ending is told apart by its sum.
  const sum = createHash('sha256').update(name).digest('hex').slice(0, 16);
  return `${RECEIPTS}/${path.slice(0, at)}${name.slice(0, 60)}-${sum}.json`;
}

/** The file that a receipt is of, by the receipt's place. */
export function recordedBy(receipt: string): string {
  return receipt.slice(RECEIPTS.length + 1).replace(/\.json$/, '');
}

/** What the receipt's file holds: the line that --json prints, with paths within the folder, and what goes on from there. */
export function receiptText({ file, receipt, recording, also, files, call, text }: FolderRecord): string {
  if (text !== undefined) return text;
  const record: HandoffRecord = { version: 1, recording, also, files, call };
  return `${JSON.stringify({ ...receiptLine(file, receipt, files), handoff: record }, null, 2)}\n`;
}

/**
 * What was handed off into a folder before, by its receipts. @param isOurs whether a path within the folder was put there by a handoff
 */
export async function readRecords(folder: string, isOurs: (path: string) => boolean): Promise<FolderRecord[]> {
  const records: FolderRecord[] = [];
  for (const path of await jsonFiles(folder, RECEIPTS)) {
    if (!isOurs(path) || path.startsWith(`${EDITS}/`)) continue;
    const record = recordFrom(await readFile(join(folder, path), 'utf8').catch(() => ''));
    if (record) records.push(record);
  }
  return records;
}

/** The edits that were handed off into a folder, as they were given. */
export async function readGivenEdits(folder: string, isOurs: (path: string) => boolean): Promise<GivenEdit[]> {
  const edits: GivenEdit[] = [];
  for (const path of await jsonFiles(folder, EDITS)) {
    if (!isOurs(path)) continue;
    const edit = GivenEdit.safeParse(parsed(await readFile(join(folder, path), 'utf8').catch(() => ''))).data;
    if (edit) edits.push(edit);
  }
  return edits;
}

/** null where a file is not a receipt of this kind: it stays as it is. */
function recordFrom(text: string): FolderRecord | null {
  const line = parsed(text) as { file?: unknown; receipt?: unknown; handoff?: unknown } | null;
  const record = HandoffRecord.safeParse(line?.handoff).data;
  if (!line || !record || typeof line.file !== 'string') return null;
  try {
    const { recording, also, files, call } = record;
    return { file: line.file, receipt: receiptFromSeconds(line.receipt), recording, also, files, call, text };
  } catch {
    return null;
  }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return null;
  }
}

/** Paths within the folder, in their order. */
async function jsonFiles(folder: string, within: string): Promise<string[]> {
  const entries = await readdir(join(folder, within), { withFileTypes: true }).catch(() => []);
  const paths: string[] = [];
  for (const entry of entries) {
    const path = `${within}/${entry.name}`;
    if (entry.isDirectory()) paths.push(...(await jsonFiles(folder, path)));
    else if (entry.isFile() && entry.name.endsWith('.json')) paths.push(path);
  }
  return paths.sort();
}
