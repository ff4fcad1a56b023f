import { coarseOffset } from '@pocket-twin/core/join/coarseOffset.ts';
import { NO_KINSHIP, type Kinship } from '@pocket-twin/core/join/plan.ts';
import type { PairMatch } from '@pocket-twin/core/measure/pair/pairMatch.ts';
import { lineUpOf } from '@pocket-twin/core/repair/propose/lineUp.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import { matchTwo } from '../read/matchTwo.ts';
import { PcmFile } from '../read/pcmFile.ts';
import { readTalk } from '../read/readTalk.ts';
import { soundReader } from '../read/soundReader.ts';

// One signal, as the verdict has it: nothing that a filter does not undo.
const COPY_NULL_DB = -20;
// So much of two long recordings is enough to see how they lie to each other.
const LISTENED_SECONDS = 300;

const UNRELATED: Kinship = { ...NO_KINSHIP, offsetSamples: null };

/** What a file has in common with the first, told from the channel of each that carries most. */
export async function measureJoin(first: PcmLocation, other: PcmLocation): Promise<Kinship> {
  const files = await Promise.all([PcmFile.open(first), PcmFile.open(other)]);
  try {
    const talks = [];
    for (const file of files)
      talks.push(
        await readTalk(
          file,
          Array.from({ length: file.location.channels }, (_, i) => i + 1),
        ),
      );
    const mains = talks.map(({ powers }) => {
      const sums = powers.map((power) => power.reduce((sum, value) => sum + value, 0));
      return sums.indexOf(Math.max(...sums));
    });
    const near = await match(files, mains, 0);
    const found = lineUpOf(near, first.sampleRate);
    if (near && found) return kinshipOf(near, found.delaySamples);
    const steps = coarseOffset(talks[0].powers[mains[0]], talks[1].powers[mains[1]]);
    if (steps === null) return UNRELATED;
    const lag = Math.round(steps * talks[0].blockSeconds * first.sampleRate);
    const far = await match(files, mains, lag);
    const refined = lineUpOf(far, first.sampleRate, startOf(lag));
    return far && refined ? kinshipOf(far, lag + refined.delaySamples) : UNRELATED;
  } finally {
    for (const file of files) await file.close();
  }
}

function kinshipOf({ alignedNullDb, matchedNullDb, driftPpm }: PairMatch, offsetSamples: number): Kinship {
  return { offsetSamples, isCopy: Math.min(alignedNullDb, matchedNullDb) <= COPY_NULL_DB, driftPpm };
}

/** Where in the first file what both have begins. */
function startOf(lagFrames: number): number {
  return Math.max(0, -lagFrames);
}

/** The first file against the other one, read so much later. */
async function match(files: PcmFile[], mains: number[], lagFrames: number): Promise<PairMatch | null> {
  const [a, b] = files.map(soundReader);
  const { sampleRate } = files[0].location;
  const startFrame = startOf(lagFrames);
  const common = Math.min(files[0].location.frames, files[1].location.frames - lagFrames);
  const endFrame = Math.min(common, startFrame + LISTENED_SECONDS * sampleRate);
  if (endFrame <= startFrame) return null;
  const { match: found } = await matchTwo(
    async (start, frames, channels) => {
      const sounds: Float64Array[] = [];
      for (const channel of channels)
        sounds.push(
          channel === 1
            ? (await a(start, frames, [mains[0] + 1]))[0]
            : (await b(start + lagFrames, frames, [mains[1] + 1]))[0],
        );
      return sounds;
    },
    [1, 2],
    sampleRate,
    { startFrame, endFrame },
  );
  return found;
}
