import { createReadStream } from 'node:fs';
import { lstat, open, readdir, readFile, rename, rm, type FileHandle } from 'node:fs/promises';
import { hostname } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import * as z from 'zod';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { SCRATCH_PREFIX } from '../disk/scratch.ts';

const LOCK = '.pocket-twin-handoff';
/** What `WholeFile` calls a file that is not whole yet. */
const PART = /^\..+\.[0-9a-f]{8}\.part$/;

const BEGINNING_MS = 10_000;

const Owner = z.object({
  process: z.int(),
  host: z.string(),
  /** When the process began, as its system counts it: another may get its number later. */
  began: z.string().nullable(),
  at: z.iso.datetime(),
});
type Owner = z.infer<typeof Owner>;
const Claim = z.object({ claim: z.string(), source: z.string() });

/**
 * Who is handing off into a folder, and under which names: one at a time, and whoever comes after one that was killed knows what is unfinished.
 */
export class HandoffLock {
  private constructor(
    private readonly path: string,
    private readonly handle: FileHandle,
    /** Names that a handoff which was cut short had taken, and for which recording each; null where there was none. */
    readonly interrupted: ReadonlyMap<string, string> | null,
  ) {}

  /** @throws Refusal where somebody is at work there */
  static async take(folder: string): Promise<HandoffLock> {
    const path = join(folder, LOCK);
    for (;;) {
      const handle = await open(path, 'ax', 0o600).catch((error: NodeJS.ErrnoException) => {
        if (error.code === 'EEXIST') return null;
        throw error;
      });
      if (handle) return HandoffLock.begin(path, handle, null);
      const { owner, claims } = await readLock(path);
      if (owner && (await isAtWork(owner)))
        throw new Refusal(
          'conflict',
          `Process ${owner.process} on ${owner.host} has been handing off into ${folder} since ${owner.at}. Wait until it has ended, or choose another folder.`,
        );
      // Whoever has just made it has not said yet who it is.
      if (!owner && Date.now() - (await madeAt(path)) < BEGINNING_MS)
        throw new Refusal(
          'conflict',
          `Somebody has just begun to hand off into ${folder}. Wait until that has ended, or choose another folder.`,
        );
      // One of several that come after a dead one goes on; the others find its lock.
      const taken = `${path}.${process.pid}`;
      const isMine = await rename(path, taken).then(
        () => true,
        () => false,
      );
      if (!isMine) continue;
      const next = await open(path, 'ax', 0o600).catch(() => null);
      if (!next) continue;
      const lock = await HandoffLock.begin(path, next, claims);
      for (const [claim, source] of claims) await lock.claim(claim, source);
      if (owner) await clearLeft(folder, Date.parse(owner.at));
      await rm(taken, { force: true });
      return lock;
    }
  }

  private static async begin(
    path: string,
    handle: FileHandle,
    interrupted: ReadonlyMap<string, string> | null,
  ): Promise<HandoffLock> {
    const owner: Owner = {
      process: process.pid,
      host: hostname(),
      began: await beganAt(process.pid),
      at: new Date().toISOString(),
    };
    await handle.appendFile(`${JSON.stringify(owner)}\n`);
    await handle.sync();
    return new HandoffLock(path, handle, interrupted);
  }

  /** Takes down under which name a recording will be written, before anything has that name. */
  async claim(path: string, source: string): Promise<void> {
    await this.handle.appendFile(`${JSON.stringify({ claim: path, source })}\n`);
    await this.handle.datasync();
  }

  /** @param isComplete false: what was written stays known to whoever goes on */
  async release(isComplete: boolean): Promise<void> {
    await this.handle.close();
    if (isComplete) await rm(this.path, { force: true });
  }
}

/** Long past where it is gone. */
function madeAt(path: string): Promise<number> {
  return lstat(path).then(
    ({ mtimeMs }) => mtimeMs,
    () => 0,
  );
}

async function readLock(path: string): Promise<{ owner: Owner | null; claims: Map<string, string> }> {
  let owner: Owner | null = null;
  const claims = new Map<string, string>();
  const lines = createInterface({ input: createReadStream(path), crlfDelay: Infinity });
  try {
    for await (const line of lines) {
      const value = parsed(line);
      owner ??= Owner.safeParse(value).data ?? null;
      const claim = Claim.safeParse(value).data;
      if (claim) claims.set(claim.claim, claim.source);
    }
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
  }
  return { owner, claims };
}

function parsed(line: string): unknown {
  try {
    return JSON.parse(line) as unknown;
  } catch {
    return null;
  }
}

/** Of another machine nobody here can tell: it counts as at work. */
async function isAtWork({ process: pid, host, began }: Owner): Promise<boolean> {
  if (host !== hostname()) return true;
  try {
    process.kill(pid, 0);
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
  return began === null || began === (await beganAt(pid));
}

/** null where the system does not tell. */
async function beganAt(pid: number): Promise<string | null> {
  const stat = await readFile(`/proc/${pid}/stat`, 'utf8').catch(() => null);
  // The second field is a name in parentheses, which may hold anything (proc(5)); the 22nd is the start.
  return stat?.slice(stat.lastIndexOf(')') + 2).split(' ')[19] ?? null;
}

/** Removes what a handoff that was cut short had begun: folders and files of ours that are not whole, and no older than it. */
async function clearLeft(folder: string, sinceMs: number): Promise<void> {
  for (const entry of await readdir(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    const isScratch = entry.isDirectory() && entry.name.startsWith(`.${SCRATCH_PREFIX}`);
    if (isScratch || (entry.isFile() && PART.test(entry.name))) {
      const { mtimeMs, birthtimeMs } = await lstat(path);
      if (Math.max(mtimeMs, birthtimeMs) >= sinceMs) await rm(path, { recursive: true, force: true });
    } else if (entry.isDirectory() && !entry.name.startsWith('.')) await clearLeft(path, sinceMs);
  }
}
