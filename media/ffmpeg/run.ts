import { spawn, type ChildProcessByStdio } from 'node:child_process';
import type { Readable } from 'node:stream';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { confined } from './confine.ts';
import { StallClock } from './stallClock.ts';

const STALL_SECONDS = 60;

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

  /**
   * @param name how the recording is called in sentences for people
   * @param outlets how many more it puts out besides `pieces`: `pipe:3`, `pipe:4`, ...
   */
  constructor(
    program: string,
    args: string[],
    private readonly name: string,
    outlets = 0,
  ) {
    const { command, args: all } = confined(program, args);
    const stdio: ('ignore' | 'pipe')[] = ['ignore', 'pipe', 'pipe', ...Array<'pipe'>(outlets).fill('pipe')];
    this.child = spawn(command, all, { stdio, env: {}, cwd: '/' }) as ChildProcessByStdio<null, Readable, Readable>;
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

  /** All that it puts out, as a text; null where that is more than wanted: it is stopped then. @throws as `complaint` */
  async text(mostBytes: number): Promise<string | null> {
    const pieces: Buffer[] = [];
    let bytes = 0;
    for await (const piece of this.pieces()) {
      bytes += piece.length;
      if (bytes > mostBytes) {
        this.stop();
        return null;
      }
      pieces.push(piece);
    }
    // Damage in a file's sound says nothing of what it says of itself.
    await this.complaint();
    return Buffer.concat(pieces).toString();
  }

  /** What comes out of `pipe:3` and on; to be read as it comes, or the others wait for it. @param index from 0 */
  outlet(index: number): Readable {
    return this.child.stdio[3 + index] as unknown as Readable;
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
