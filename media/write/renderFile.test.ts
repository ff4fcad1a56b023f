import { execFileSync } from 'node:child_process';
import { readdir, readFile, rename, stat, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { asciiBytes } from '@pocket-twin/core/riff/byteSource.ts';
import { inLayout } from '@pocket-twin/core/repair/plan/layouts.ts';
import { fillFrom, leaveAsItIs, pass, routed, splitToMonos, sumToMono } from '@pocket-twin/core/repair/plan/plans.ts';
import type { SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import type { InputTrim, Repair, Route, Section } from '@pocket-twin/core/schema/repair.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { inspectFile } from '../read/inspectFile.ts';
import { proveRendered, renderFile, type RenderJob } from './renderFile.ts';
import { stampOf } from '../disk/fileStamp.ts';
import { INT24, scratchFolder, writeTestWav } from '../test/files.ts';

const LEFT = chatter(0.1, 1.5, 1);
const RIGHT = noise(0.001, 1.5, 2);

async function jobFor(source: string, repair: Repair, targets: string[], words?: SampleFormat): Promise<RenderJob> {
  const { pcm, facts } = await inspectFile(source);
  return {
    source: pcm!,
    measured: null,
    chunksFrom: source,
    facts,
    channelNames: facts.trackNames,
    repair,
    words: words ?? pcm!.words,
    targets,
    overwrite: false,
  };
}

async function sameBytes(a: string, b: string): Promise<boolean> {
  return (await readFile(a)).equals(await readFile(b));
}

const FORMATS: SampleFormat[] = [
  { kind: 'integer', bits: 16 },
  INT24,
  { kind: 'integer', bits: 32 },
  { kind: 'float', bits: 32 },
  { kind: 'float', bits: 64 },
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
  expect(written).toMatchObject({
    exact: true,
    proof: { comparedFrames: LEFT.length, differingFrames: 0 },
    after: { verdict: 'dual-mono' },
  });
  expect((await readFile(source)).equals(before)).toBe(true);
});

test('splitting an odd number of frames gives two whole mono files with the chunks of the source', async () => {
  const folder = await scratchFolder();
  const chunks = ['bext', 'cue ', 'LIST'].map((id, i) => ({ id, body: asciiBytes(`kept ${id}`.repeat(i + 1)) }));
  const left = LEFT.subarray(0, 48001);
  const source = await writeTestWav(join(folder, 'in.wav'), [left, RIGHT.subarray(0, 48001)], INT24, [
    ...chunks,
    { id: 'junk', body: asciiBytes('not kept') },
  ]);
  const { paths } = await renderFile(
    await jobFor(source, splitToMonos(2), [join(folder, 'l.wav'), join(folder, 'r.wav')]),
  );
  expect(await sameBytes(paths[0], await writeTestWav(join(folder, 'wanted.wav'), [left], INT24, chunks))).toBe(true);
  expect(await readdir(folder)).toEqual(['in.wav', 'l.wav', 'r.wav', 'wanted.wav']);
});

test.each(FORMATS)(
  'outside its fades a section of $kind $bits bit has the very words that were read',
  async (format) => {
    const folder = await scratchFolder();
    const source = await writeTestWav(join(folder, 'in.wav'), [LEFT, RIGHT], format);
    const frames = LEFT.length;
    const section = (startFrame: number, endFrame: number, routes: Route[]): Section => ({
      ...{ startFrame, endFrame, routes, fadeIn: 'equal-power' },
    });
    const turned: Route = [{ from: 2, gainDb: 0, polarity: 'inverted' }];
    const list = [
      section(0, 20_000, [pass(1), pass(2)]),
      section(20_000, 41_003, [pass(1), pass(1)]),
      section(41_003, 60_000, [pass(1), turned]),
      section(60_000, frames, [[], pass(2)]),
    ];
    const repair: Repair = { ...leaveAsItIs(2), sections: { fadeFrames: 480, list } };
    const job = await jobFor(source, repair, [join(folder, 'out.wav')]);
    const rendered = await renderFile(job);
    const [written] = await proveRendered(job, rendered);
    const fades = [
      { startFrame: 19_760, endFrame: 20_240 },
      { startFrame: 40_763, endFrame: 41_243 },
      { startFrame: 59_760, endFrame: 60_240 },
    ];
    expect(written).toMatchObject({ exact: false, exactOutside: fades, proof: { differingFrames: 0 } });
    const wanted = await writeTestWav(
      join(folder, 'wanted.wav'),
      [
        LEFT.map((x, i) => (i < 60_000 ? x : 0)),
        RIGHT.map((x, i) => (i < 20_000 || i >= 60_000 ? x : i < 41_003 ? LEFT[i] : -x)),
      ],
      format,
    );
    const [made, ideal] = [await readFile(rendered.paths[0]), await readFile(wanted)];
    expect(made.length).toBe(ideal.length);
    const frameBytes = (2 * format.bits) / 8;
    const head = made.length - frames * frameBytes;
    const differing: number[] = [];
    for (let frame = 0; frame < frames; frame++) {
      const [from, to] = [head + frame * frameBytes, head + (frame + 1) * frameBytes];
      if (Buffer.compare(made.subarray(from, to), ideal.subarray(from, to)) !== 0) differing.push(frame);
    }
    expect(differing.length).toBeGreaterThan(100);
    expect(
      differing.filter((frame) => !fades.some((fade) => frame >= fade.startFrame && frame < fade.endFrame)),
    ).toEqual([]);
  },
);

test('a 5.1 file says where its channels play, and a channel that nothing feeds is silent', async () => {
  const folder = await scratchFolder();
  const source = await writeTestWav(join(folder, 'in.wav'), [LEFT, RIGHT]);
  const six = inLayout(routed(2, [pass(1), pass(2), [], [], pass(2), pass(1)]), '5.1');
  const { paths } = await renderFile(await jobFor(source, six, [join(folder, 'six.wav')]));
  // WAVEFORMATEXTENSIBLE's mask: front left, right, centre, low frequency, back left and right.
  expect((await readFile(paths[0])).readUInt32LE(40)).toBe(0b111111);
  const words = await wordsOf(paths[0]);
  expect([words[2], words[3]].every((channel) => channel.every((word) => word === 0))).toBe(true);
  expect(words[4]).toEqual(words[1]);
});

test('a calculated repair proves itself, and a changed byte is found', async () => {
  const folder = await scratchFolder();
  const source = await writeTestWav(join(folder, 'in.wav'), [LEFT, RIGHT]);
  const job = await jobFor(
    source,
    { ...sumToMono(2), level: { commonGainDb: null, loudnessLufs: -23, peakDbtp: null, ceilingDbtp: null } },
    [join(folder, 'sum.wav')],
    { kind: 'integer', bits: 16 },
  );
  const rendered = await renderFile(job);
  const [proof] = await proveRendered(job, rendered);
  expect(proof).toMatchObject({
    exact: false,
    frames: LEFT.length,
    proof: { differingFrames: 0 },
    after: { format: { bitDepth: 16, channels: 1 } },
  });
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

/** The words of a written WAV, one array a channel. */
async function wordsOf(path: string, bits: 16 | 24 = 24): Promise<number[][]> {
  const { pcm } = await inspectFile(path);
  const bytes = (await readFile(path)).subarray(pcm!.offsetBytes);
  const words = Array.from({ length: pcm!.channels }, (): number[] => []);
  for (let at = 0, n = 0; n < pcm!.frames * pcm!.channels; n++, at += bits / 8)
    words[n % pcm!.channels].push(bytes.readIntLE(at, bits / 8));
  return words;
}

const trim = (channel: number, part: Partial<InputTrim>): InputTrim => ({
  channel,
  gainDb: 0,
  polarity: 'normal',
  delaySamples: 0,
  ...part,
});

test.each([
  ['turned over', trim(2, { polarity: 'inverted' }), (right: number[]) => right.map((word) => -word)],
  [
    '17 samples later',
    trim(2, { delaySamples: 17 }),
    (right: number[]) => [...Array<number>(17).fill(0), ...right.slice(0, -17)],
  ],
  [
    '40 samples earlier',
    trim(2, { delaySamples: -40 }),
    (right: number[]) => [...right.slice(40), ...Array<number>(40).fill(0)],
  ],
])('a side that is %s keeps its words, and the other side keeps all of its own', async (_what, change, wanted) => {
  const folder = await scratchFolder();
  const source = await writeTestWav(join(folder, 'in.wav'), [LEFT, RIGHT]);
  const job = await jobFor(source, { ...leaveAsItIs(2), action: 'trim', trims: [change] }, [join(folder, 'out.wav')]);
  const rendered = await renderFile(job);
  const [left, right] = await wordsOf(source);
  const written = await wordsOf(rendered.paths[0]);
  expect(written[0]).toEqual(left);
  expect(written[1].map((word) => word + 0)).toEqual(wanted(right).map((word) => word + 0));
  expect((await proveRendered(job, rendered))[0]).toMatchObject({
    exact: true,
    heldSamples: 0,
    proof: { differingFrames: 0 },
  });
});

test('the most negative integer turned over has no counterpart: it is held at the top, and the receipt counts it', async () => {
  const folder = await scratchFolder();
  const lows = LEFT.map((x, i) => (i % 1000 === 0 ? -1 : x));
  const source = await writeTestWav(join(folder, 'in.wav'), [lows, RIGHT]);
  const job = await jobFor(source, { ...leaveAsItIs(2), action: 'trim', trims: [trim(1, { polarity: 'inverted' })] }, [
    join(folder, 'out.wav'),
  ]);
  const rendered = await renderFile(job);
  expect((await wordsOf(rendered.paths[0]))[0][0]).toBe(2 ** 23 - 1);
  expect((await proveRendered(job, rendered))[0]).toMatchObject({
    exact: true,
    heldSamples: Math.ceil(LEFT.length / 1000),
  });
});

test('only what is calculated is dithered: not the side beside it, nor words that get longer; words that get shorter are', async () => {
  const folder = await scratchFolder();
  const source = await writeTestWav(join(folder, 'in.wav'), [LEFT, RIGHT], { kind: 'integer', bits: 16 });
  const [left, right] = await wordsOf(source, 16);
  const louder = await renderFile(
    await jobFor(source, { ...leaveAsItIs(2), action: 'trim', trims: [trim(1, { gainDb: -1 })] }, [
      join(folder, 'louder.wav'),
    ]),
  );
  const [turnedDown, untouched] = await wordsOf(louder.paths[0], 16);
  expect(untouched).toEqual(right);
  const gain = 10 ** (-1 / 20);
  expect(turnedDown.filter((word, i) => word !== Math.round(left[i] * gain)).length).toBeGreaterThan(left.length / 5);
  const longer = await renderFile(await jobFor(source, fillFrom(1, 2), [join(folder, 'longer.wav')], INT24));
  expect(await wordsOf(longer.paths[0])).toEqual([left, left].map((words) => words.map((word) => word * 256)));
  const shorter = await renderFile(
    await jobFor(longer.paths[0], leaveAsItIs(2), [join(folder, 'shorter.wav')], { kind: 'integer', bits: 16 }),
  );
  expect((await wordsOf(shorter.paths[0], 16))[0]).not.toEqual(left);
});

test('a WAV made from a film with timecode starts where the film did, and carries its rate', async () => {
  const folder = await scratchFolder();
  const sound = await writeTestWav(join(folder, 'in.wav'), [LEFT, RIGHT]);
  const film = join(folder, 'film.mov');
  execFileSync('ffmpeg', [
    '-nostdin',
    '-loglevel',
    'error',
    '-f',
    'lavfi',
    '-i',
    'testsrc=size=160x90:rate=25:duration=1.5',
    '-i',
    sound,
    '-c:v',
    'mpeg4',
    '-c:a',
    'pcm_s24le',
    '-timecode',
    '10:00:00:05',
    film,
  ]);
  const { pcm, facts } = await inspectFile(film, { workingCopy: join(folder, 'working.pcm') });
  const startSamples = (10 * 3600 * 25 + 5) * (48000 / 25);
  expect(facts.startSamples).toBe(startSamples);
  const job: RenderJob = {
    source: pcm!,
    measured: null,
    chunksFrom: null,
    facts,
    channelNames: facts.trackNames,
    repair: fillFrom(1, 2),
    words: pcm!.words,
    targets: [join(folder, 'out.wav')],
    overwrite: false,
  };
  const { paths } = await renderFile(job);
  expect((await inspectFile(paths[0])).facts).toMatchObject({
    startSamples,
    frameRate: { numerator: 25, denominator: 1, dropFrame: false },
  });
});

test.each(['before it is written', 'before it is proven'])(
  'a source that another recording replaced %s, of the same size and time, is not written from',
  async (when) => {
    const folder = await scratchFolder();
    const source = await writeTestWav(join(folder, 'in.wav'), [LEFT, RIGHT]);
    const job = {
      ...(await jobFor(source, fillFrom(1, 2), [join(folder, 'out.wav')])),
      measured: await stampOf(source),
    };
    const replace = async (): Promise<void> => {
      const other = await writeTestWav(join(folder, 'other.wav'), [RIGHT, LEFT]);
      const { atime, mtime } = await stat(source);
      await utimes(other, atime, mtime);
      await rename(other, source);
    };
    const sentence = 'in.wav has changed since it was measured.';
    if (when === 'before it is written') {
      await replace();
      await expect(renderFile(job)).rejects.toThrow(sentence);
      expect(await readdir(folder)).toEqual(['in.wav']);
    } else {
      const rendered = await renderFile(job);
      await replace();
      await expect(proveRendered(job, rendered)).rejects.toThrow(sentence);
    }
  },
);
