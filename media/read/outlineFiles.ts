import { constants } from 'node:fs';
import { mkdir, mkdtemp, open, rename, rm, type FileHandle } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { bucketFrames, laneCount, outlineShape, VALUES_PER_LANE } from '@pocket-twin/core/outline/outline.ts';

const levelFile = (folder: string, level: number): string => join(folder, `${level}.f32`);
// A level's buffer grows from the first to the second: the coarser levels of a short clip are a few values.
const [LEAST_FLOATS, MOST_FLOATS] = [1 << 10, 1 << 16];
// Two threads write to one file, each from its own place on.
const WRITE_ANYWHERE = constants.O_WRONLY | constants.O_CREAT;

/** Writes an outline's levels, each to its own file of little-endian 32-bit floats, as they grow. */
export class OutlineWriter {
  private readonly levels: { floats: Float32Array; used: number; written: number; file: Promise<FileHandle> | null }[] =
    [];
  private writes: Promise<unknown> = Promise.resolve();

  private constructor(
    readonly partFolder: string,
    private readonly folder: string,
    private readonly startOf: (level: number) => number,
  ) {}

  /** In a folder of its own until it is whole: a clip may be measured by two at once, when one of them was given up for lost. */
  static async create(folder: string): Promise<OutlineWriter> {
    await mkdir(dirname(folder), { recursive: true });
    return new OutlineWriter(await mkdtemp(`${folder}.part-`), folder, () => 0);
  }

  /** Writes a later part into an outline that another writer has created, and will finish. @param partFolder that writer's */
  static inside(partFolder: string, startFrame: number, channels: number): OutlineWriter {
    const bucketBytes = laneCount(channels) * VALUES_PER_LANE * 4;
    return new OutlineWriter(partFolder, partFolder, (level) => (startFrame / bucketFrames(level)) * bucketBytes);
  }

  readonly push = (level: number, values: Float32Array): void => {
    const at = (this.levels[level] ??= { floats: new Float32Array(LEAST_FLOATS), used: 0, written: 0, file: null });
    for (let done = 0; done < values.length;) {
      const some = values.subarray(done, done + at.floats.length - at.used);
      at.floats.set(some, at.used);
      at.used += some.length;
      done += some.length;
      if (at.used < at.floats.length) continue;
      if (at.floats.length < MOST_FLOATS) {
        const grown = new Float32Array(2 * at.floats.length);
        grown.set(at.floats);
        at.floats = grown;
      } else this.flush(level);
    }
  };

  /** Lets pending writes finish, so that they do not pile up in memory. */
  async drain(): Promise<void> {
    await this.writes;
  }

  /** Keeps the levels that the length of the clip calls for, and gives the folder its name. */
  async finish(frames: number, channels: number): Promise<void> {
    const wanted = outlineShape(frames, channels).bucketsPerLevel.length;
    await this.finishPart(wanted);
    for (;;) {
      await rm(this.folder, { recursive: true, force: true });
      try {
        await rename(this.partFolder, this.folder);
        return;
      } catch (error) {
        // Another one, of the same clip, was just given the name.
        if (!['ENOTEMPTY', 'EEXIST'].includes((error as NodeJS.ErrnoException).code ?? '')) throw error;
      }
    }
  }

  /** Writes what is left of the first `levels`. */
  async finishPart(levels = this.levels.length): Promise<void> {
    for (let level = 0; level < levels; level++) this.flush(level);
    await this.writes;
    await this.close();
  }

  async discard(): Promise<void> {
    await this.writes.catch(() => undefined);
    await this.close();
    await rm(this.partFolder, { recursive: true, force: true });
  }

  private flush(level: number): void {
    const at = this.levels[level];
    if (!at || at.used === 0) return;
    const bytes = Buffer.from(at.floats.slice(0, at.used).buffer);
    const position = this.startOf(level) + at.written;
    at.used = 0;
    at.written += bytes.length;
    at.file ??= open(levelFile(this.partFolder, level), WRITE_ANYWHERE);
    const { file } = at;
    this.writes = this.writes.then(async () => (await file).write(bytes, 0, bytes.length, position));
    this.writes.catch(() => undefined);
  }

  private async close(): Promise<void> {
    await Promise.all(this.levels.map(async (level) => (await level?.file)?.close()));
  }
}

/** Buckets `from` up to `to` of a level, as they lie in the file. */
export async function readOutline(
  folder: string,
  level: number,
  lanes: number,
  from: number,
  to: number,
): Promise<Buffer> {
  const bucketBytes = lanes * VALUES_PER_LANE * 4;
  const file = await open(levelFile(folder, level), 'r');
  try {
    const bytes = Buffer.alloc(Math.max(0, to - from) * bucketBytes);
    const { bytesRead } = await file.read(bytes, 0, bytes.length, from * bucketBytes);
    return bytes.subarray(0, bytesRead - (bytesRead % bucketBytes));
  } finally {
    await file.close();
  }
}
