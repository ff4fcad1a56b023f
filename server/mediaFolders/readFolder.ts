import type { Dirent } from 'node:fs';
import { readdir } from 'node:fs/promises';

interface FolderEntry {
  name: string;
  kind: 'folder' | 'file' | 'other';
}

export interface FolderContent {
  entries: FolderEntry[];
  /** Sentences about names that cannot be said: they are passed over. */
  skipped: string[];
}

/** What lies in a folder, hidden entries left out. A name is bytes to the system; one that is no UTF-8 keeps nobody from the others. */
export async function readFolder(folder: string): Promise<FolderContent> {
  const content: FolderContent = { entries: [], skipped: [] };
  for (const entry of (await readdir(folder, {
    withFileTypes: true,
    encoding: 'buffer',
  })) as unknown as Dirent<Buffer>[]) {
    const name = nameOf(entry.name);
    if (name === null)
      content.skipped.push(`${entry.name.toString()}: its name is not in UTF-8. Rename it to bring it in.`);
    else if (!name.startsWith('.'))
      content.entries.push({ name, kind: entry.isDirectory() ? 'folder' : entry.isFile() ? 'file' : 'other' });
  }
  return content;
}

function nameOf(bytes: Buffer): string | null {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return null;
  }
}
