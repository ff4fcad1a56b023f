import { statfs } from 'node:fs/promises';
import { dirname } from 'node:path';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';

// What stays free on the disk, as the database writes there too: this, or a twentieth of a small disk.
const RESERVE_BYTES = 512 * 1024 ** 2;
const RESERVE_SHARE = 0.05;
const LOOK_EVERY_BYTES = 64 * 1024 ** 2;

/** Bytes that may still be written on the disk of a path. */
export async function roomBeside(path: string): Promise<number> {
  const { bavail, blocks, bsize } = await statfs(dirname(path));
  return bavail * bsize - Math.min(RESERVE_BYTES, blocks * bsize * RESERVE_SHARE);
}

/** Keeps a decoded copy from filling the disk: room is reckoned before and watched while it grows. */
export class RoomKeeper {
  private sinceLook = 0;

  /** @param path beside which is written. @param name how the recording is called in sentences for people */
  constructor(
    private readonly path: string,
    private readonly name: string,
  ) {}

  /** @throws Refusal where there is not this much room */
  async ensure(bytes: number): Promise<void> {
    this.sinceLook = 0;
    const room = await roomBeside(this.path);
    if (room < bytes)
      throw new Refusal(
        'no-room',
        `There is no room on the disk to read ${this.name}: it unfolds to ${size(bytes)}${room > 0 ? ` and ${size(room)} are left` : ''}. Free some and measure it again.`,
      );
  }

  /** Told of what was written. @throws Refusal as soon as the room is gone */
  async wrote(bytes: number): Promise<void> {
    this.sinceLook += bytes;
    if (this.sinceLook >= LOOK_EVERY_BYTES) await this.look();
  }

  /** @throws Refusal where the room is gone */
  async look(): Promise<void> {
    this.sinceLook = 0;
    if ((await roomBeside(this.path)) < 0)
      throw new Refusal(
        'no-room',
        `There is no room on the disk to read ${this.name}. Free some and measure it again.`,
      );
  }
}

function size(bytes: number): string {
  return bytes >= 1e9 ? `${(bytes / 1e9).toFixed(1)} GB` : `${Math.ceil(bytes / 1e6)} MB`;
}
