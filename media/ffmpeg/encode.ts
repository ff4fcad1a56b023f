import { spawn } from 'node:child_process';
import type { Writable } from 'node:stream';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { CONFINED, FFMPEG, QUIET } from './coded.ts';

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
