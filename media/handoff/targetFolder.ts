import { lstat, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { readSha256, SHA256_MANIFEST } from '@pocket-twin/core/handoff/manifest.ts';
import { FreeNames } from '@pocket-twin/core/handoff/names.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { identitiesOf, isOneOf } from '../disk/identity.ts';
import { RECEIPT_PAGE } from './completeFolder.ts';

/** A folder that is handed off into: what an earlier handoff put there is ours to replace, nothing else is, and an original never. */
export class TargetFolder {
  private readonly names = new FreeNames();
  /** How many of its claims take the place of files that an earlier handoff put there. */
  replaces = 0;

  private constructor(
    readonly folder: string,
    private readonly ours: ReadonlySet<string>,
    private readonly originals: ReadonlySet<string>,
  ) {}

  /** @param originals the recordings, wherever they lie. @throws Refusal where its manifest is no manifest */
  static async open(folder: string, originals: readonly string[]): Promise<TargetFolder> {
    const text = await readFile(join(folder, SHA256_MANIFEST), 'utf8').catch(() => '');
    const ours = new Set(readSha256(text).map(({ path }) => path));
    return new TargetFolder(folder, ours, await identitiesOf(originals));
  }

  /** A name that is free there: its own, or one with a number. @throws Refusal where an original lies under it */
  async claim(path: string): Promise<string> {
    for (;;) {
      const name = this.names.claim(path);
      const target = join(this.folder, name);
      if (await isOneOf(this.originals, target))
        throw new Refusal(
          'not-allowed',
          `${target} is an original, and originals are never replaced. Choose another folder.`,
        );
      const isThere = await exists(target);
      if (isThere && !this.ours.has(name)) continue;
      if (isThere) this.replaces++;
      return name;
    }
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
