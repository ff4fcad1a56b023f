import { asciiBytes, type ByteSource } from './byteSource.ts';
import { readWav } from './readWav.ts';
import { wavFrame, type WavShape } from './wavFrame.ts';

const SHAPE: WavShape = { format: { kind: 'integer', bits: 24 }, channels: 2, sampleRate: 48000, frames: 5, speakerMask: 0, chunks: [] };

/** A head followed by as many zeros as make up the size. */
function sourceOf(head: Uint8Array, size = head.length): ByteSource {
  return {
    size,
    read: async (offset, length) => Uint8Array.from({ length: Math.max(0, Math.min(length, size - offset)) }, (_, i) => head[offset + i] ?? 0),
  };
}

test('what is written reads back, with its chunks in place', async () => {
  const bext = { id: 'bext', body: asciiBytes('a scene note!') };
  const { head, tail } = wavFrame({ ...SHAPE, chunks: [bext] });
  const layout = await readWav(sourceOf(head, head.length + 30 + tail.length), 'a.wav');
  expect(layout).toMatchObject({ form: 'RIFF', channels: 2, sampleRate: 48000, frames: 5, promisedFrames: 5, format: SHAPE.format });
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
  await expect(readWav(sourceOf(asciiBytes('just some words in a file')), 'notes.wav')).rejects.toThrow(/^notes\.wav is not a WAV file/);
});
