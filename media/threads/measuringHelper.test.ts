import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { ClipMeter } from '@pocket-twin/core/measure/stream/clipMeter.ts';
import { cutAway, wholeClip } from '@pocket-twin/core/measure/stream/clipParts.ts';
import { joinSums } from '@pocket-twin/core/measure/stream/clipSums.ts';
import { bucketFrames, JOINT_LEVEL } from '@pocket-twin/core/outline/outline.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { measure } from '@pocket-twin/core/test/inspecting.ts';
import { lookAtChannelsOf } from '../read/lookAtChannels.ts';
import { INT24, scratchFolder, wavBytes } from '../test/files.ts';
import { MeasuringHelper } from './measuringHelper.ts';

const RATE = 8000;
const FRAMES = 60 * RATE;
const FRAME_BYTES = 6;

async function clip() {
  const bytes = wavBytes([chatter(0.1, 60, 1, RATE), noise(0.01, 60, 2, RATE)], INT24, [], RATE);
  const path = join(await scratchFolder(), 'minute.wav');
  await writeFile(path, bytes);
  const dataOffset = bytes.length - FRAMES * FRAME_BYTES;
  const wav = { format: INT24, channels: 2, sampleRate: RATE, dataOffset, frames: FRAMES };
  return { path, wav, words: bytes.subarray(dataOffset) };
}

test('a helper measures the later part of a clip as if it were measured in one', async () => {
  const { path, wav, words } = await clip();
  const part = wholeClip(FRAMES);
  const later = cutAway(part, 0, RATE, bucketFrames(JOINT_LEVEL))!;
  const helper = new MeasuringHelper();
  try {
    await helper.ready;
    const { sums, joint } = await helper.measure({ path, wav, part: later, outlinePart: undefined });
    expect(joint).toBeNull();
    const first = new ClipMeter(RATE, 2, INT24, { part });
    first.push(words.subarray(0, part.endFrame * FRAME_BYTES));
    const whole = new ClipMeter(RATE, 2, INT24);
    whole.push(words);
    const joined = joinSums(first.finishPart(), sums);
    const wanted = whole.finishPart();
    expect(joined.frames).toBe(FRAMES);
    expect(joined.pairs).toEqual(wanted.pairs);
    expect(joined.channels.map(({ power, peak, sum }) => [power, peak, sum])).toEqual(
      wanted.channels.map(({ power, peak, sum }) => [power, peak, sum]),
    );
  } finally {
    helper.end();
  }
});

test('a helper looks at the channels of a clip as this thread does, and says what it cannot', async () => {
  const seconds = 12;
  const frames = seconds * RATE;
  const tone = new Float64Array(frames).map((_, i) => 0.2 * Math.sin((2 * Math.PI * 1000 * i) / RATE));
  const sides = [chatter(0.1, seconds, 1, RATE), tone];
  const bytes = wavBytes(sides, INT24, [], RATE);
  const path = join(await scratchFolder(), 'tone.wav');
  await writeFile(path, bytes);
  const pcm = {
    path,
    offsetBytes: bytes.length - frames * FRAME_BYTES,
    words: INT24,
    channels: 2,
    sampleRate: RATE,
    frames,
  };
  const clip = measure(sides, RATE);
  const helper = new MeasuringHelper();
  try {
    const looks = await helper.lookAtChannels({ pcm, clip });
    expect(looks).toEqual(await lookAtChannelsOf({ pcm, clip }));
    expect(looks.map(({ made }) => made?.kind ?? null)).toEqual([null, 'tone']);
    const gone = helper.lookAtChannels({ pcm: { ...pcm, path: `${path}.gone` }, clip });
    await expect(gone).rejects.toMatchObject({ code: 'not-found' });
  } finally {
    helper.end();
  }
});

test('what a helper cannot read is said, with its code; it helps again; once it has ended nobody waits for it', async () => {
  const { path, wav, words } = await clip();
  const order = { path, wav, part: wholeClip(FRAMES), outlinePart: undefined };
  const helper = new MeasuringHelper();
  await helper.ready;
  await expect(helper.measure({ ...order, path: `${path}.gone` })).rejects.toMatchObject({ code: 'ENOENT' });
  expect((await helper.measure(order)).sums.frames).toBe(words.length / FRAME_BYTES);
  const unanswered = expect(helper.measure(order)).rejects.toThrow('has ended');
  helper.end();
  await unanswered;
  expect((await readFile(path)).subarray(-words.length).equals(Buffer.from(words))).toBe(true);
});
