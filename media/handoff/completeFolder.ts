import { mkdir } from 'node:fs/promises';
import { hostname } from 'node:os';
import { dirname, join } from 'node:path';
import {
  mhlText,
  MHL_MANIFEST,
  SHA256_MANIFEST,
  sha256Text,
  type ManifestEntry,
} from '@pocket-twin/core/handoff/manifest.ts';
import { receiptPage, type ReceiptEntry } from '@pocket-twin/core/handoff/receiptPage.ts';
import { writeWhole } from '../disk/wholeFile.ts';
import { checksumsOf } from './checksums.ts';

export const RECEIPTS = 'receipts';
export const RECEIPT_PAGE = 'receipt.html';
const VERSION = '1';
// Disks flush many small files together as soon as one.
const AT_ONCE = 32;

/** What became of one recording: told on the page, and where something was written, proven by a receipt of its own. */
export interface CompletedEntry extends ReceiptEntry {
  /** What its receipt's file holds; null where nothing was written. */
  line: object | null;
  /** Its files, by their paths within the folder. */
  paths: string[];
}

export interface FolderToComplete {
  folder: string;
  title: string;
  createdAt: string;
  entries: CompletedEntry[];
  /** The edit that points to the new files. */
  edit: { name: string; text: string } | null;
  /** Checksums that are known already, by path. */
  known?: ReadonlyMap<string, Omit<ManifestEntry, 'path'>>;
}

/** Puts receipts, the page to read, the edit and the checksums to what was handed off. A folder that has its manifest is complete. */
export async function completeFolder({
  folder,
  title,
  createdAt,
  entries,
  edit,
  known,
}: FolderToComplete): Promise<void> {
  const made: string[] = [];
  const keep = async (path: string, text: string): Promise<void> => {
    await mkdir(dirname(join(folder, path)), { recursive: true });
    await writeWhole(join(folder, path), text);
    made.push(path);
  };
  const proven = entries.filter(({ line }) => line !== null);
  for (let i = 0; i < proven.length; i += AT_ONCE)
    await Promise.all(
      proven.slice(i, i + AT_ONCE).map(({ line, paths }) => {
        made.push(...paths);
        return keep(`${RECEIPTS}/${paths[0]}.json`, `${JSON.stringify(line, null, 2)}\n`);
      }),
    );
  if (edit) await keep(edit.name, edit.text);
  await keep(RECEIPT_PAGE, receiptPage(title, createdAt, entries));
  const listed: ManifestEntry[] = [];
  for (const path of [...new Set(made)].sort())
    listed.push({ path, ...(known?.get(path) ?? (await checksumsOf(join(folder, path)))) });
  await writeWhole(join(folder, MHL_MANIFEST), mhlText(listed, { createdAt, host: hostname(), version: VERSION }));
  await writeWhole(join(folder, SHA256_MANIFEST), sha256Text(listed));
}
