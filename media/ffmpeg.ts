import { spawn, type ChildProcessByStdio } from 'node:child_process';
import { stat } from 'node:fs/promises';
import type { Readable, Writable } from 'node:stream';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';

// The only file that starts a process. FFmpeg sees one local file through a forced demuxer and
// may open nothing else; its memory is capped and it is stopped when it no longer moves.
const MEMORY_BYTES = 4 * 1024 ** 3;
const STALL_MS = 60_000;
const QUIET = ['-hide_banner', '-loglevel', 'error'];
const CONFINED = ['-protocol_whitelist', 'file,pipe'];

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
  /** Of the container and its streams, lower case; the container's own win. */
  tags: Record<string, string>;
}

type Described = Record<string, unknown> & { tags?: Record<string, string>; disposition?: { attached_pic?: number } };

interface SeenPacket {
  side_data_list?: { side_data_type?: string }[];
}

const PACKETS_SEEN = 8;

export async function probeFile(input: CodedInput): Promise<Probed> {
  // A container may call an encrypted stream by the codec inside; then only its packets say so.
  const args = [
    ...QUIET, ...CONFINED, '-f', input.demuxer, '-of', 'json', '-show_streams', '-show_format',
    '-show_packets', '-read_intervals', `%+#${PACKETS_SEEN}`, `file:${input.path}`,
  ];
  const { stdout } = await collect('ffprobe', args);
  const { streams = [], format = {}, packets = [] } = JSON.parse(stdout || '{}') as { streams?: Described[]; format?: Described; packets?: SeenPacket[] };
  const encrypted = packets.some(({ side_data_list: extras = [] }) => extras.some(({ side_data_type: type }) => type === 'Encryption info'));
  const picture = streams.find((stream) => stream.codec_type === 'video' && stream.disposition?.attached_pic !== 1);
  const tags: Record<string, string> = {};
  for (const { tags: found = {} } of [...streams, format]) for (const [key, value] of Object.entries(found)) tags[key.toLowerCase()] = value;
  return {
    audio: streams.filter((stream) => stream.codec_type === 'audio').map(probedStream),
    encrypted: encrypted || streams.some((stream) => ENCRYPTED_TAGS.includes(String(stream.codec_tag_string))),
    hasPicture: picture !== undefined,
    pictureRate: picture ? String(picture.r_frame_rate) : null,
    tags,
  };
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
    name: name && !EMPTY_NAMES.test(name) ? name.slice(0, 200) : language ?? null,
  };
}

/** Raw interleaved words of one audio stream: its number among them, the codec (pcm_s24le, ...), and the rate to bring it to. */
export interface WantedWords {
  stream: number;
  codec: string;
  sampleRate: number;
}

function wordsFrom({ stream, codec, sampleRate }: WantedWords): string[] {
  return ['-map', `0:a:${stream}`, '-vn', '-sn', '-dn', '-ar', String(sampleRate), '-c:a', codec, '-f', codec.replace('pcm_', '')];
}

function reading(input: CodedInput): string[] {
  return ['-nostdin', ...QUIET, ...CONFINED, '-f', input.demuxer, '-i', `file:${input.path}`];
}

/** Decodes one audio stream to a pipe. */
export function decodeToPipe(input: CodedInput, wanted: WantedWords): DecodeRun {
  return new DecodeRun([...reading(input), ...wordsFrom(wanted), 'pipe:1']);
}

/**
 * Decodes several audio streams in one go, each to a file of its own: through pipes, one that lags far behind the others would
 * stop them all. @returns what FFmpeg said of damage, or null
 */
export async function decodeToFiles(input: CodedInput, wanted: (WantedWords & { path: string })[]): Promise<string | null> {
  // What has been done goes to the pipe, so that a run that no longer moves is noticed.
  const run = new DecodeRun([...reading(input), '-progress', 'pipe:1', '-y', ...wanted.flatMap((one) => [...wordsFrom(one), `file:${one.path}`])]);
  run.output.resume();
  return run.complaint();
}

const STILL_WIDTH = 320;

/** One frame of a file's picture as a JPEG. @returns whether there is one now */
export async function writeStill(input: CodedInput, atSeconds: number, path: string): Promise<boolean> {
  const run = new DecodeRun([
    '-nostdin', ...QUIET, ...CONFINED, '-f', input.demuxer, '-ss', atSeconds.toFixed(3), '-i', `file:${input.path}`, '-map', '0:v:0',
    '-frames:v', '1', '-vf', `scale='min(${STILL_WIDTH},iw)':-2`, '-c:v', 'mjpeg', '-f', 'image2', '-update', '1', '-y', `file:${path}`,
  ]);
  run.output.resume();
  await run.complaint();
  return stat(path).then(({ size }) => size > 0, () => false);
}

/** A running decoder: read `output` to its end, then ask for `complaint`. */
export class DecodeRun {
  private readonly child: ChildProcessByStdio<null, Readable, Readable>;
  private errors = '';
  private readonly ended: Promise<number | null>;
  private stall: NodeJS.Timeout;

  constructor(args: string[]) {
    this.child = start('ffmpeg', args);
    this.stall = setTimeout(() => this.stop(), STALL_MS);
    this.child.stdout.on('data', () => this.stall.refresh());
    this.child.stdout.pause();
    this.child.stderr.on('data', (bytes: Buffer) => { this.errors = (this.errors + bytes.toString()).slice(0, 4000); });
    this.ended = new Promise((resolve, reject) => {
      this.child.on('error', reject);
      this.child.on('close', (code) => resolve(code));
    });
    this.ended.catch(() => undefined).finally(() => clearTimeout(this.stall));
  }

  get output(): Readable {
    return this.child.stdout;
  }

  /** What FFmpeg said of damage, or null where all went well. */
  async complaint(): Promise<string | null> {
    const code = await this.ended;
    return code === 0 && this.errors === '' ? null : this.errors || `stopped (${code})`;
  }

  stop(): void {
    this.child.kill('SIGKILL');
  }
}

function start(command: string, args: string[]): ChildProcessByStdio<null, Readable, Readable> {
  return spawn('prlimit', [`--as=${MEMORY_BYTES}`, command, ...args], { stdio: ['ignore', 'pipe', 'pipe'] });
}

async function collect(command: string, args: string[]): Promise<{ stdout: string }> {
  const child = start(command, args);
  const timer = setTimeout(() => child.kill('SIGKILL'), STALL_MS);
  let stdout = '';
  child.stdout.on('data', (bytes: Buffer) => { stdout += bytes.toString(); });
  child.stderr.resume();
  try {
    await new Promise<void>((resolve, reject) => {
      child.on('error', () => reject(new Refusal('not-allowed', 'FFmpeg is missing on this machine. Install Debian’s package ffmpeg.')));
      child.on('close', () => resolve());
    });
  } finally {
    clearTimeout(timer);
  }
  return { stdout };
}

/** Runs FFmpeg as an encoder that is fed through its standard input. */
export function runEncoder(args: string[]): { input: Writable; finished: Promise<void> } {
  const child = spawn('ffmpeg', [...QUIET, ...CONFINED, ...args], { stdio: ['pipe', 'ignore', 'pipe'] });
  let errors = '';
  child.stderr.on('data', (bytes: Buffer) => { errors += bytes.toString(); });
  const finished = new Promise<void>((resolve, reject) => {
    child.on('error', reject);
    child.on('close', (code) => (code === 0 ? resolve() : reject(new Error(`FFmpeg stopped (${code}): ${errors.slice(0, 500)}`))));
  });
  return { input: child.stdin, finished };
}
