import { mkdir, open, rename, rm, type FileHandle } from 'node:fs/promises';
import { join } from 'node:path';
import { outlineShape, VALUES_PER_LANE } from '@pocket-twin/core/outline/outline.ts';

const levelFile = (folder: string, level: number): string => join(folder, `${level}.f32`);
const BUFFER_FLOATS = 1 << 16;

/** Writes an outline's levels, each to its own file of little-endian 32-bit floats, as they grow. */
export class OutlineWriter {
  private readonly levels: { floats: Float32Array; used: number; file: Promise<FileHandle> | null }[] = [];
  private writes: Promise<unknown> = Promise.resolve();

  private constructor(private readonly partFolder: string, private readonly folder: string) {}

  static async create(folder: string): Promise<OutlineWriter> {
    const partFolder = `${folder}.part`;
    await rm(partFolder, { recursive: true, force: true });
    await mkdir(partFolder, { recursive: true });
    return new OutlineWriter(partFolder, folder);
  }

  push(level: number, values: Float32Array): void {
    const at = (this.levels[level] ??= { floats: new Float32Array(BUFFER_FLOATS), used: 0, file: null });
    if (at.used + values.length > BUFFER_FLOATS) this.flush(level);
    at.floats.set(values, at.used);
    at.used += values.length;
  }

  /** Lets pending writes finish, so that they do not pile up in memory. */
  async drain(): Promise<void> {
    await this.writes;
  }

  /** Keeps the levels that the length of the clip calls for, and gives the folder its name. */
  async finish(frames: number, channels: number): Promise<void> {
    const wanted = outlineShape(frames, channels).bucketsPerLevel.length;
    for (let level = 0; level < wanted; level++) this.flush(level);
    await this.writes;
    await this.close();
    await rm(this.folder, { recursive: true, force: true });
    await rename(this.partFolder, this.folder);
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
    at.used = 0;
    at.file ??= open(levelFile(this.partFolder, level), 'w');
    const { file } = at;
    this.writes = this.writes.then(async () => (await file).write(bytes));
    this.writes.catch(() => undefined);
  }

  private async close(): Promise<void> {
    await Promise.all(this.levels.map(async (level) => (await level?.file)?.close()));
  }
}

/** Buckets `from` up to `to` of a level, as they lie in the file. */
export async function readOutline(folder: string, level: number, lanes: number, from: number, to: number): Promise<Buffer> {
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
