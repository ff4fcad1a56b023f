const SLAB_VALUES = 2 ** 17;

interface Mark {
  slab: number;
  used: number;
}

/** Room for sounds that are looked at and forgotten: megabytes are long in being made and freed, and a clip would be looked at in thirty of them. */
export class SoundRoom {
  private readonly slabs: Float64Array[] = [];
  private slab = 0;
  private used = 0;

  /** Values that still hold whatever was there before. */
  take(length: number): Float64Array {
    if (length > SLAB_VALUES) return new Float64Array(length);
    if (this.used + length > SLAB_VALUES) {
      this.slab++;
      this.used = 0;
    }
    const slab = (this.slabs[this.slab] ??= new Float64Array(SLAB_VALUES));
    this.used += length;
    return slab.subarray(this.used - length, this.used);
  }

  copyOf(sound: Float64Array): Float64Array {
    const copy = this.take(sound.length);
    copy.set(sound);
    return copy;
  }

  /** What is taken from here on is nobody's after `backTo`. */
  mark(): Mark {
    return { slab: this.slab, used: this.used };
  }

  backTo({ slab, used }: Mark): void {
    this.slab = slab;
    this.used = used;
  }
}

const idle: SoundRoom[] = [];

/** Lends a room for as long as something is done. What was taken from it is nobody's afterwards. */
export async function withSoundRoom<T>(done: (room: SoundRoom) => Promise<T>): Promise<T> {
  const room = idle.pop() ?? new SoundRoom();
  try {
    return await done(room);
  } finally {
    room.backTo({ slab: 0, used: 0 });
    idle.push(room);
  }
}
