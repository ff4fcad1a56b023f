import * as fc from 'fast-check';
import type { ByteSource } from '../riff/byteSource.ts';
import { findMovieBox } from './movieBox.ts';
import { movieTracks, type MovieTrack } from './movieTracks.ts';

// Tables of a movie that are made by hand: where its media lies, and what contradicts itself.

const u32 = (...values: number[]): number[] =>
  values.flatMap((value) => [(value >>> 24) & 255, (value >>> 16) & 255, (value >>> 8) & 255, value & 255]);
const letters = (text: string): number[] => [...text].map((letter) => letter.charCodeAt(0));
const box = (type: string, ...content: number[][]): number[] => {
  const all = content.flat();
  return [...u32(8 + all.length), ...letters(type), ...all];
};

interface Tables {
  handler: string;
  /** First chunk and samples of each run. */
  runs: [first: number, samples: number][];
  oneSize: number;
  sizes?: number[];
  samples: number;
  offsets: number[];
  isWide?: boolean;
}

const track = ({ handler, runs, oneSize, sizes = [], samples, offsets, isWide = false }: Tables): number[] =>
  box(
    'trak',
    box(
      'mdia',
      box('hdlr', u32(0, 0), letters(handler), u32(0, 0, 0)),
      box(
        'minf',
        box(
          'stbl',
          box('stsc', u32(0, runs.length), runs.map(([first, count]) => u32(first, count, 1)).flat()),
          box('stsz', u32(0, oneSize, samples), u32(...sizes)),
          isWide
            ? box(
                'co64',
                u32(0, offsets.length),
                offsets.flatMap((at) => u32(Math.floor(at / 2 ** 32), at % 2 ** 32)),
              )
            : box('stco', u32(0, offsets.length), u32(...offsets)),
        ),
      ),
    ),
  );

function source(bytes: number[]): ByteSource {
  const all = Uint8Array.from(bytes);
  return { size: all.length, read: (offset, length) => Promise.resolve(all.slice(offset, offset + length)) };
}

async function tracksOf(file: ByteSource): Promise<MovieTrack[] | null> {
  const movie = await findMovieBox(file);
  return movie && movieTracks(movie.body);
}

const SOUND: Tables = {
  handler: 'soun',
  runs: [
    [1, 1024],
    [3, 500],
  ],
  oneSize: 1,
  samples: 2548,
  offsets: [40, 9000, 20_000],
};
const PICTURE: Tables = {
  handler: 'vide',
  runs: [[1, 2]],
  oneSize: 0,
  sizes: [10, 20, 30, 40],
  samples: 4,
  offsets: [100, 2 ** 33 + 5],
  isWide: true,
};
const HEAD = [...box('ftyp', letters('qt  ')), ...box('mdat', u32(1, 2, 3))];

test('where each chunk lies, how many samples and bytes it holds, in 32 and in 64 bits', async () => {
  const tracks = await tracksOf(source([...HEAD, ...box('moov', box('mvhd', u32(0)), track(SOUND), track(PICTURE))]));
  expect(tracks).toEqual([
    {
      handler: 'soun',
      chunks: [
        { offset: 40, samples: 1024, bytes: 1024 },
        { offset: 9000, samples: 1024, bytes: 1024 },
        { offset: 20_000, samples: 500, bytes: 500 },
      ],
    },
    {
      handler: 'vide',
      chunks: [
        { offset: 100, samples: 2, bytes: 30 },
        { offset: 2 ** 33 + 5, samples: 2, bytes: 70 },
      ],
    },
  ]);
});

test.each<[string, Partial<Tables>]>([
  ['more samples in its chunks than in all', { samples: 2000 }],
  ['fewer samples in its chunks than in all', { samples: 3000 }],
  ['runs that begin after the first chunk', { runs: [[2, 1024]] }],
  [
    'runs beyond its chunks',
    {
      runs: [
        [1, 1024],
        [9, 500],
      ],
    },
  ],
  ['sizes that are not there', { oneSize: 0 }],
])('tables with %s say nothing', async (_, more) => {
  expect(await tracksOf(source([...HEAD, ...box('moov', track({ ...SOUND, ...more }))]))).toBeNull();
});

test('no movie, and one cut off, have no tracks', async () => {
  expect(await tracksOf(source(HEAD))).toBeNull();
  const whole = [...HEAD, ...box('moov', track(SOUND))];
  for (let length = 0; length < whole.length; length += 7)
    expect(await tracksOf(source(whole.slice(0, length)))).toBeNull();
});

test('whatever bytes are changed, nothing is thrown and no chunk is negative', async () => {
  const whole = [...HEAD, ...box('moov', track(SOUND), track(PICTURE))];
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.tuple(fc.nat(whole.length - 1), fc.nat(255)), { minLength: 1, maxLength: 12 }),
      async (changes) => {
        const bytes = [...whole];
        for (const [at, value] of changes) bytes[at] = value;
        for (const { chunks } of (await tracksOf(source(bytes))) ?? [])
          for (const { offset, bytes: length } of chunks) expect(Math.min(offset, length)).toBeGreaterThanOrEqual(0);
      },
    ),
    { numRuns: 500 },
  );
});
