import { readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { asciiBytes } from '@pocket-twin/core/riff/byteSource.ts';
import { fillFrom, leaveAsItIs, splitToMonos, sumToMono } from '@pocket-twin/core/repair/plans.ts';
import type { SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { chatter, noise } from '@pocket-twin/core/test/signals.ts';
import { inspectFile } from './inspectFile.ts';
import { proveRendered, renderFile, type RenderJob } from './renderFile.ts';
import { INT24, scratchFolder, writeTestWav } from './test/files.ts';

const LEFT = chatter(0.1, 1.5, 1);
const RIGHT = noise(0.001, 1.5, 2);

async function jobFor(source: string, repair: Repair, targets: string[], words?: SampleFormat): Promise<RenderJob> {
  const { pcm } = await inspectFile(source);
  return { source: pcm!, chunksFrom: source, repair, words: words ?? pcm!.words, targets, overwrite: false };
}

async function sameBytes(a: string, b: string): Promise<boolean> {
  return (await readFile(a)).equals(await readFile(b));
}

const FORMATS: SampleFormat[] = [
  { kind: 'integer', bits: 16 }, INT24, { kind: 'integer', bits: 32 }, { kind: 'float', bits: 32 }, { kind: 'float', bits: 64 },
];

test.each(FORMATS)('filling $kind $bits bit writes the left side’s very bytes to both', async (format) => {
  const folder = await scratchFolder();
  const source = await writeTestWav(join(folder, 'in.wav'), [LEFT, RIGHT], format);
  const wanted = await writeTestWav(join(folder, 'wanted.wav'), [LEFT, LEFT], format);
  const before = await readFile(source);
  const job = await jobFor(source, fillFrom(1, 2), [join(folder, 'out.wav')]);
  const rendered = await renderFile(job);
  expect(await sameBytes(rendered.paths[0], wanted)).toBe(true);
  const [written] = await proveRendered(job, rendered);
  expect(written).toMatchObject({ exact: true, proof: { comparedFrames: LEFT.length, differingFrames: 0 }, after: { verdict: 'dual-mono' } });
  expect((await readFile(source)).equals(before)).toBe(true);
});

test('splitting an odd number of frames gives two whole mono files with the chunks of the source', async () => {
  const folder = await scratchFolder();
  const chunks = ['bext', 'iXML', 'LIST'].map((id, i) => ({ id, body: asciiBytes(`kept ${id}`.repeat(i + 1)) }));
  const left = LEFT.subarray(0, 48001);
  const source = await writeTestWav(join(folder, 'in.wav'), [left, RIGHT.subarray(0, 48001)], INT24, [...chunks, { id: 'junk', body: asciiBytes('not kept') }]);
  const { paths } = await renderFile(await jobFor(source, splitToMonos(2), [join(folder, 'l.wav'), join(folder, 'r.wav')]));
  expect(await sameBytes(paths[0], await writeTestWav(join(folder, 'wanted.wav'), [left], INT24, chunks))).toBe(true);
  expect(await readdir(folder)).toEqual(['in.wav', 'l.wav', 'r.wav', 'wanted.wav']);
});

test('a calculated repair proves itself, and a changed byte is found', async () => {
  const folder = await scratchFolder();
  const source = await writeTestWav(join(folder, 'in.wav'), [LEFT, RIGHT]);
  const job = await jobFor(source, { ...sumToMono(2), level: { loudnessLufs: -23, peakDbtp: null, ceilingDbtp: null } }, [join(folder, 'sum.wav')], { kind: 'integer', bits: 16 });
  const rendered = await renderFile(job);
  const [proof] = await proveRendered(job, rendered);
  expect(proof).toMatchObject({ exact: false, frames: LEFT.length, proof: { differingFrames: 0 }, after: { format: { bitDepth: 16, channels: 1 } } });
  expect(proof.after.channels[0].loudnessLufs).toBeCloseTo(-23, 1);
  const bytes = await readFile(rendered.paths[0]);
  bytes[bytes.length - 1000] ^= 1;
  await writeFile(rendered.paths[0], bytes);
  expect((await proveRendered(job, rendered))[0].proof.differingFrames).toBe(1);
});

test('a name that exists is kept, and the length survives a delay', async () => {
  const folder = await scratchFolder();
  const source = await writeTestWav(join(folder, 'in.wav'), [LEFT, RIGHT]);
  const trims = [{ channel: 2, gainDb: 0, polarity: 'normal' as const, delaySamples: -7.5 }];
  const job = await jobFor(source, { ...leaveAsItIs(2), trims }, [source]);
  const { paths } = await renderFile(job);
  expect(paths).toEqual([join(folder, 'in (2).wav')]);
  expect((await inspectFile(paths[0])).inspection.format.frames).toBe(LEFT.length);
});
