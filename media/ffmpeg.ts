import { spawn, type ChildProcessByStdio } from 'node:child_process';
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

export interface StreamFacts {
  codec: string;
  sampleRate: number;
  channels: number;
  /** FFmpeg's name of the decoder's sample type: s16, s32p, fltp, ... */
  sampleType: string;
  /** Bits the codec says it carries; 0 where it has no depth. */
  bits: number;
  hasVideo: boolean;
}

/** What the first audio stream is. null where there is none. */
export async function probeStreams(input: CodedInput): Promise<StreamFacts | null> {
  const args = [...QUIET, ...CONFINED, '-f', input.demuxer, '-of', 'json', '-show_streams', `file:${input.path}`];
  const { stdout } = await collect('ffprobe', args);
  const streams = (JSON.parse(stdout || '{}') as { streams?: Record<string, unknown>[] }).streams ?? [];
  const audio = streams.find((stream) => stream.codec_type === 'audio');
  if (!audio) return null;
  const isPicture = (stream: Record<string, unknown>): boolean => (
    stream.codec_type === 'video' && (stream.disposition as { attached_pic?: number } | undefined)?.attached_pic !== 1
  );
  return {
    codec: String(audio.codec_name),
    sampleRate: Number(audio.sample_rate),
    channels: Number(audio.channels),
    sampleType: String(audio.sample_fmt),
    bits: Number(audio.bits_per_raw_sample ?? 0) || Number(audio.bits_per_sample ?? 0),
    hasVideo: streams.some(isPicture),
  };
}

/** Decodes the first audio stream to raw interleaved words of the given codec (pcm_s24le, ...). */
export function decodeToWords(input: CodedInput, codec: string): DecodeRun {
  return new DecodeRun([
    '-nostdin', ...QUIET, ...CONFINED, '-f', input.demuxer, '-i', `file:${input.path}`,
    '-map', '0:a:0', '-vn', '-sn', '-dn', '-c:a', codec, '-f', codec.replace('pcm_', ''), 'pipe:1',
  ]);
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
