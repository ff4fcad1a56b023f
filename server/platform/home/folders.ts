import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';

/** Where everything lies under POCKET_TWIN_HOME. Several machines may share it. */
export class Folders {
  constructor(private readonly home: string) {}

  get uploads(): string {
    return join(this.home, 'uploads');
  }

  get clips(): string {
    return join(this.home, 'clips');
  }

  get written(): string {
    return join(this.home, 'written');
  }

  /** Handoffs that are fetched as an archive. */
  get packed(): string {
    return join(this.home, 'packed');
  }

  handoff(handoffId: string): string {
    return join(this.packed, handoffId);
  }

  clip(clipId: string): string {
    return join(this.clips, clipId);
  }

  original(clipId: string, name: string): string {
    return join(this.clip(clipId), 'original', name);
  }

  workingCopy(clipId: string): string {
    return join(this.clip(clipId), 'working.pcm');
  }

  outline(clipId: string): string {
    return join(this.clip(clipId), 'outline');
  }

  /** What measuring has added up, for what is written later. */
  sums(clipId: string): string {
    return join(this.clip(clipId), 'sums');
  }

  still(clipId: string): string {
    return join(this.clip(clipId), 'still.jpg');
  }

  writing(writingId: string): string {
    return join(this.written, writingId);
  }

  async create(): Promise<void> {
    for (const folder of [this.uploads, this.clips, this.written, this.packed])
      await mkdir(folder, { recursive: true });
  }
}

const LONGEST_NAME_BYTES = 200;

/**
 * A file name that is safe to keep: no folders, no control characters, not hidden, not too long
 * for any disk. The extension stays.
 */
export function safeFileName(name: string): string {
  const last = name.split(/[/\\]/).at(-1) ?? '';
  const clean =
    last
      .replace(/[\u0000-\u001f\u007f<>:"|?*]/g, '_')
      .replace(/^\.+/, '')
      .trim() || 'clip';
  const dot = clean.lastIndexOf('.');
  const extension = dot > 0 ? clean.slice(dot).slice(0, 20) : '';
  let stem = dot > 0 ? clean.slice(0, dot) : clean;
  while (Buffer.byteLength(stem + extension) > LONGEST_NAME_BYTES) stem = stem.slice(0, -1);
  return stem + extension;
}
