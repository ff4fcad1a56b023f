import { spawn } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { createInterface } from 'node:readline';
import { recordedVoices } from './verdicts/recordedVoices.ts';
import type { PairReport, Section } from '@pocket-twin/core/schema/inspection.ts';

// Generated clips with known faults, against the verdicts on them: npm run bench -- verdicts [COUNT] [SEED ...] [--only MAKER | --only first] [--longer TIMES] [--looped SECONDS] [--recorded]
const LEAST_RIGHT = 0.96;
const LEAST_OF_A_FAMILY = 0.9;
const CLIPS_OF_A_FAMILY = 30;
const MOST_PAIRS_CALLED_MICROPHONES = 0.01;
const MOST_OFF_CONFIDENCE = 0.05;
const CLIPS_OF_A_BAND = 30;
const BOUNDARY_SECONDS = 0.2;

export interface Judged {
  seed: number;
  number: number;
  /** What made it. */
  family: string;
  what: string;
  truth: string;
  truthSide: string | null;
  /** The finding that was to be made and was not. */
  missed: string | null;
  found: string;
  side: string | null;
  confidence: number;
  action: string;
  danger: string | null;
  disguise: { gainDb: number; delaySamples: number; polarity: number; filtered: boolean } | null;
  pair: PairReport;
  boundariesSeconds: number[];
  sections: Section[];
  milliseconds: number;
}

const words = process.argv.slice(2);
const option = (name: string): string | null => (words.includes(name) ? words.splice(words.indexOf(name), 2)[1] : null);
const only = option('--only');
const longer = option('--longer') ?? '1';
// Whole turns, until it is at least so long.
const looped = option('--looped') ?? '0';
const isRecorded = words.includes('--recorded');
const voices = isRecorded ? { BENCH_VOICES: recordedVoices() } : {};
const numbers = words.filter((word) => /^\d+$/.test(word)).map(Number);
const [count = 60, ...seeds] = numbers;
const judged: Judged[] = [];
for (const seed of seeds.length > 0 ? seeds : [1, 2, 3]) judged.push(...(await judge(seed)));
report(judged);

async function judge(seed: number): Promise<Judged[]> {
  const workers = availableParallelism();
  const shares = Array.from({ length: workers }, async (_, w) => {
    const more = only ? [only] : [];
    const child = spawn(
      process.execPath,
      [
        '--import',
        'tsx',
        'bench/verdicts/judge.ts',
        String(seed),
        String(w),
        String(workers),
        String(count),
        longer,
        looped,
        ...more,
      ],
      { stdio: ['ignore', 'pipe', 'inherit'], env: { ...process.env, ...voices } },
    );
    const found: Judged[] = [];
    for await (const line of createInterface({ input: child.stdout })) found.push(JSON.parse(line) as Judged);
    return found;
  });
  return (await Promise.all(shares)).flat();
}

function report(all: Judged[]): void {
  const right = all.filter(isRight);
  const dangerous = all.filter(({ danger }) => danger !== null);
  for (const one of all) {
    if (!isRight(one) || one.danger || boundaryErrors(one).some((error) => error > BOUNDARY_SECONDS)) {
      const { pair } = one;
      const say = (value: number | null): string => (value === null ? '-' : value.toFixed(1));
      console.log(
        `  seed ${one.seed} clip ${one.number}: ${one.what}: called ${one.found}${one.side ? ` (${one.side})` : ''} at ${one.confidence}, null ${say(pair.nullDepthDb)}, matched ${say(pair.matchedNullDepthDb)}, delay ${say(pair.delaySamples)}, suggests ${one.action}${one.missed ? `, misses ${one.missed}` : ''}${one.danger ? `: DANGER, ${one.danger}` : ''}${one.boundariesSeconds.length > 0 ? `, true boundaries ${one.boundariesSeconds.map((seconds) => seconds.toFixed(2)).join(', ')}: ${one.sections.map((s) => `${s.verdict} to ${s.endSeconds.toFixed(1)}`).join(', ')}` : ''}`,
      );
    }
  }
  console.log(
    `\n${all.length} clips, ${((100 * right.length) / all.length).toFixed(1)} % right, ${dangerous.length} dangerous suggestions (bars: ${100 * LEAST_RIGHT} %, 0)`,
  );
  printConfusion(all);
  const isEven = [printFamilies(all), printPairs(all), printCalibration(all)].every(Boolean);
  printErrors(all);
  printMiddles(all);
  if (right.length < LEAST_RIGHT * all.length || dangerous.length > 0 || !isEven) process.exitCode = 1;
}

function isRight({ truth, found, truthSide, side, missed }: Judged): boolean {
  return truth === found && missed === null && (truthSide === null || truthSide === side);
}

/** How far from each true boundary the nearest one found is; none where no change was found. */
function boundaryErrors({ boundariesSeconds, found, sections }: Judged): number[] {
  if (found !== 'changing') return [];
  return boundariesSeconds.map((boundary) =>
    Math.min(...sections.slice(1).map(({ startSeconds }) => Math.abs(startSeconds - boundary))),
  );
}

function printConfusion(all: Judged[]): void {
  const verdicts = ['silent', 'one-sided', 'dual-mono', 'fake-stereo', 'two-mics', 'stereo', 'changing'];
  console.log(`\n${'truth'.padEnd(12)}${verdicts.map((verdict) => verdict.padStart(12)).join('')}       right`);
  for (const truth of verdicts) {
    const row = all.filter((one) => one.truth === truth);
    if (row.length === 0) continue;
    const cells = verdicts
      .map((verdict) => String(row.filter(({ found }) => found === verdict).length).padStart(12))
      .join('');
    console.log(
      `${truth.padEnd(12)}${cells}${((100 * row.filter(isRight).length) / row.length).toFixed(1).padStart(10)} %`,
    );
  }
}

/** @returns whether none of those with clips enough is under its bar */
function printFamilies(all: Judged[]): boolean {
  console.log(
    `\n${'family'.padEnd(20)}clips   right   (bar ${100 * LEAST_OF_A_FAMILY} % from ${CLIPS_OF_A_FAMILY} clips on)`,
  );
  const shares = [...new Set(all.map(({ family }) => family))].sort().map((family) => {
    const clips = all.filter((one) => one.family === family);
    const share = clips.filter(isRight).length / clips.length;
    console.log(`${family.padEnd(20)}${String(clips.length).padStart(5)}${(100 * share).toFixed(1).padStart(8)} %`);
    return clips.length < CLIPS_OF_A_FAMILY || share >= LEAST_OF_A_FAMILY;
  });
  return shares.every(Boolean);
}

function printPairs(all: Judged[]): boolean {
  const pairs = all.filter(({ truth }) => truth === 'stereo');
  const called = pairs.filter(({ found }) => found === 'two-mics').length;
  console.log(
    `\nstereo called two microphones: ${called} of ${pairs.length} (bar ${100 * MOST_PAIRS_CALLED_MICROPHONES} %)`,
  );
  return called <= MOST_PAIRS_CALLED_MICROPHONES * pairs.length;
}

/** A pair that may be middle and side is looked at by a person: not too often for nothing. */
function printMiddles(all: Judged[]): void {
  const seen = all.filter(
    ({ family, found, pair }) => !family.startsWith('midAndSide') && found === 'stereo' && pair.middle,
  );
  console.log(`middle and side seen in what has none: ${seen.length}${seen.map(({ what }) => `, ${what}`).join('')}`);
}

function printCalibration(all: Judged[]): boolean {
  console.log(
    `\nconfidence      clips   right    said   (bar ${100 * MOST_OFF_CONFIDENCE} points from ${CLIPS_OF_A_BAND} clips on)`,
  );
  const bands: [number, number][] = [
    [0.5, 0.6],
    [0.6, 0.75],
    [0.75, 0.85],
    [0.85, 0.95],
    [0.95, 1],
  ];
  const holds = bands.map(([low, high]) => {
    const band = all.filter(({ confidence }) => confidence >= low && (confidence < high || high === 1));
    if (band.length === 0) return true;
    const share = band.filter(isRight).length / band.length;
    const said = band.reduce((sum, { confidence }) => sum + confidence, 0) / band.length;
    console.log(
      `${low.toFixed(2)} to ${high.toFixed(2)}${String(band.length).padStart(8)}${(100 * share).toFixed(1).padStart(8)} %${(100 * said).toFixed(1).padStart(7)} %`,
    );
    return band.length < CLIPS_OF_A_BAND || Math.abs(share - said) <= MOST_OFF_CONFIDENCE;
  });
  return holds.every(Boolean);
}

function printErrors(all: Judged[]): void {
  const known = all.filter(({ disguise, found }) => disguise && !disguise.filtered && found === 'fake-stereo');
  const largest = (errors: number[]): string => {
    const sorted = errors.map(Math.abs).sort((a, b) => a - b);
    return sorted.length === 0
      ? '-'
      : `median ${sorted[sorted.length >> 1].toFixed(3)}, largest ${sorted.at(-1)!.toFixed(3)}`;
  };
  console.log(
    `\ndelay, samples: ${largest(known.map(({ disguise, pair }) => pair.delaySamples - disguise!.delaySamples))}`,
  );
  console.log(`gain, dB:       ${largest(known.map(({ disguise, pair }) => pair.gainDb! - disguise!.gainDb))}`);
  console.log(
    `polarity wrong: ${known.filter(({ disguise, pair }) => (pair.polarity === 'inverted') !== disguise!.polarity < 0).length} of ${known.length}`,
  );
  const off = all.flatMap(boundaryErrors);
  console.log(
    `boundary, s:    ${largest(off)}; ${off.filter((error) => error <= BOUNDARY_SECONDS).length} of ${off.length} within ${BOUNDARY_SECONDS} s`,
  );
  const times = all.map(({ milliseconds }) => milliseconds).sort((a, b) => a - b);
  console.log(`inspecting:     median ${times[times.length >> 1].toFixed(0)} ms a clip`);
}
