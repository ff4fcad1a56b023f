import { join } from 'node:path';
import { bucketFrames } from '@pocket-twin/core/outline/outline.ts';
import { OutlineWriter, readOutline } from './outlineFiles.ts';
import { scratchFolder } from '../test/files.ts';

const LANES = 3;
const FLOATS = LANES * 3;
const numbered = (from: number, buckets: number): Float32Array =>
  Float32Array.from({ length: buckets * FLOATS }, (_, i) => from * FLOATS + i);

test('an outline is what was pushed, in pieces small and larger than any buffer, by one writer and by another further on', async () => {
  const folder = join(await scratchFolder(), 'outline');
  const [first, later] = [20_000, 9_000];
  const writer = await OutlineWriter.create(folder);
  const other = OutlineWriter.inside(writer.partFolder, first * bucketFrames(0), 2);
  writer.push(0, numbered(0, 7));
  // More at once than the writer holds: a clip of many channels hands over that much.
  writer.push(0, numbered(7, first - 7));
  for (let at = 0; at < later; at += 3000) other.push(0, numbered(first + at, 3000));
  await other.finishPart();
  await writer.finish((first + later) * bucketFrames(0), 2);
  const bytes = await readOutline(folder, 0, LANES, 0, first + later);
  expect(Buffer.compare(bytes, Buffer.from(numbered(0, first + later).buffer))).toBe(0);
  expect(new Float32Array(new Uint8Array(await readOutline(folder, 0, LANES, first - 1, first + 1)).buffer)).toEqual(
    numbered(first - 1, 2),
  );
});
