import { stat } from 'node:fs/promises';

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
