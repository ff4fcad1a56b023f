import { stat } from 'node:fs/promises';
import { basename, extname } from 'node:path';

/** What the outputs of each input are called, without suffix and ending: the input's own name; several of one name are numbered in the order given. */
export function stemsFor(files: readonly string[]): string[] {
  const used = new Set<string>();
  return files.map((file) => {
    const stem = basename(file, extname(file));
    let name = stem;
    // Told apart whatever file system they go to: some make no difference between upper and lower case.
    for (let n = 2; used.has(name.toLowerCase()); n++) name = `${stem} (${n})`;
    used.add(name.toLowerCase());
    return name;
  });
}

/** Files by what they are, whatever they are called and whichever links lead to them. */
export async function identitiesOf(files: readonly string[]): Promise<Set<string>> {
  return new Set((await Promise.all(files.map(identityOf))).filter((identity) => identity !== null));
}

/** Whether a place holds one of them. */
export async function isOneOf(identities: ReadonlySet<string>, path: string): Promise<boolean> {
  const identity = await identityOf(path);
  return identity !== null && identities.has(identity);
}

async function identityOf(path: string): Promise<string | null> {
  const found = await stat(path, { bigint: true }).catch(() => null);
  return found && `${found.dev} ${found.ino}`;
}
