import { TalkMeter } from '@pocket-twin/core/measure/stream/talkMeter.ts';
import { INTERLEAVED, interleave } from '@pocket-twin/core/pcm/interleave.ts';
import { proposeTurns } from '@pocket-twin/core/repair/propose/turns.ts';
import { Chance } from '@pocket-twin/core/synth/chance.ts';
import { RATE, type Mono } from '@pocket-twin/core/synth/mono.ts';
import { talkOf, type MadeTurn } from '@pocket-twin/core/synth/talk.ts';
import { speech } from './verdicts/sources.ts';

// How right proposed turns are, on talk whose truth is known: the demo's voices in rooms, at distances and with noise that differ. npm run bench -- talk [CLIPS] [SEED]
const [clips = 20, seed = 1] = process.argv.slice(2).map(Number);
const NEAR_SECONDS = 0.15;
const MUTED_SECONDS = 0.2;
const LEAST_NEAR = 0.95;
// A dry voice is over when it has fallen so far.
const OVER_DB = 28;

const totals = { boundaries: 0, near: 0, turns: 0, muted: 0 };
for (let n = 0; n < clips; n++) {
  const chance = new Chance(seed * 1000 + n);
  const talkers = n % 4 === 3 ? chance.integer(3, 8) : 2;
  const options = {
    ...{ talkers, seconds: 60, bleedDb: chance.between(8, 30), decaySeconds: chance.between(0.15, 0.6) },
    ...{ noiseDbfs: chance.between(-75, -55), overlaps: 0.15, yeses: 0.15 },
  };
  const { microphones, turns } = talkOf(chance, {
    ...options,
    voice: (talker, seconds) => spokenFor(chance, talker, seconds),
  });
  const meter = new TalkMeter(RATE, talkers, INTERLEAVED);
  meter.push(interleave(microphones, microphones[0].length));
  const channels = microphones.map((_, i) => i + 1);
  const proposed = proposeTurns(meter.finish(), channels, RATE, microphones[0].length);
  score(
    turns,
    proposed.turns.list.map(({ channel, startFrame, endFrame }) => ({
      ...{ talker: channel - 1, startSeconds: startFrame / RATE, endSeconds: endFrame / RATE },
    })),
  );
}
const near = totals.near / totals.boundaries;
console.log(
  `turns of ${clips} talks, 2 to 8 microphones: ${(100 * near).toFixed(1)} % of ${totals.boundaries} boundaries within ${NEAR_SECONDS} s (bar ${100 * LEAST_NEAR} %); in ${totals.muted} of ${totals.turns} turns over ${MUTED_SECONDS} s lie outside the open microphone`,
);
if (near < LEAST_NEAR) process.exitCode = 1;

/** Speech from its first sound to its last, without a pause that would make two turns of it. */
function spokenFor(chance: Chance, talker: number, seconds: number): Mono {
  for (;;) {
    const said = speech(chance, Math.round(seconds * RATE), talker);
    const step = RATE / 50;
    const levels = Array.from({ length: Math.floor(said.length / step) }, (_, i) =>
      said.subarray(i * step, (i + 1) * step).reduce((sum, x) => sum + x * x, 0),
    );
    const over = [...levels].sort((a, b) => a - b)[Math.floor(0.9 * levels.length)] * 10 ** (-OVER_DB / 10);
    const sounding = levels.flatMap((level, i) => (level > over ? [i] : []));
    const pauses = sounding.slice(1).map((at, i) => at - sounding[i]);
    if (seconds < 0.5 || Math.max(...pauses) < 45)
      return said.slice(sounding[0] * step, (sounding[sounding.length - 1] + 1) * step);
  }
}

function score(made: MadeTurn[], mine: MadeTurn[]): void {
  for (const turn of made) {
    totals.turns++;
    const own = mine.filter(({ talker }) => talker === turn.talker);
    for (const edge of ['startSeconds', 'endSeconds'] as const) {
      totals.boundaries++;
      if (own.some((other) => Math.abs(other[edge] - turn[edge]) <= NEAR_SECONDS)) totals.near++;
    }
    let open = turn.startSeconds;
    let muted = false;
    for (const other of own.filter((one) => one.endSeconds > turn.startSeconds && one.startSeconds < turn.endSeconds)) {
      muted ||= other.startSeconds - open > MUTED_SECONDS;
      open = Math.max(open, other.endSeconds);
    }
    if (muted || turn.endSeconds - open > MUTED_SECONDS) totals.muted++;
  }
}
