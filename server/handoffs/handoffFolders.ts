import { lstat, mkdir, realpath } from 'node:fs/promises';
import { basename, dirname, join, sep } from 'node:path';
import { safeName } from '@pocket-twin/core/handoff/names.ts';
import type { HandoffFolder } from '@pocket-twin/core/schema/handoff.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { isInside } from '../platform/home/isInside.ts';

/** The folders that files may be handed off into. Nothing is ever written outside them, through links neither. */
export class HandoffFolders {
  constructor(private readonly roots: string[]) {}

  list(): HandoffFolder[] {
    return this.roots.map((path, index) => ({ index, path, name: basename(path) || path }));
  }

  /** The folder of the home comes into being by itself. */
  async create(home: string): Promise<void> {
    for (const root of this.roots) if (isInside(home, root)) await mkdir(root, { recursive: true });
  }

  /** Where a folder within one of them would be. @throws Refusal where that leads out, or the root is not there */
  async within(index: number, path: string): Promise<string> {
    const configured = this.roots[index];
    if (configured === undefined)
      throw new Refusal('not-found', 'That folder is not among those that files may be handed off into.');
    const root = await realpath(configured).catch(() => {
      throw new Refusal('not-found', `${configured} is not there: is the disk connected?`);
    });
    const parts = path.split(/[\\/]+/).filter((part) => part !== '');
    // A name that some system would not take leads somewhere else there.
    const odd = parts.find((part) => part === '.' || part === '..' || safeName(part) !== part.normalize('NFC'));
    if (odd !== undefined) throw new Refusal('bad-request', `“${odd}” can’t be the name of a folder. Choose another.`);
    return this.ensureAllowed(join(root, ...parts));
  }

  /** @returns the path. @throws Refusal where it does not lie in an allowed folder */
  async ensureAllowed(path: string): Promise<string> {
    const real = await nearestReal(path);
    for (const root of this.roots) {
      const allowed = await realpath(root).catch(() => null);
      if (allowed !== null && isInside(allowed, real)) return path;
    }
    throw new Refusal(
      'not-allowed',
      `${path} is not in a folder that files may be handed off into: name its folder in POCKET_TWIN_HANDOFF.`,
    );
  }
}

/** Where a path that may not be there yet really leads. */
async function nearestReal(path: string): Promise<string> {
  const rest: string[] = [];
  for (let at = path; ; at = dirname(at)) {
    const real = await realpath(at).catch(() => null);
    if (real !== null) return join(real, ...rest);
    // A link that leads nowhere would be written through.
    if (await isLink(at))
      throw new Refusal('not-allowed', `${at} is a link that leads nowhere. Choose another folder.`);
    if (dirname(at) === at) return path;
    rest.unshift(at.slice(dirname(at).length + (dirname(at).endsWith(sep) ? 0 : 1)));
  }
}

function isLink(path: string): Promise<boolean> {
  return lstat(path).then(
    (found) => found.isSymbolicLink(),
    () => false,
  );
}
