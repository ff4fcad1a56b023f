import { createHash } from 'node:crypto';
import { mkdir, open, stat, type FileHandle } from 'node:fs/promises';
import { basename, dirname } from 'node:path';
import { createXXHash128 } from 'hash-wasm';
import type { Progress } from '@pocket-twin/core/contract/events.ts';
import type { ManifestEntry } from '@pocket-twin/core/handoff/manifest.ts';
import { findMovieBox } from '@pocket-twin/core/isobmff/movieBox.ts';
import { movieTracks, type MediaChunk } from '@pocket-twin/core/isobmff/movieTracks.ts';
import { bytesPerSample, codecName, type SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { readWav } from '@pocket-twin/core/riff/readWav.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import { WholeFile } from '../disk/wholeFile.ts';
import { FileSource } from '../read/fileSource.ts';
import { MovedReader, NearReader, PIECE_BYTES, type NearBytes } from './nearReader.ts';
import { taggedMovie, type Change } from './movieTags.ts';
import type { ProvenFilm } from './proveFilm.ts';

export interface ReplaceOrder {
  /** A QuickTime or MP4 file. */
  original: string;
  /** Its sound as it was decoded. */
  pcm: PcmLocation;
  /** Its sound streams. */
  streams: { codec: string; channels: number }[];
  /** What takes the place of each stream's words: a WAV of our own, with words as wide and as many, or some of the channels (from 0) as they are. */
  words: (string | number[])[];
  /** What is written into its metadata, by name, where that has room for it. */
  tags: Record<string, string>;
  target: string;
}

export interface ReplacedSound {
  proof: ProvenFilm;
  /** Of the original's picture packets. */
  pictureBefore: string;
  checksums: Omit<ManifestEntry, 'path'>;
}

/** Words of one stream that lie together in the file. */
interface Place {
  offset: number;
  bytes: number;
  stream: Stream;
  /** How many bytes of the stream come before. */
  at: number;
}

interface Stream {
  words: NearBytes;
  frameBytes: number;
  /** Where its channels begin in a frame of the decoded sound. */
  pcmOffset: number;
  isBigEndian: boolean;
  differing: Set<number>;
}

/**
 * The original, byte for byte, but for the words of its sound and the tags that tell of it: picture, timecode, other tags, chapters and whatever else it
 * holds stay as they are, and media stays where it is.
 * Only where its tables lead to the very words that were decoded from it; then read back and compared, sound and everything else.
 * @returns null where its sound can't be replaced in place: nothing is written then
 */
export async function replaceSound(
  order: ReplaceOrder,
  onProgress?: (progress: Progress) => void,
): Promise<ReplacedSound | null> {
  const { original, pcm, target } = order;
  const opened: FileHandle[] = [];
  const source = await FileSource.open(original);
  opened.push(source.handle);
  try {
    const movie = await findMovieBox(source);
    const tracks = movie && movieTracks(movie.body);
    const pictures = tracks?.filter(({ handler }) => handler === 'vide') ?? [];
    const sounds = tracks?.filter(({ handler }) => handler === 'soun') ?? [];
    if (pictures.length !== 1 || sounds.length !== order.streams.length) return null;
    if (order.words.length !== sounds.length) return null;
    const streams = await streamsOf(order, opened);
    if (streams === null) return null;
    const places = sounds.flatMap(({ chunks }, i) => placesOf(chunks, streams[i]));
    const decodedFile = await open(pcm.path, 'r');
    opened.push(decodedFile);
    const [film, decoded] = [new NearReader(source.handle), new NearReader(decodedFile)];
    const wanted = streams.map(({ frameBytes }) => pcm.frames * frameBytes);
    const found = streams.map((stream) =>
      places.filter((place) => place.stream === stream).reduce((sum, { bytes }) => sum + bytes, 0),
    );
    if (found.some((bytes, i) => bytes !== wanted[i]) || overlap(places)) return null;
    if (!places.every((place) => holdsDecoded(film, place, pcm, decoded))) return null;
    await mkdir(dirname(target), { recursive: true });
    const pictureBefore = await hashOfChunks(film, pictures[0].chunks);
    onProgress?.({ stage: 'writing', share: 0 });
    const changes = taggedMovie(movie!, order.tags, source.size);
    await writeReplaced(original, places, pcm.words, changes, target);
    const size = Math.max(source.size, ...changes.map(({ offset, bytes }) => offset + bytes.length));
    const madeFile = await open(target, 'r');
    opened.push(madeFile);
    const made = new NearReader(madeFile);
    const checksums = await provenChecksums(film, made, size, places, pcm.words, changes, (share) =>
      onProgress?.({ stage: 'proving', share }),
    );
    const stamp = await stampOf(target);
    if (stamp.bytes !== size) streams[0].differing.add(OUTSIDE);
    // What is the same outside of the sound has the same picture.
    const pictureHash = isSameOutside(streams) ? pictureBefore : await hashOfChunks(made, pictures[0].chunks);
    return {
      proof: {
        pictureHash,
        sounds: streams.map(({ differing }) => ({ frames: pcm.frames, differingFrames: differing.size })),
      },
      pictureBefore,
      checksums: { ...checksums, ...stamp },
    };
  } finally {
    await Promise.all(opened.map((handle) => handle.close()));
  }
}

/** null where a stream's words are not those that were decoded, or others are to take their place. */
async function streamsOf(order: ReplaceOrder, opened: FileHandle[]): Promise<Stream[] | null> {
  const { streams, pcm } = order;
  const little = codecName(pcm.words);
  const wordBytes = bytesPerSample(pcm.words);
  const result: Stream[] = [];
  let pcmOffset = 0;
  for (const [i, { codec, channels }] of streams.entries()) {
    const isBigEndian = codec === little.replace(/le$/, 'be') && codec !== little;
    if (codec !== little && !isBigEndian) return null;
    const words = await wordsOf(order.words[i], channels, pcm, opened);
    if (words === null) return null;
    const frameBytes = channels * wordBytes;
    result.push({ words, frameBytes, pcmOffset, isBigEndian, differing: new Set() });
    pcmOffset += frameBytes;
  }
  return pcmOffset === pcm.channels * wordBytes ? result : null;
}

/** null where they are not as many, or as wide. */
async function wordsOf(
  wanted: string | number[],
  channels: number,
  pcm: PcmLocation,
  opened: FileHandle[],
): Promise<NearBytes | null> {
  const file = await FileSource.open(typeof wanted === 'string' ? wanted : pcm.path);
  opened.push(file.handle);
  if (typeof wanted !== 'string') return wanted.length === channels ? new MovedReader(file.handle, pcm, wanted) : null;
  const wav = await readWav(file, basename(wanted));
  const isSame =
    wav.channels === channels && wav.frames === pcm.frames && codecName(wav.format) === codecName(pcm.words);
  return isSame ? new NearReader(file.handle, wav.dataOffset) : null;
}

/** QuickTime says 1 for the bytes of a sample of plain words, however wide they are. */
function placesOf(chunks: MediaChunk[], stream: Stream): Place[] {
  let at = 0;
  return chunks.flatMap(({ offset, samples, bytes: said }) => {
    const bytes = said === samples ? samples * stream.frameBytes : said;
    const places: Place[] = [];
    for (let done = 0; done < bytes; done += PIECE_BYTES)
      places.push({ offset: offset + done, bytes: Math.min(PIECE_BYTES, bytes - done), stream, at: at + done });
    at += bytes;
    return places;
  });
}

function overlap(places: Place[]): boolean {
  const sorted = [...places].sort((a, b) => a.offset - b.offset);
  return sorted.some(({ offset }, i) => i > 0 && sorted[i - 1].offset + sorted[i - 1].bytes > offset);
}

function holdsDecoded(film: NearReader, place: Place, pcm: PcmLocation, decoded: NearReader): boolean {
  const { stream, at, bytes } = place;
  const wordBytes = bytesPerSample(pcm.words);
  const there = inOrder(film.read(place.offset, bytes), stream, wordBytes);
  const wholeFrame = pcm.channels * wordBytes;
  const firstFrame = Math.floor(at / stream.frameBytes);
  const frames = Math.ceil((at + bytes) / stream.frameBytes) - firstFrame;
  const all = decoded.read(pcm.offsetBytes + firstFrame * wholeFrame, frames * wholeFrame);
  if (all.length < frames * wholeFrame) return false;
  const own = stream.frameBytes === wholeFrame ? all : Buffer.alloc(frames * stream.frameBytes);
  if (own !== all)
    for (let i = 0; i < frames; i++) {
      const from = i * wholeFrame + stream.pcmOffset;
      all.copy(own, i * stream.frameBytes, from, from + stream.frameBytes);
    }
  const from = at - firstFrame * stream.frameBytes;
  return there.length === bytes && there.equals(own.subarray(from, from + bytes));
}

/** The words as they are to stand in the file. */
function newWords({ stream, at, bytes }: Place, words: SampleFormat): Buffer {
  return inOrder(stream.words.read(at, bytes), stream, bytesPerSample(words));
}

/** From the file's order of bytes to ours, or back. */
function inOrder(bytes: Buffer, { isBigEndian }: Stream, wordBytes: number): Buffer {
  if (!isBigEndian) return bytes;
  const turned = Buffer.from(bytes);
  for (let word = 0; word + wordBytes <= bytes.length; word += wordBytes)
    for (let i = 0; i < wordBytes; i++) turned[word + i] = bytes[word + wordBytes - 1 - i];
  return turned;
}

async function writeReplaced(
  original: string,
  places: Place[],
  words: SampleFormat,
  changes: Change[],
  target: string,
): Promise<void> {
  const file = await WholeFile.create(target);
  try {
    await file.copyFrom(original);
    for (const place of places) await file.write(newWords(place, words), place.offset);
    for (const { bytes, offset } of changes) await file.write(bytes, offset);
    await file.finish(true);
  } catch (error) {
    await file.discard();
    throw error;
  }
}

/** Reads the new file once, whole: sums over all of it, its sound against what was wanted, everything else against the original. */
async function provenChecksums(
  film: NearReader,
  made: NearReader,
  size: number,
  places: Place[],
  words: SampleFormat,
  changes: Change[],
  onShare: (share: number) => void,
): Promise<Pick<ManifestEntry, 'sha256' | 'xxh128'>> {
  const sha256 = createHash('sha256');
  const xxh128 = (await createXXHash128()).init();
  const sorted = [...places].sort((a, b) => a.offset - b.offset);
  let next = 0;
  for (let position = 0; position < size; position += PIECE_BYTES) {
    const length = Math.min(PIECE_BYTES, size - position);
    const bytes = made.read(position, length);
    sha256.update(bytes);
    xxh128.update(bytes);
    const old = film.read(position, length);
    // What is longer than the original ends with changes.
    const expected = old.length === length ? old : Buffer.concat([old], length);
    const end = position + length;
    while (next > 0 && sorted[next - 1].offset + sorted[next - 1].bytes > position) next--;
    for (; next < sorted.length && sorted[next].offset < end; next++)
      overlay(newWords(sorted[next], words), sorted[next].offset, expected, position);
    for (const { bytes: other, offset } of changes) overlay(other, offset, expected, position);
    onShare((position + length) / size);
    if (!bytes.equals(expected)) countDiffering(bytes, expected, position, sorted);
  }
  return { sha256: sha256.digest('hex'), xxh128: xxh128.digest('hex') };
}

/** Puts what of some bytes lies in a piece of the file into it. */
function overlay(bytes: Uint8Array, offset: number, piece: Buffer, position: number): void {
  const [from, to] = [Math.max(position, offset), Math.min(position + piece.length, offset + bytes.length)];
  if (from < to) piece.set(bytes.subarray(from - offset, to - offset), from - position);
}

async function stampOf(path: string): Promise<Pick<ManifestEntry, 'bytes' | 'modifiedAt'>> {
  const { size, mtime } = await stat(path);
  return { bytes: size, modifiedAt: mtime.toISOString() };
}

const OUTSIDE = -1;

function isSameOutside(streams: Stream[]): boolean {
  return !streams.some(({ differing }) => differing.has(OUTSIDE));
}

/** By frame of the stream that it lies in; outside of all sound nothing may differ. */
function countDiffering(bytes: Buffer, expected: Buffer, position: number, sorted: Place[]): void {
  for (let i = 0; i < expected.length; i++) {
    if (bytes[i] === expected[i]) continue;
    const place = sorted.find(({ offset, bytes: length }) => offset <= position + i && position + i < offset + length);
    if (!place) sorted[0].stream.differing.add(OUTSIDE);
    else place.stream.differing.add(Math.floor((place.at + position + i - place.offset) / place.stream.frameBytes));
  }
}

/** An XXH128 over media, one chunk after another. */
async function hashOfChunks(file: NearReader, chunks: MediaChunk[]): Promise<string> {
  const hash = (await createXXHash128()).init();
  for (const { offset, bytes } of chunks)
    for (let done = 0; done < bytes; done += PIECE_BYTES)
      hash.update(file.read(offset + done, Math.min(PIECE_BYTES, bytes - done)));
  return hash.digest('hex');
}
