import { lstat, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { readSha256, SHA256_MANIFEST } from '@pocket-twin/core/handoff/manifest.ts';
import { FreeNames } from '@pocket-twin/core/handoff/names.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { identitiesOf, isOneOf } from '../disk/identity.ts';
import { readRecords, recordedBy, type FolderRecord } from './folderRecords.ts';
import { RECEIPT_PAGE } from './completeFolder.ts';

/** A folder that is handed off into: what an earlier handoff put there is ours to replace, nothing else is, and an original never. */
export class TargetFolder {
  private readonly names = new FreeNames();
  /** How many of its claims take the place of files that an earlier handoff put there. */
  replaces = 0;

  private constructor(
    readonly folder: string,
    /** Paths within the folder, and for which recording each was written; null where that is not known. */
    private readonly ours: ReadonlyMap<string, string | null>,
    private readonly originals: ReadonlySet<string>,
    /** What was handed off into it before. */
    readonly records: readonly FolderRecord[],
  ) {}

  /**
   * @param originals the recordings, wherever they lie
   * @param interrupted names that a handoff which was cut short had taken, and for which recording each. @throws Refusal where its manifest is damaged
   */
  static async open(
    folder: string,
    originals: readonly string[],
    interrupted: ReadonlyMap<string, string> | null = null,
  ): Promise<TargetFolder> {
    const text = await readFile(join(folder, SHA256_MANIFEST), 'utf8').catch(() => '');
    const ours = new Map<string, string | null>(readSha256(text).map(({ path }) => [path, null]));
    for (const [path, source] of interrupted ?? []) ours.set(path, source);
    // A receipt is written before any manifest names it.
    const records = await readRecords(folder, (path) => ours.has(path) || ours.has(recordedBy(path)));
    for (const { recording, files } of records) for (const { path } of files) ours.set(path, recording.source);
    return new TargetFolder(folder, ours, await identitiesOf(originals), records);
  }

  /** Whether an earlier handoff put it there. */
  isOurs(path: string): boolean {
    return this.ours.has(path);
  }

  /**
   * A name that is free there: its own, or one with a number; the one that the same recording had before. @param source the recording
   * @throws Refusal where an original lies under it
   */
  async claim(path: string, source: string): Promise<string> {
    for (const name of this.names.free(path)) {
      const target = join(this.folder, name);
      if (await isOneOf(this.originals, target))
        throw new Refusal(
          'not-allowed',
          `${target} is an original, and originals are never replaced. Choose another folder.`,
        );
      const isThere = await exists(target);
      const owner = this.ours.get(name);
      // Somebody else's is nobody's of this call; what another recording became is that one's.
      if (isThere && owner === undefined) {
        this.names.take(name);
        continue;
      }
      if (owner !== undefined && owner !== null && owner !== source) continue;
      if (isThere) this.replaces++;
      this.names.take(name);
      return name;
    }
    throw new Error('Names do not end.');
  }

  /** The first of the fixed names under which something of somebody else lies; null where they are free. @param edit the edit's, which may be read from there */
  async notOurs(edit: string | null): Promise<string | null> {
    for (const path of [RECEIPT_PAGE, ...(edit === null ? [] : [edit])])
      if (!this.ours.has(path) && (await exists(join(this.folder, path)))) return path;
    return null;
  }
}

function exists(path: string): Promise<boolean> {
  return lstat(path).then(
    () => true,
    () => false,
  );
}
