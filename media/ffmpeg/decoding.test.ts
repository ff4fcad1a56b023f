import { execFileSync, spawnSync } from 'node:child_process';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { jest } from '@jest/globals';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { confined } from './confine.ts';
import { decodeToPipe } from './decode.ts';
import { inspectFile } from '../read/inspectFile.ts';
import { StallClock } from './stallClock.ts';
import { scratchFolder, writeTestWav } from '../test/files.ts';

// FFmpeg at work: what stops it from outside is no damage, and what it may not do it cannot.

const make = (...args: string[]): void => {
  execFileSync('ffmpeg', ['-nostdin', '-loglevel', 'error', '-y', ...args]);
};

async function flac(seconds = 3): Promise<string> {
  const folder = await scratchFolder();
  const wav = await writeTestWav(join(folder, 'in.wav'), [chatter(0.1, seconds, 1), noise(0.001, seconds, 2)]);
  make('-i', wav, join(folder, 'take.flac'));
  return join(folder, 'take.flac');
}

test.each(['SIGKILL', 'SIGTERM'] as const)(
  'a decoder that is ended by %s is no damage: the same may go well the next time',
  async (signal) => {
    const path = await flac(60);
    const run = decodeToPipe(
      { path, demuxer: 'flac' },
      { stream: 0, codec: 'pcm_s24le', sampleRate: 48000, mostSeconds: 100 },
    );
    const reading = (async () => {
      let first = true;
      for await (const piece of run.pieces()) {
        if (first && piece.length > 0) execFileSync('pkill', [`-${signal}`, '-f', path]);
        first = false;
      }
      return run.complaint();
    })();
    await expect(reading).rejects.toThrow('Reading take.flac was stopped from outside. Try again.');
  },
);

test('the clock of a decoder stands still while nobody waits, counts what it lives through and not the time, and stops what does not move', () => {
  jest.useFakeTimers();
  try {
    let stalls = 0;
    const clock = new StallClock(60, () => {
      stalls++;
    });
    clock.run();
    jest.advanceTimersByTime(59_000);
    clock.rest();
    // A reader who is busy for an hour.
    jest.advanceTimersByTime(3_600_000);
    clock.run();
    jest.advanceTimersByTime(59_000);
    expect([stalls, clock.hasStalled]).toEqual([0, false]);
    // The machine slept: time has passed, nothing was lived through.
    jest.setSystemTime(Date.now() + 3_600_000);
    expect(stalls).toBe(0);
    jest.advanceTimersByTime(1000);
    expect([stalls, clock.hasStalled]).toEqual([1, true]);
    jest.advanceTimersByTime(120_000);
    expect(stalls).toBe(1);
  } finally {
    jest.useRealTimers();
  }
});

test('what was read to its end keeps nobody alive: a command in the terminal ends when it is done', async () => {
  // Short enough to lie in the pipe whole; FFmpeg is gone before more is taken.
  const path = await flac(0.2);
  const program = `
    import { existsSync, readdirSync, readFileSync } from 'node:fs';
    import { decodeToPipe } from ${JSON.stringify(new URL('decode.ts', import.meta.url).href)};
    const isThere = (pid) => existsSync('/proc/' + pid) && readFileSync('/proc/' + pid + '/comm', 'utf8').trim() === 'ffmpeg';
    const children = () => readdirSync('/proc/self/task').flatMap((id) => readFileSync('/proc/self/task/' + id + '/children', 'utf8').split(' ').filter(Boolean));
    const run = decodeToPipe({ path: ${JSON.stringify(path)}, demuxer: 'flac' }, { stream: 0, codec: 'pcm_s24le', sampleRate: 48000, mostSeconds: 100 });
    let length = 0;
    for await (const piece of run.pieces()) {
      while (children().some(isThere)) await new Promise(setImmediate);
      length += piece.length;
    }
    console.log(length, await run.complaint());`;
  // The clock that tells whether FFmpeg still moves would hold it for a minute.
  const { stdout, signal } = spawnSync(process.execPath, ['--import', 'tsx', '--input-type=module', '-e', program], {
    encoding: 'utf8',
    timeout: 45_000,
  });
  expect([stdout.trim(), signal]).toEqual([`${0.2 * 48000 * 2 * 3} null`, null]);
});

test('a confined program has no rights, no environment and no way to more', () => {
  const look = (script: string): string => {
    const { command, args } = confined('/bin/sh', ['-c', script]);
    return spawnSync(command, args, { encoding: 'utf8', env: {} }).stdout;
  };
  const status = look('cat /proc/self/status');
  expect(status).toMatch(/NoNewPrivs:\s+1/);
  // Reading is all that root's own is left with.
  expect(status).toMatch(/CapEff:\s+000000000000000[04]\n/);
  expect(status).toMatch(/CapBnd:\s+000000000000000[04]\n|CapBnd:\s+[0-9a-f]+\n/);
  expect(look('env | grep -v ^PWD= | grep -v ^_= | grep -v ^SHLVL= | grep -v ^OLDPWD=').trim()).toBe('');
  if (process.getuid!() !== 0) return;
  expect(status).toMatch(/Uid:\s+65534\s|CapEff:\s+0000000000000000\n/);
  expect(look('touch /etc/pocket-twin-was-here 2>/dev/null && echo written').trim()).toBe('');
});

test('every stream’s own rate counts: one that no recorder has is refused, though another is right', async () => {
  const folder = await scratchFolder();
  const wav = await writeTestWav(join(folder, 'in.wav'), [chatter(0.1, 2, 1)]);
  const path = join(folder, 'bomb.mkv');
  make(
    '-i',
    wav,
    '-f',
    'lavfi',
    '-t',
    '2',
    '-i',
    'sine=sample_rate=10',
    '-map',
    '0:a',
    '-map',
    '1:a',
    '-c:a',
    'pcm_s16le',
    path,
  );
  await expect(inspectFile(path)).rejects.toThrow(
    'bomb.mkv has a sample rate of 0.01 kHz; 8 to 192 kHz can be read. Export it at 48 kHz.',
  );
});

test('what a head says of its length makes nobody refuse a file that is short, nor believe it', async () => {
  const path = await flac();
  const { readFile } = await import('node:fs/promises');
  const bytes = await readFile(path);
  // STREAMINFO's 36 bits of samples: days of them.
  bytes[21] |= 0x0f;
  bytes.fill(0xff, 22, 26);
  await writeFile(path, bytes);
  const { inspection } = await inspectFile(path);
  expect(inspection.format.durationSeconds).toBeCloseTo(3, 1);
});

test('sound of a kind that is not on the list is refused by its name, whatever FFmpeg could make of it', async () => {
  const folder = await scratchFolder();
  const wav = await writeTestWav(join(folder, 'in.wav'), [chatter(0.1, 1, 1)]);
  const path = join(folder, 'odd.avi');
  make('-i', wav, '-c:a', 'adpcm_yamaha', path);
  // A picture of another kind keeps nobody from the sound.
  make(
    '-f',
    'lavfi',
    '-i',
    'testsrc=duration=1:size=64x36',
    '-i',
    wav,
    '-c:v',
    'cinepak',
    '-c:a',
    'pcm_s16le',
    join(folder, 'old.mov'),
  );
  expect((await inspectFile(join(folder, 'old.mov'))).inspection.format).toMatchObject({
    hasVideo: true,
    durationSeconds: 1,
    warning: null,
  });
  await expect(inspectFile(path)).rejects.toThrow(
    'odd.avi holds sound of a kind (adpcm_yamaha) that is not read here. Export it as WAV.',
  );
});
