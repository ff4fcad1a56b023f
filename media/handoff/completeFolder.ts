import { mkdir, readdir, readFile } from 'node:fs/promises';
import { hostname } from 'node:os';
import { dirname, join } from 'node:path';
import {
  mhlText,
  MHL_GENERATIONS,
  MHL_MANIFEST,
  readMhl,
  readSha256,
  SHA256_MANIFEST,
  sha256Text,
  type ManifestEntry,
} from '@pocket-twin/core/handoff/manifest.ts';
import type { WrittenEdit } from '@pocket-twin/core/edit/eventOutcome.ts';
import { receiptPage, type ReceiptEntry } from '@pocket-twin/core/handoff/receiptPage.ts';
import type { GivenEdit } from '@pocket-twin/core/schema/handoffRecord.ts';
import type { HandedOffRecording } from '@pocket-twin/core/schema/handedOffRecording.ts';
import { adoptWhole, writeWhole } from '../disk/wholeFile.ts';
import { checksumsOf } from './checksums.ts';
import { linkEdits } from './linkEdits.ts';
import { EDITS, readGivenEdits, receiptPath, receiptText, type FolderRecord } from './folderRecords.ts';

export const RECEIPT_PAGE = 'receipt.html';
const VERSION = '1';
// Disks flush many small files together as soon as one.
const AT_ONCE = 32;

export interface FolderToComplete {
  folder: string;
  title: string;
  createdAt: string;
  /** What was handed off now, and what was handed off there before. */
  records: readonly FolderRecord[];
  before: readonly FolderRecord[];
  /** What was not, and why. */
  left: readonly { file: string; why: string }[];
  /** Recordings that an edit may mean and that are not handed off. */
  others: readonly HandedOffRecording[];
  /** The edit that is given now; those that were given before come along. */
  edit: GivenEdit | null;
  /** Whether addresses in the edit lead to where the folder lies; else from where the edit lies. */
  isInPlace: boolean;
}

/**
 * Puts receipts, the page to read, the edits and the checksums to what was handed off, now and before: all of them are of everything that lies there.
 * A folder that has its manifest is complete. @returns the edits, as they were written and proven
 */
export async function completeFolder(order: FolderToComplete): Promise<WrittenEdit[]> {
  const { folder, title, createdAt } = order;
  const earlier = await earlierEntries(folder);
  const made = new Map<string, Omit<ManifestEntry, 'path'> | null>();
  const keep = async (path: string, text: string): Promise<void> => {
    await mkdir(dirname(join(folder, path)), { recursive: true });
    await writeWhole(join(folder, path), text);
    made.set(path, null);
  };
  for (let i = 0; i < order.records.length; i += AT_ONCE)
    await Promise.all(
      order.records.slice(i, i + AT_ONCE).map((record) => {
        for (const { path, checksums } of record.files) made.set(path, checksums);
        return keep(receiptPath(record), receiptText(record));
      }),
    );
  const records = newest(order.before, order.records);
  const given = await givenEdits(folder, order.edit, (path) => earlier.has(path));
  const edits = await linkEdits(given, {
    folder,
    isInPlace: order.isInPlace,
    recordings: recordingsOf(records, order.others),
    records,
    write: keep,
  });
  for (const edit of given) await keep(`${EDITS}/${edit.name}.json`, `${JSON.stringify(edit)}\n`);
  await keep(RECEIPT_PAGE, receiptPage(title, createdAt, entriesOf(records, order.left), edits));
  // A call that goes on with all of one that was cut short adds nothing.
  const isMore = order.records.some(({ text }) => text === undefined);
  if (earlier.size > 0 && isMore) await keepGeneration(folder, made);
  const sums = new Map(earlier);
  for (const [path, known] of made) sums.set(path, known ?? (await checksumsOf(join(folder, path))));
  const all = [...sums].sort(([a], [b]) => (a < b ? -1 : 1));
  // Of what an earlier list does not tell everything, the checksum is all that is known.
  const listed = all.flatMap(([path, known]): ManifestEntry[] => ('xxh128' in known ? [{ path, ...known }] : []));
  await writeWhole(join(folder, MHL_MANIFEST), mhlText(listed, { createdAt, host: hostname(), version: VERSION }));
  await writeWhole(join(folder, SHA256_MANIFEST), sha256Text(all.map(([path, { sha256 }]) => ({ path, sha256 }))));
  return edits;
}

/** What an edit may mean: what was handed off, and what was not. */
function recordingsOf(records: readonly FolderRecord[], others: readonly HandedOffRecording[]): HandedOffRecording[] {
  const written = records.flatMap(({ recording, also }) => [recording, ...also]);
  const sources = new Set(written.map(({ source }) => source));
  return [...written, ...others.filter(({ source }) => !sources.has(source))];
}

/** Of each recording what was handed off last, in the order of their files. */
function newest(before: readonly FolderRecord[], now: readonly FolderRecord[]): FolderRecord[] {
  const bySource = new Map([...before, ...now].map((record) => [record.recording.source, record]));
  const first = ({ files }: FolderRecord): string => files[0].path;
  return [...bySource.values()].sort((a, b) => first(a).localeCompare(first(b), 'en', { numeric: true }));
}

async function givenEdits(
  folder: string,
  edit: GivenEdit | null,
  isOurs: (path: string) => boolean,
): Promise<GivenEdit[]> {
  const before = await readGivenEdits(folder, isOurs);
  return edit ? [...before.filter(({ name }) => name !== edit.name), edit] : before;
}

function entriesOf(records: readonly FolderRecord[], left: FolderToComplete['left']): ReceiptEntry[] {
  return [
    ...records.map(({ file, receipt, files }) => ({ file, receipt, left: null, conform: files[0].conform })),
    ...left.map(({ file, why }) => ({ file, receipt: null, left: why, conform: [] })),
  ];
}

type Known = Omit<ManifestEntry, 'path'> | { sha256: string };

/** What the folder's manifests say of what lies there. */
async function earlierEntries(folder: string): Promise<Map<string, Known>> {
  const text = (name: string): Promise<string> => readFile(join(folder, name), 'utf8').catch(() => '');
  const hashes = new Map(readMhl(await text(MHL_MANIFEST)).map((entry) => [entry.path, entry]));
  return new Map(
    readSha256(await text(SHA256_MANIFEST)).map(({ path, sha256 }): [string, Known] => {
      const entry = hashes.get(path);
      if (!entry) return [path, { sha256 }];
      const { bytes, modifiedAt, xxh128, hashedAt } = entry;
      return [path, { bytes, modifiedAt, xxh128, hashedAt, sha256 }];
    }),
  );
}

/** The hash list as it was before more was handed off. */
async function keepGeneration(folder: string, made: Map<string, null | object>): Promise<void> {
  const there = await readdir(join(folder, MHL_GENERATIONS)).catch(() => []);
  const number = Math.max(0, ...there.map((name) => Number.parseInt(name, 10) || 0)) + 1;
  const path = `${MHL_GENERATIONS}/${String(number).padStart(4, '0')}.mhl`;
  await mkdir(join(folder, MHL_GENERATIONS), { recursive: true });
  const isThere = await adoptWhole(join(folder, MHL_MANIFEST), join(folder, path), true).then(
    () => true,
    (error: NodeJS.ErrnoException) => {
      if (error.code === 'ENOENT') return false;
      throw error;
    },
  );
  if (isThere) made.set(path, null);
}
