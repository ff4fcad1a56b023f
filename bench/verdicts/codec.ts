import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Mono } from '@pocket-twin/core/synth/mono.ts';

const QUIET = ['-nostdin', '-hide_banner', '-loglevel', 'error'];
const CODECS = { mp3: ['libmp3lame', 'mp3'], aac: ['aac', 'adts'], opus: ['libopus', 'ogg'] } as const;
export type Codec = keyof typeof CODECS;

export function decodeMono(path: string, rate: number): Mono {
  const { stdout } = spawnSync('ffmpeg', [...QUIET, '-i', path, '-ac', '1', '-ar', String(rate), '-f', 'f64le', '-'], {
    maxBuffer: 1 << 28,
  });
  return new Float64Array(stdout.buffer.slice(stdout.byteOffset, stdout.byteOffset + stdout.length));
}

/** What is left of two sides after lossy coding. */
export function throughCodec([left, right]: [Mono, Mono], codec: Codec, kilobits: number, rate: number): [Mono, Mono] {
  const folder = mkdtempSync(join(tmpdir(), 'codec-'));
  try {
    const samples = new Float32Array(2 * left.length);
    left.forEach((x, i) => {
      samples[2 * i] = x;
      samples[2 * i + 1] = right[i];
    });
    const [encoder, container] = CODECS[codec];
    const file = join(folder, `coded.${container}`);
    const raw = ['-f', 'f32le', '-ar', String(rate), '-ac', '2'];
    spawnSync(
      'ffmpeg',
      [...QUIET.slice(1), ...raw, '-i', '-', '-c:a', encoder, '-b:a', `${kilobits}k`, '-f', container, file],
      { input: Buffer.from(samples.buffer), maxBuffer: 1 << 28 },
    );
    const { stdout } = spawnSync('ffmpeg', [...QUIET, '-i', file, ...raw, '-'], { maxBuffer: 1 << 28 });
    const decoded = new Float32Array(stdout.buffer.slice(stdout.byteOffset, stdout.byteOffset + stdout.length));
    const side = (lane: number): Mono => new Float64Array(decoded.length / 2).map((_, i) => decoded[2 * i + lane]);
    return [side(0), side(1)];
  } finally {
    rmSync(folder, { recursive: true });
  }
}

/** Band-limited, as a recorder set to that rate would have it. */
export function resampled(sides: Mono[], from: number, to: number): Mono[] {
  const raw = (rate: number): string[] => ['-f', 'f64le', '-ar', String(rate), '-ac', '1'];
  return sides.map((side) => {
    const input = Buffer.from(side.buffer, side.byteOffset, side.byteLength);
    const { stdout } = spawnSync('ffmpeg', [...QUIET.slice(1), ...raw(from), '-i', '-', ...raw(to), '-'], {
      input,
      maxBuffer: 1 << 29,
    });
    return new Float64Array(stdout.buffer.slice(stdout.byteOffset, stdout.byteOffset + stdout.length));
  });
}
