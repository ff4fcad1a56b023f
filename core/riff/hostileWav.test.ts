import { seededRandom } from '../signal/random.ts';
import { Refusal } from '../schema/refusal.ts';
import { broadcastFacts } from './broadcastFacts.ts';
import { asciiBytes, type ByteSource } from './byteSource.ts';
import { readWav } from './readWav.ts';
import { wavFrame } from './wavFrame.ts';

// A hundred thousand heads with bits turned, bytes replaced, cut and spliced: a layout that the file can hold, or a sentence; nothing else.

const HEADS = 100_000;
const random = seededRandom(20_261_126);
const below = (most: number): number => Math.floor(random() * most);
const EDGES = [0, 1, 2, 3, 7, 8, 0x7f, 0x80, 0xff];

const bext = { id: 'bext', body: Uint8Array.from({ length: 700 }, (_, i) => (i * 7) % 256) };
const ixml = {
  id: 'iXML',
  body: asciiBytes(
    '<BWFXML><TRACK_LIST><TRACK_COUNT>2</TRACK_COUNT><TRACK><CHANNEL_INDEX>1</CHANNEL_INDEX><NAME>boom</NAME></TRACK></TRACK_LIST></BWFXML>',
  ),
};
const WHOLE = [1, 2, 6].flatMap((channels) =>
  [16, 24, 32].map(
    (bits) =>
      wavFrame({
        format: bits === 32 ? { kind: 'float', bits } : { kind: 'integer', bits: bits as 16 | 24 },
        channels,
        sampleRate: 48000,
        frames: channels === 6 ? 2 ** 30 : 1000,
        speakerMask: channels === 6 ? 0x3f : 0,
        chunks: [bext, ixml],
      }).head,
  ),
);

function spliced(bytes: Uint8Array, at: number, more: Uint8Array): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(bytes.length + more.length);
  out.set(bytes.subarray(0, at));
  out.set(more, at);
  out.set(bytes.subarray(at), at + more.length);
  return out;
}

function mutated(): Uint8Array {
  let bytes = WHOLE[below(WHOLE.length)].slice();
  for (let times = 1 + below(4); times > 0; times--) {
    const at = below(bytes.length);
    const kind = below(5);
    if (kind === 0) bytes[at] ^= 1 << below(8);
    else if (kind === 1) bytes[at] = EDGES[below(EDGES.length)];
    else if (kind === 2) bytes = bytes.slice(0, at);
    else if (kind === 3) bytes = spliced(bytes, at, WHOLE[below(WHOLE.length)].subarray(below(100), 100 + below(200)));
    // Where sizes and counts stand.
    else
      for (let i = 0; i < 4 && 16 + below(30) + i < bytes.length; i++)
        bytes[16 + below(30)] = EDGES[below(EDGES.length)];
  }
  return bytes;
}

function fileOf(head: Uint8Array, size: number): ByteSource {
  return {
    size,
    read: (offset, length) => {
      const bytes = new Uint8Array(Math.max(0, Math.min(length, size - offset)));
      if (offset < head.length) bytes.set(head.subarray(offset, offset + bytes.length));
      return Promise.resolve(bytes);
    },
  };
}

test('100,000 mutated heads give a layout that the file can hold, or a sentence that names it', async () => {
  let read = 0;
  const sentences = new Set<string>();
  for (let n = 0; n < HEADS; n++) {
    const head = mutated();
    const size = head.length + [0, 1, 5, 6000, 2 ** 32 + 6000][below(5)];
    const source = fileOf(head, size);
    try {
      const { channels, sampleRate, format, dataOffset, frames, promisedFrames, chunks } = await readWav(
        source,
        'clip.wav',
      );
      read++;
      const held = dataOffset + frames * channels * (format.bits / 8);
      if (!(
        channels >= 1 &&
        channels <= 64 &&
        sampleRate >= 1 &&
        frames >= 0 &&
        promisedFrames >= frames &&
        held <= size &&
        chunks.length <= 1000
      ))
        throw new Error(
          `No such file: ${JSON.stringify({ channels, sampleRate, frames, promisedFrames, held, size })}`,
        );
      const body = async (id: string): Promise<Uint8Array | null> => {
        const chunk = chunks.find((one) => one.id === id);
        return chunk ? source.read(chunk.offset, Math.min(chunk.bytes, 4096)) : null;
      };
      broadcastFacts({ bext: await body('bext'), ixml: await body('iXML') }, channels);
    } catch (error) {
      if (!(error instanceof Refusal))
        throw new Error(`Head ${n} of ${size} bytes, ${Buffer.from(head).toString('base64')}: ${String(error)}`, {
          cause: error,
        });
      sentences.add(error.message.replace(/\d+/g, 'N'));
    }
  }
  // Both ends of it were reached.
  expect(read).toBeGreaterThan(HEADS / 10);
  expect(HEADS - read).toBeGreaterThan(HEADS / 10);
  for (const sentence of sentences) expect(sentence).toMatch(/clip\.wav.*\./);
}, 120_000);
