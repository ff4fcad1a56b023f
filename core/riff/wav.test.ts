import { asciiBytes, type ByteSource } from './byteSource.ts';
import { readWav } from './readWav.ts';
import { wavFrame, type WavShape } from './wavFrame.ts';

const SHAPE: WavShape = {
  format: { kind: 'integer', bits: 24 },
  channels: 2,
  sampleRate: 48000,
  frames: 5,
  speakerMask: 0,
  chunks: [],
};

/** A head followed by as many zeros as make up the size. */
function sourceOf(head: Uint8Array, size = head.length): ByteSource {
  return {
    size,
    read: async (offset, length) =>
      Uint8Array.from({ length: Math.max(0, Math.min(length, size - offset)) }, (_, i) => head[offset + i] ?? 0),
  };
}

test('what is written reads back, with its chunks in place', async () => {
  const bext = { id: 'bext', body: asciiBytes('a scene note!') };
  const { head, tail } = wavFrame({ ...SHAPE, chunks: [bext] });
  const layout = await readWav(sourceOf(head, head.length + 30 + tail.length), 'a.wav');
  expect(layout).toMatchObject({
    form: 'RIFF',
    channels: 2,
    sampleRate: 48000,
    frames: 5,
    promisedFrames: 5,
    format: SHAPE.format,
  });
  const kept = layout.chunks.find(({ id }) => id === 'bext')!;
  expect(head.subarray(kept.offset, kept.offset + kept.bytes)).toEqual(bext.body);
});

test('an odd number of bytes is padded', () => {
  expect(wavFrame({ ...SHAPE, channels: 1 }).tail.length).toBe(1);
});

test('over 4 GB it becomes RF64 and still reads', async () => {
  const frames = 1_000_000_000;
  const { head } = wavFrame({ ...SHAPE, frames });
  const layout = await readWav(sourceOf(head, head.length + frames * 6), 'long.wav');
  expect(layout).toMatchObject({ form: 'RF64', frames });
});

test('a file that was cut off says how much was promised', async () => {
  const { head } = wavFrame({ ...SHAPE, frames: 100 });
  expect(await readWav(sourceOf(head, head.length + 60), 'cut.wav')).toMatchObject({ frames: 10, promisedFrames: 100 });
});

test('sizes that a recorder never filled in are taken from the file', async () => {
  const { head } = wavFrame({ ...SHAPE, frames: 0 });
  expect(await readWav(sourceOf(head, head.length + 60), 'open.wav')).toMatchObject({ frames: 10, promisedFrames: 10 });
});

test('text is refused with its name', async () => {
  await expect(readWav(sourceOf(asciiBytes('just some words in a file')), 'notes.wav')).rejects.toThrow(
    /^notes\.wav is not a WAV file/,
  );
});

/** The head of a WAV with one 32-bit field changed. */
function patched(head: Uint8Array, at: number, value: number, width: 2 | 4 = 4): Uint8Array {
  const copy = Uint8Array.from(head);
  const view = new DataView(copy.buffer);
  if (width === 4) view.setUint32(at, value, true);
  else view.setUint16(at, value, true);
  return copy;
}

/** A RIFF head of 44 bytes without other chunks, with any size of the sound. */
function riffHead(dataBytes: number): Uint8Array {
  const { head } = wavFrame({ ...SHAPE, frames: 5, chunks: [] });
  const at = Buffer.from(head).indexOf('data');
  return patched(head, at + 4, dataBytes).subarray(0, at + 8);
}

/** A sparse file: pieces at their places, noise that is no chunk everywhere else. */
function sparse(size: number, pieces: [at: number, bytes: Uint8Array][]): ByteSource {
  return {
    size,
    read: async (offset, length) =>
      Uint8Array.from({ length: Math.max(0, Math.min(length, size - offset)) }, (_, i) => {
        const piece = pieces.find(([at, bytes]) => offset + i >= at && offset + i < at + bytes.length);
        return piece ? piece[1][offset + i - piece[0]] : 0x81;
      }),
  };
}

test.each([1, 2, 3])(
  'a size that began again at 0 past %d times 4 GiB is mended, with and without a chunk behind',
  async (times) => {
    const sound = times * 2 ** 32 + 6_000_000;
    const head = riffHead(6_000_000);
    const alone = await readWav(sparse(head.length + sound, [[0, head]]), 'long.wav');
    expect(alone).toMatchObject({ frames: Math.floor(sound / 6), wrapped: true, strayBytes: 0 });
    const list = Uint8Array.from([...asciiBytes('LIST'), 4, 0, 0, 0, ...asciiBytes('INFO')]);
    const followed = await readWav(
      sparse(head.length + sound + list.length, [
        [0, head],
        [head.length + sound, list],
      ]),
      'long.wav',
    );
    expect(followed).toMatchObject({ frames: Math.floor(sound / 6), wrapped: true });
    expect(followed.chunks.map(({ id }) => id)).toEqual(['fmt ', 'data', 'LIST']);
  },
);

test('a long file whose own size leads to a chunk is believed, and what is behind the sound and no chunk is not read as sound', async () => {
  const head = riffHead(6_000_000);
  const junk = new Uint8Array(8);
  junk.set(asciiBytes('JUNK'));
  new DataView(junk.buffer).setUint32(4, 2 ** 32 - 8, true);
  expect(
    await readWav(
      sparse(head.length + 6_000_000 + 2 ** 32, [
        [0, head],
        [head.length + 6_000_000, junk],
      ]),
      'padded.wav',
    ),
  ).toMatchObject({ frames: 1_000_000, wrapped: false, strayBytes: 0 });
  expect(await readWav(sparse(head.length + 7_000_000, [[0, head]]), 'stray.wav')).toMatchObject({
    frames: 1_000_000,
    wrapped: false,
    strayBytes: 1_000_000,
  });
});

test('sound of no size is what follows, unless chunks follow', async () => {
  const head = riffHead(0);
  const list = Uint8Array.from([...asciiBytes('LIST'), 4, 0, 0, 0, ...asciiBytes('INFO')]);
  expect(await readWav(sparse(head.length + 600, [[0, head]]), 'open.wav')).toMatchObject({ frames: 100 });
  expect(
    await readWav(
      sparse(head.length + 12, [
        [0, head],
        [head.length, list],
      ]),
      'none.wav',
    ),
  ).toMatchObject({ frames: 0, promisedFrames: 0 });
});

test.each([
  [16, 6, 288_000, 24],
  [24, 4, 288_000, 24],
  [16, 4, 288_000, 16],
  [20, 6, 288_000, 24],
  [24, 8, 384_000, 32],
  [24, 4, 192_000, 16],
])('%d bits, frames of %d bytes, %d bytes a second: %d bit', async (bits, blockAlign, bytesPerSecond, expected) => {
  const head = riffHead(60);
  const at = Buffer.from(head).indexOf('fmt ') + 8;
  const changed = patched(patched(patched(head, at + 8, bytesPerSecond), at + 12, blockAlign, 2), at + 14, bits, 2);
  const { format, depthDoubtful } = await readWav(sparse(changed.length + 60, [[0, changed]]), 'odd.wav');
  expect(format).toEqual({ kind: 'integer', bits: expected });
  expect(depthDoubtful).toBe(Math.ceil(bits / 8) * 2 !== blockAlign);
});

test('a header of which no two fields agree is refused', async () => {
  const head = riffHead(60);
  const at = Buffer.from(head).indexOf('fmt ') + 8;
  const changed = patched(patched(head, at + 8, 1), at + 14, 16, 2);
  await expect(readWav(sparse(changed.length + 60, [[0, changed]]), 'odd.wav')).rejects.toThrow(
    'The header of odd.wav contradicts itself: frames of 6 bytes for 2 channels of 16 bit.',
  );
});
