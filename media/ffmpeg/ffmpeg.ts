import { spawn, type ChildProcessByStdio } from 'node:child_process';
import { chown } from 'node:fs/promises';
import { basename } from 'node:path';
import type { Readable, Writable } from 'node:stream';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { DECODERS } from './codecs.ts';
import { confined, confinedOwner } from './confine.ts';
import { StallClock } from './stallClock.ts';

// The only file that starts a process. FFmpeg sees one local file through a forced demuxer, may open nothing else and no other decoders, without
// rights and within limits (confine.ts), and is stopped when it no longer moves.
const FFMPEG = '/usr/bin/ffmpeg';
const FFPROBE = '/usr/bin/ffprobe';
const STALL_SECONDS = 60;
const QUIET = ['-hide_banner', '-loglevel', 'repeat+error'];
const CONFINED = ['-protocol_whitelist', 'file,pipe'];
const LARGEST_ANSWER_BYTES = 64 * 1024 ** 2;

export interface CodedInput {
  path: string;
  demuxer: string;
}

export interface ProbedStream {
  codec: string;
  sampleRate: number;
  channels: number;
  layout: string | null;
  /** FFmpeg's name of the decoder's sample type: s16, s32p, fltp, ... */
  sampleType: string;
  /** Bits the codec says it carries; 0 where it has no depth. */
  bits: number;
  name: string | null;
}

/** What FFmpeg sees in a file. */
export interface Probed {
  audio: ProbedStream[];
  encrypted: boolean;
  hasPicture: boolean;
  /** Pictures a second as "25/1"; null where there is no picture. */
  pictureRate: string | null;
  /** What the container says; null where it does not. */
  durationSeconds: number | null;
  /** Of the container and its streams, lower case; the container's own win. */
  tags: Record<string, string>;
}

type Described = Record<string, unknown> & { tags?: Record<string, string>; disposition?: { attached_pic?: number } };

interface SeenPacket {
  side_data_list?: { side_data_type?: string }[];
}

const PACKETS_SEEN = 8;

export async function probeFile(input: CodedInput): Promise<Probed> {
  // A container may call an encrypted stream by the codec inside; then only its packets say so. Held to the list of decoders, the probe would not tell
  // of a file at all that has one stream of another kind.
  const run = new Run(
    FFPROBE,
    [
      ...QUIET,
      ...CONFINED,
      '-f',
      input.demuxer,
      '-of',
      'json',
      '-show_streams',
      '-show_format',
      '-show_packets',
      '-read_intervals',
      `%+#${PACKETS_SEEN}`,
      `file:${input.path}`,
    ],
    basename(input.path),
  );
  const pieces: Buffer[] = [];
  let bytes = 0;
  for await (const piece of run.pieces()) {
    bytes += piece.length;
    if (bytes > LARGEST_ANSWER_BYTES) break;
    pieces.push(piece);
  }
  if (bytes > LARGEST_ANSWER_BYTES) run.stop();
  else await run.complaint();
  return probedFrom(Buffer.concat(pieces).toString());
}

function probedFrom(answer: string): Probed {
  const { streams = [], format = {}, packets = [] } = parsed(answer);
  const encrypted = packets.some(({ side_data_list: extras = [] }) =>
    extras.some(({ side_data_type: type }) => type === 'Encryption info'),
  );
  const picture = streams.find((stream) => stream.codec_type === 'video' && stream.disposition?.attached_pic !== 1);
  const tags: Record<string, string> = {};
  for (const { tags: found = {} } of [...streams, format])
    for (const [key, value] of Object.entries(found)) tags[key.toLowerCase()] = value;
  const durationSeconds = Number(format.duration);
  return {
    audio: streams.filter((stream) => stream.codec_type === 'audio').map(probedStream),
    encrypted: encrypted || streams.some((stream) => ENCRYPTED_TAGS.includes(String(stream.codec_tag_string))),
    hasPicture: picture !== undefined,
    pictureRate: picture ? String(picture.r_frame_rate) : null,
    durationSeconds: durationSeconds > 0 ? durationSeconds : null,
    tags,
  };
}

/** A file that is too damaged to be told of is one without streams. */
function parsed(answer: string): { streams?: Described[]; format?: Described; packets?: SeenPacket[] } {
  try {
    return JSON.parse(answer || '{}') as ReturnType<typeof parsed>;
  } catch {
    return {};
  }
}

// A language tells two tracks apart only where it is one.
const NO_LANGUAGE = 'und';
// Names that muxers write by themselves.
const EMPTY_NAMES = /^(sound ?handler|.*media handler|core media audio)$/i;
const ENCRYPTED_TAGS = ['enca', 'drms'];

function probedStream({ tags = {}, ...stream }: Described): ProbedStream {
  const language = tags.language === NO_LANGUAGE ? undefined : tags.language;
  const name = tags.title ?? tags.handler_name?.trim();
  return {
    codec: String(stream.codec_name ?? 'unknown'),
    sampleRate: Number(stream.sample_rate ?? 0),
    channels: Number(stream.channels ?? 0),
    layout: stream.channel_layout ? String(stream.channel_layout) : null,
    sampleType: String(stream.sample_fmt),
    bits: Number(stream.bits_per_raw_sample ?? 0) || Number(stream.bits_per_sample ?? 0),
    name: name && !EMPTY_NAMES.test(name) ? name.slice(0, 200) : (language ?? null),
  };
}

/** Raw interleaved words of one audio stream: its number among them, the codec (pcm_s24le, ...), the rate to bring it to, and the most of it. */
export interface WantedWords {
  stream: number;
  codec: string;
  sampleRate: number;
  mostSeconds: number;
}

function wordsFrom({ stream, codec, sampleRate, mostSeconds }: WantedWords): string[] {
  return [
    '-map',
    `0:a:${stream}`,
    '-vn',
    '-sn',
    '-dn',
    '-t',
    String(mostSeconds),
    '-ar',
    String(sampleRate),
    '-c:a',
    codec,
    '-f',
    codec.replace('pcm_', ''),
  ];
}

function reading(input: CodedInput): string[] {
  return [
    '-nostdin',
    ...QUIET,
    ...CONFINED,
    '-codec_whitelist',
    DECODERS,
    '-f',
    input.demuxer,
    '-i',
    `file:${input.path}`,
  ];
}

/** Decodes one audio stream to a pipe. */
export function decodeToPipe(input: CodedInput, wanted: WantedWords): Run {
  return new Run(FFMPEG, [...reading(input), ...wordsFrom(wanted), 'pipe:1'], basename(input.path));
}

/**
 * Decodes several audio streams in one go, each to a file of its own in a folder that is given to FFmpeg: through pipes, one that lags far behind the
 * others would stop them all. What has been done goes to the pipe, so that a run that no longer moves is noticed: read it to its end.
 */
export async function decodeToFiles(
  input: CodedInput,
  folder: string,
  wanted: (WantedWords & { path: string })[],
): Promise<Run> {
  const owner = confinedOwner();
  if (owner !== null) await chown(folder, owner, owner);
  return new Run(
    FFMPEG,
    [
      ...reading(input),
      '-progress',
      'pipe:1',
      '-y',
      ...wanted.flatMap((one) => [...wordsFrom(one), `file:${one.path}`]),
    ],
    basename(input.path),
  );
}

const STILL_WIDTH = 320;

/** One frame of a file's picture as a JPEG; null where it has none that can be shown. */
export async function readStill(input: CodedInput, atSeconds: number): Promise<Buffer | null> {
  const run = new Run(
    FFMPEG,
    [
      '-nostdin',
      ...QUIET,
      ...CONFINED,
      '-codec_whitelist',
      DECODERS,
      '-f',
      input.demuxer,
      '-ss',
      atSeconds.toFixed(3),
      '-i',
      `file:${input.path}`,
      '-map',
      '0:v:0',
      '-frames:v',
      '1',
      '-vf',
      `scale='min(${STILL_WIDTH},iw)':-2`,
      '-c:v',
      'mjpeg',
      '-f',
      'image2pipe',
      'pipe:1',
    ],
    basename(input.path),
  );
  const pieces: Buffer[] = [];
  for await (const piece of run.pieces()) pieces.push(piece);
  await run.complaint();
  return pieces.length > 0 ? Buffer.concat(pieces) : null;
}

// A file can bring a decoder down; anything else that ends it comes from outside, and the same may go well the next time.
const OWN_FAULTS: (NodeJS.Signals | null)[] = ['SIGSEGV', 'SIGABRT', 'SIGBUS', 'SIGFPE', 'SIGILL', 'SIGSYS'];

// FFmpeg's own status when a signal asked it to end.
const TOLD_TO_END = 255;

/** FFmpeg at work: read its `pieces` to their end, then ask for its `complaint`. */
export class Run {
  private readonly child: ChildProcessByStdio<null, Readable, Readable>;
  private errors = '';
  private readonly ended: Promise<{ code: number | null; signal: NodeJS.Signals | null }>;
  private readonly clock = new StallClock(STALL_SECONDS, () => this.child.kill('SIGKILL'));
  private stopped = false;

  /** @param name how the recording is called in sentences for people */
  constructor(
    program: string,
    args: string[],
    private readonly name: string,
  ) {
    const { command, args: all } = confined(program, args);
    this.child = spawn(command, all, { stdio: ['ignore', 'pipe', 'pipe'], env: {}, cwd: '/' });
    this.child.stdout.pause();
    this.child.stderr.on('data', (bytes: Buffer) => {
      this.errors = (this.errors + bytes.toString()).slice(0, 8000);
    });
    this.ended = new Promise((resolve, reject) => {
      this.child.on('error', reject);
      this.child.on('close', (code, signal) => resolve({ code, signal }));
    });
    this.ended.catch(() => undefined).finally(() => this.clock.rest());
  }

  /** What it puts out. The clock that tells whether it still moves runs only while somebody waits for more. */
  async *pieces(): AsyncGenerator<Buffer> {
    try {
      this.clock.run();
      for await (const piece of this.child.stdout as AsyncIterable<Buffer>) {
        this.clock.rest();
        yield piece;
        this.clock.run();
      }
    } finally {
      // Read to its end after the program was gone, it would go on by itself and keep the process alive.
      this.clock.rest();
    }
  }

  /**
   * What FFmpeg said of damage, or null where all went well.
   * @throws Refusal where it was not the recording's fault: there is no room, something stopped it, it is missing
   */
  async complaint(): Promise<string | null> {
    const { code, signal } = await this.ended.catch(() => ({ code: 127, signal: null }));
    const errors = this.errors
      .split('\n')
      .filter((line) => !/not on whitelist/.test(line))
      .join('\n')
      .trim();
    if (this.clock.hasStalled)
      throw new Refusal(
        'interrupted',
        `${this.name} did not move for a minute while it was read. Try again; if it stays like that, export it anew.`,
      );
    if (/No space left on device|Disk quota exceeded/.test(errors))
      throw new Refusal(
        'no-room',
        `There is no room on the disk to read ${this.name}. Free some and measure it again.`,
      );
    if (/File too large/.test(errors) || signal === 'SIGXFSZ')
      throw new Refusal('too-large', `${this.name} unfolds to more than can be read. Split it where it was recorded.`);
    if (code === 127 || /failed to execute/.test(errors))
      throw new Refusal('not-allowed', 'FFmpeg is missing on this machine. Install Debian’s package ffmpeg.');
    const wasTold = code === TOLD_TO_END || (signal !== null && !OWN_FAULTS.includes(signal));
    if (wasTold && !this.stopped)
      throw new Refusal('interrupted', `Reading ${this.name} was stopped from outside. Try again.`);
    return code === 0 && errors === '' ? null : errors || `stopped (${signal ?? code})`;
  }

  stop(): void {
    this.stopped = true;
    this.child.kill('SIGKILL');
  }
}

/** Runs FFmpeg as an encoder that is fed through its standard input, on files of our own. */
export function runEncoder(args: string[]): { input: Writable; finished: Promise<void> } {
  const child = spawn(FFMPEG, [...QUIET, ...CONFINED, ...args], { stdio: ['pipe', 'ignore', 'pipe'], env: {} });
  let errors = '';
  child.stderr.on('data', (bytes: Buffer) => {
    errors += bytes.toString();
  });
  const finished = new Promise<void>((resolve, reject) => {
    child.on('error', reject);
    child.on('close', (code, signal) => {
      if (code === 0) resolve();
      else if (/No space left on device|Disk quota exceeded/.test(errors))
        reject(new Refusal('no-room', 'There is no room on the disk. Free some and write it again.'));
      else reject(new Error(`FFmpeg stopped (${signal ?? code}): ${errors.slice(0, 500)}`));
    });
  });
  // The pipe breaks when FFmpeg ends early; why is what `finished` says.
  child.stdin.on('error', () => undefined);
  return { input: child.stdin, finished };
}
