import * as fc from 'fast-check';
import { ascii, asciiBytes } from '../riff/byteSource.ts';
import { childOf, childrenOf, joined, madeBox, type Box } from './boxes.ts';
import { withMovieTag } from './movieTag.ts';

// Texts in a movie's metadata, read back by the rules of QuickTime's "Metadata" chapter.

const u32 = (...values: number[]): Uint8Array => {
  const bytes = new Uint8Array(4 * values.length);
  values.forEach((value, i) => new DataView(bytes.buffer).setUint32(4 * i, value));
  return bytes;
};
const utf8 = (text: string): Uint8Array => new TextEncoder().encode(text);
const HEADER = madeBox('mvhd', [u32(0, 1, 2)]);
const TRACK = madeBox('trak', [madeBox('mdia', [u32(7)])]);

/** A box of metadata with texts by name. */
function metadata(texts: Record<string, string>, { isIso = false, handler = 'mdta' } = {}): Uint8Array {
  const names = Object.keys(texts);
  return madeBox('meta', [
    ...(isIso ? [u32(0)] : []),
    madeBox('hdlr', [u32(0, 0), asciiBytes(handler), u32(0, 0, 0)]),
    madeBox('keys', [u32(0, names.length), ...names.map((name) => madeBox('mdta', [utf8(name)]))]),
    madeBox(
      'ilst',
      names.map((name, i) => item(i + 1, utf8(texts[name]))),
    ),
  ]);
}

function item(index: number, text: Uint8Array): Uint8Array {
  const made = madeBox('item', [madeBox('data', [u32(1, 0), text])]);
  new DataView(made.buffer).setUint32(4, index);
  return made;
}

/** All texts by name, wherever in the movie they stand. Every box on the way must end where its parent does. */
function textsOf(movie: Uint8Array): Record<string, string>[] {
  const view = new DataView(movie.buffer, movie.byteOffset, movie.byteLength);
  const top: Box = { type: 'moov', start: 0, end: movie.length };
  const whole = (box: Box): Box[] => {
    const children = childrenOf(view, box);
    if (children.length > 0) expect(children.at(-1)!.end).toBe(box.end);
    return children;
  };
  whole(top);
  const userData = childOf(view, top, 'udta');
  if (userData) whole(userData);
  return [top, ...(userData ? [userData] : [])].flatMap((around) =>
    childrenOf(view, around)
      .filter(({ type }) => type === 'meta')
      .map((meta) => {
        const inner = childrenOf(view, meta).length > 0 ? meta : { ...meta, start: meta.start + 4 };
        whole(inner);
        const [keys, list] = [childOf(view, inner, 'keys')!, childOf(view, inner, 'ilst')!];
        const names = whole({ ...keys, start: keys.start + 8 });
        expect(view.getUint32(keys.start + 4)).toBe(names.length);
        return Object.fromEntries(
          whole(list).map(({ start, end }) => {
            const key = names[view.getUint32(start - 4) - 1];
            return [
              ascii(movie, key.start, key.end - key.start),
              new TextDecoder().decode(movie.subarray(start + 16, end)),
            ];
          }),
        );
      }),
  );
}

test('a movie without metadata gets it, and what it held stays in front', () => {
  const movie = joined([HEADER, TRACK]);
  const tagged = withMovieTag(movie, 'coding_history', 'T=Füll\r\n')!;
  expect(tagged.subarray(0, movie.length)).toEqual(movie);
  expect(textsOf(tagged)).toEqual([{ coding_history: 'T=Füll\r\n' }]);
});

test.each([
  ['in the movie, as QuickTime has it', {}, false],
  ['in the movie, as ISO files have it', { isIso: true }, false],
  ['in its user data', { isIso: true }, true],
])('texts that stand %s stay, and get one more', (_, options, isInUserData) => {
  const meta = metadata({ title: 'Ferry', note: 'wind' }, options);
  const movie = joined([HEADER, isInUserData ? madeBox('udta', [meta, madeBox('name', [utf8('x')])]) : meta, TRACK]);
  const tagged = withMovieTag(movie, 'coding_history', 'one')!;
  expect(textsOf(tagged)).toEqual([{ title: 'Ferry', note: 'wind', coding_history: 'one' }]);
  expect(tagged.subarray(-TRACK.length)).toEqual(TRACK);
  // Another of the same name takes its place.
  expect(textsOf(withMovieTag(tagged, 'coding_history', 'another, longer')!)).toEqual([
    { title: 'Ferry', note: 'wind', coding_history: 'another, longer' },
  ]);
});

test('metadata of another kind is left alone: a movie has one', () => {
  expect(withMovieTag(joined([HEADER, metadata({ a: 'b' }, { handler: 'ID32' })]), 'coding_history', 'x')).toBeNull();
  // That of the user data is of its own.
  const lists = madeBox('udta', [metadata({ a: 'b' }, { handler: 'mdir', isIso: true })]);
  const tagged = withMovieTag(joined([HEADER, lists]), 'coding_history', 'x')!;
  expect(textsOf(tagged)).toEqual([{ coding_history: 'x' }, { a: 'b' }]);
});

test('any texts under any names come back as they were given', () => {
  const name = fc.string({ minLength: 1, maxLength: 12, unit: fc.constantFrom(...'abcxyz._') });
  fc.assert(
    fc.property(fc.array(fc.tuple(name, fc.string({ unit: 'binary' })), { minLength: 1, maxLength: 8 }), (texts) => {
      let movie = joined([HEADER, TRACK]);
      for (const [key, text] of texts) movie = withMovieTag(movie, key, text)!;
      expect(textsOf(movie)).toEqual([Object.fromEntries(texts)]);
    }),
  );
});

test('whatever bytes are changed, nothing is thrown', () => {
  const whole = joined([HEADER, metadata({ title: 'Ferry' }), TRACK]);
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.nat(whole.length - 1), fc.nat(255)), { minLength: 1, maxLength: 6 }),
      (changes) => {
        const bytes = whole.slice();
        for (const [at, value] of changes) bytes[at] = value;
        withMovieTag(bytes, 'coding_history', 'x');
      },
    ),
    { numRuns: 500 },
  );
});
