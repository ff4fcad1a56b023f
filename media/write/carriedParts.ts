import { open, readFile, writeFile } from 'node:fs/promises';

// What AIFF and FLAC files hold beside their sound and FFmpeg leaves behind: carried over as it is.

/** AIFF 1.3: the sound, its shape, the text chunks that FFmpeg writes itself, and what pads. */
const WRITTEN_ANEW = new Set(['COMM', 'SSND', 'FVER', 'ID3 ', 'NAME', 'AUTH', 'ANNO', '(c) ', 'COMT']);
/** RFC 9639, 8: application, cue sheet, picture. */
const CARRIED_BLOCKS = new Set([2, 5, 6]);
const LARGEST_PART = 16 << 20;

/** Puts the chunks of one AIFF file behind those of another. */
export async function carryAiffChunks(from: string, to: string): Promise<void> {
  const chunks = await aiffChunks(from);
  if (chunks.length === 0) return;
  const file = await open(to, 'r+');
  try {
    const { size } = await file.stat();
    const added = Buffer.concat([Buffer.alloc(size % 2), ...chunks]);
    await file.write(added, 0, added.length, size);
    const form = Buffer.alloc(4);
    form.writeUInt32BE(size + added.length - 8);
    await file.write(form, 0, 4, 4);
  } finally {
    await file.close();
  }
}

async function aiffChunks(path: string): Promise<Buffer[]> {
  const file = await open(path, 'r');
  try {
    const { size } = await file.stat();
    const chunks: Buffer[] = [];
    for (let at = 12; at + 8 <= size;) {
      const head = await bytesAt(file, at, 8);
      const bytes = head.length === 8 ? head.readUInt32BE(4) : 0;
      const whole = 8 + bytes + (bytes % 2);
      if (head.length < 8 || at + 8 + bytes > size) break;
      if (!WRITTEN_ANEW.has(head.toString('latin1', 0, 4)) && whole <= LARGEST_PART) {
        const chunk = await bytesAt(file, at, whole);
        chunks.push(chunk.length === whole ? chunk : Buffer.concat([chunk, Buffer.alloc(whole - chunk.length)]));
      }
      at += whole;
    }
    return chunks;
  } finally {
    await file.close();
  }
}

/** Puts the covers, cue sheets and application blocks of one FLAC file before the sound of another. */
export async function carryFlacBlocks(from: string, to: string): Promise<void> {
  const carried = (await flacBlocks(from)).filter(({ kind }) => CARRIED_BLOCKS.has(kind));
  if (carried.length === 0) return;
  const own = await flacBlocks(to);
  const sound = await readFile(to);
  const head = own.reduce((sum, { body }) => sum + 4 + body.length, 4);
  const padding = 1;
  const blocks = [...own.filter(({ kind }) => kind !== padding), ...carried];
  const written = blocks.map(({ kind, body }, i) => {
    const blockHead = Buffer.alloc(4);
    blockHead.writeUInt8(kind | (i === blocks.length - 1 ? 0x80 : 0));
    blockHead.writeUIntBE(body.length, 1, 3);
    return Buffer.concat([blockHead, body]);
  });
  await writeFile(to, Buffer.concat([Buffer.from('fLaC'), ...written, sound.subarray(head)]));
}

async function flacBlocks(path: string): Promise<{ kind: number; body: Buffer }[]> {
  const file = await open(path, 'r');
  try {
    const blocks: { kind: number; body: Buffer }[] = [];
    if ((await bytesAt(file, 0, 4)).toString('latin1') !== 'fLaC') return [];
    for (let at = 4; ;) {
      const head = await bytesAt(file, at, 4);
      if (head.length < 4) return blocks;
      const bytes = head.readUIntBE(1, 3);
      blocks.push({ kind: head[0] & 0x7f, body: await bytesAt(file, at + 4, bytes) });
      if (head[0] & 0x80) return blocks;
      at += 4 + bytes;
    }
  } finally {
    await file.close();
  }
}

async function bytesAt(file: Awaited<ReturnType<typeof open>>, offset: number, bytes: number): Promise<Buffer> {
  const { buffer, bytesRead } = await file.read(Buffer.alloc(bytes), 0, bytes, offset);
  return buffer.subarray(0, bytesRead);
}
