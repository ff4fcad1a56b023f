import { ascii, asciiBytes } from '../riff/byteSource.ts';
import { BOX_HEAD_BYTES, childOf, childrenOf, joined, madeBox, type Box } from './boxes.ts';

// QuickTime File Format, "Metadata": texts under names of one's own choosing.
const METADATA_HANDLER = 'mdta';
const NAME_SPACE = 'mdta';
const UTF8_TEXT = 1;
const FULL_HEAD_BYTES = 4;

interface Metadata {
  keys: Box;
  list: Box;
  /** All boxes that grow with what is put into it, outermost first; `keys` and `list` aside. */
  around: Box[];
}

/**
 * A movie box whose metadata has one text more, as QuickTime and ISO files hold them (QuickTime File Format, "Metadata"; ISO/IEC 14496-12, 8.11.1).
 * What is there stays as it is, but for a text under the same name, whose place it takes.
 * @param movie what `moov` holds
 * @returns what it then holds; null where its metadata is of a kind that takes no such texts
 */
export function withMovieTag(movie: Uint8Array, name: string, text: string): Uint8Array | null {
  const view = new DataView(movie.buffer, movie.byteOffset, movie.byteLength);
  const whole: Box = { type: 'moov', start: 0, end: movie.byteLength };
  const found = metadataOf(view, whole);
  if (found === 'other') return null;
  if (found === null) return joined([movie, madeMetadata(name, text)]);
  const { keys, list, around } = found;
  const names = childrenOf(view, { ...keys, start: keys.start + FULL_HEAD_BYTES + 4 });
  const known = names.findIndex(
    ({ type, start, end }) => type === NAME_SPACE && ascii(movie, start, end - start) === name,
  );
  const index = known < 0 ? names.length + 1 : known + 1;
  const others = childrenOf(view, list).filter(({ start }) => view.getUint32(start - 4) !== index);
  const newKeys =
    known < 0 ? [movie.subarray(keys.start, keys.end), keyEntry(name)] : [movie.subarray(keys.start, keys.end)];
  const newList = [
    ...others.map(({ start, end }) => movie.subarray(start - BOX_HEAD_BYTES, end)),
    listItem(index, text),
  ];
  const changed = [
    { box: keys, bytes: joined(newKeys) },
    { box: list, bytes: joined(newList) },
  ].sort((a, b) => a.box.start - b.box.start);
  if (known < 0) new DataView(changed.find(({ box }) => box === keys)!.bytes.buffer).setUint32(FULL_HEAD_BYTES, index);
  const grown = movie.slice();
  const grownView = new DataView(grown.buffer);
  for (const { box, bytes } of changed)
    for (const outer of [box, ...around])
      grownView.setUint32(
        outer.start - BOX_HEAD_BYTES,
        grownView.getUint32(outer.start - BOX_HEAD_BYTES) + bytes.length - (box.end - box.start),
      );
  const [first, second] = changed;
  return joined([
    ...[grown.subarray(0, first.box.start), first.bytes],
    ...[grown.subarray(first.box.end, second.box.start), second.bytes],
    grown.subarray(second.box.end),
  ]);
}

/** Where names of one's own choosing stand: in the movie, or in its user data; "other" where the movie's metadata is of another kind. */
function metadataOf(view: DataView, movie: Box): Metadata | 'other' | null {
  let isOther = false;
  const userData = childOf(view, movie, 'udta');
  for (const around of [[], ...(userData ? [[userData]] : [])]) {
    const box = childOf(view, around[0] ?? movie, 'meta');
    if (!box) continue;
    const meta = withoutFullHead(view, box);
    const handler = childOf(view, meta, 'hdlr');
    const isOurs = handler && handler.end - handler.start >= 12 && handlerType(view, handler) === METADATA_HANDLER;
    const keys = childOf(view, meta, 'keys');
    const list = childOf(view, meta, 'ilst');
    if (isOurs && keys && list && keys.end - keys.start >= 8) return { keys, list, around: [...around, box] };
    // A movie has one such box.
    if (around.length === 0) isOther = true;
  }
  return isOther ? 'other' : null;
}

/** ISO files have a version before its children, QuickTime's have none. */
function withoutFullHead(view: DataView, box: Box): Box {
  const bare = childrenOf(view, box);
  return bare.some(({ type }) => type === 'hdlr')
    ? box
    : { ...box, start: Math.min(box.end, box.start + FULL_HEAD_BYTES) };
}

function handlerType(view: DataView, { start }: Box): string {
  return ascii(new Uint8Array(view.buffer, view.byteOffset, view.byteLength), start + 8, 4);
}

function madeMetadata(name: string, text: string): Uint8Array {
  const handler = new Uint8Array(FULL_HEAD_BYTES + 21);
  handler.set(asciiBytes(METADATA_HANDLER), 8);
  const keys = new Uint8Array(FULL_HEAD_BYTES + 4);
  new DataView(keys.buffer).setUint32(FULL_HEAD_BYTES, 1);
  return madeBox('meta', [
    madeBox('hdlr', [handler]),
    madeBox('keys', [keys, keyEntry(name)]),
    madeBox('ilst', [listItem(1, text)]),
  ]);
}

function keyEntry(name: string): Uint8Array {
  return madeBox(NAME_SPACE, [new TextEncoder().encode(name)]);
}

/** @param index of its key, from 1 */
function listItem(index: number, text: string): Uint8Array {
  const head = new Uint8Array(8);
  new DataView(head.buffer).setUint32(0, UTF8_TEXT);
  const item = madeBox('data', [madeBox('data', [head, new TextEncoder().encode(text)])]);
  new DataView(item.buffer).setUint32(4, index);
  return item;
}
