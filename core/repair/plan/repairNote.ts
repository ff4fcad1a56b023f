import type { Inspection } from '../../schema/inspection.ts';
import type { InputTrim, Repair } from '../../schema/repair.ts';
import { channelName } from '../../diagnose/channelName.ts';
import { sayDecibels, sayNumber } from '../../signal/sayDecibels.ts';
import { exactOutside, exactPlan, onlyMoves } from './exactPlan.ts';
import { exactWords } from './exactWords.ts';
import { doesSomething } from './compare.ts';
import { courseWords } from './courseWords.ts';
import { leftOutChannels } from './leftOut.ts';

// From here on a sum is hollow: the contract of the finding mono-loss.
const MONO_LOSS_DB = 3;
// Below this nothing is heard beside what it was.
const NOTHING_LEFT_DB = 40;

/** What a repair does to the samples, what it moves, what it leaves out, and what it costs. */
export function repairNote(repair: Repair, inspection: Inspection): string {
  return [
    samplesSentence(repair, inspection.format.sampleRate),
    trimsSentence(repair, inspection.format.sampleRate),
    leftOutSentence(repair, inspection),
    repair.action === 'fill' && 'Both sides will be the same: this is mono on two channels, not stereo.',
  ]
    .filter((part) => part !== false && part !== null)
    .join(' ');
}

/** What is lost by summing two channels; null where nothing is. To be told at the choice. */
export function sumWarning({ outputs, trims }: Repair, { pairs }: Pick<Inspection, 'pairs'>): string | null {
  const summed = outputs.flatMap(({ routes }) => routes).filter((route) => route.length > 1);
  const pair = pairs.find(({ channels }) =>
    summed.some((route) => channels.every((channel) => route.some(({ from }) => from === channel))),
  );
  if (!pair || trims.some(doesSomething)) return null;
  if (pair.verdict === 'one-sided') return 'Summing adds the dead side’s noise: filling is cleaner.';
  if (pair.sumLossDb === null || pair.sumLossDb >= NOTHING_LEFT_DB)
    return `The two sides cancel each other: ${pair.sumLossDb === null ? 'nothing' : 'next to nothing'} is left of the sum. Turn one over first.`;
  if (pair.sumLossDb < MONO_LOSS_DB) return null;
  const why =
    pair.polarity === 'inverted'
      ? 'one side is upside down'
      : Math.abs(pair.delaySamples) >= 1
        ? 'one side is late'
        : 'the sides work against each other';
  return `The sum loses ${sayDecibels(pair.sumLossDb, 'dB')}: ${why}.`;
}

function samplesSentence(repair: Repair, sampleRate: number): string {
  const exact = exactPlan(repair);
  const outside = exact ? [] : exactOutside(repair);
  if (outside && outside.length > 0)
    return `Samples are those that were read, ${exactWords({ exact: false, exactOutside: outside }, sampleRate)}.`;
  if (!exact) return 'Samples are calculated and dithered.';
  if (onlyMoves(exact)) return 'Samples are copied, not recalculated.';
  const turned = exact.flat().some(({ turnedOver }) => turnedOver);
  const shifted = exact.flat().some(({ shiftFrames }) => shiftFrames !== 0);
  return `Samples are ${[turned && 'turned over', shifted && 'moved'].filter(Boolean).join(' and ')}, not recalculated.`;
}

/** "The left side comes down by 3.0 dB and is moved 217 samples (4.52 ms) later." */
function trimsSentence({ trims, inputChannels }: Repair, sampleRate: number): string | false {
  const sentences = trims
    .filter(doesSomething)
    .map((trim) => `${capital(channelName(trim.channel, inputChannels))} ${listed(trimWords(trim, sampleRate))}.`);
  return sentences.length > 0 && sentences.join(' ');
}

function trimWords({ gainDb, polarity, delaySamples, course }: InputTrim, sampleRate: number): string[] {
  const samples = Math.abs(delaySamples);
  return [
    polarity === 'inverted' && 'is turned over',
    gainDb !== 0 && `${gainDb < 0 ? 'comes down' : 'goes up'} by ${sayDecibels(Math.abs(gainDb), 'dB')}`,
    delaySamples !== 0 &&
      `is moved ${sayNumber(samples, Number.isInteger(samples) ? 0 : 2)} ${samples === 1 ? 'sample' : 'samples'} (${sayNumber((1000 * samples) / sampleRate, 2)} ms) ${delaySamples > 0 ? 'later' : 'earlier'}`,
    ...courseWords(course).map((words) => `is ${words}`),
  ].filter((part) => part !== false);
}

function listed(parts: string[]): string {
  return parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`;
}

/** What the channels that feed nothing hold. */
function leftOutSentence(repair: Repair, inspection: Inspection): string | false {
  const left = leftOutChannels(repair, inspection);
  if (left.length === 0) return false;
  const kinds = left.map(({ held }) => held);
  if (kinds.includes('its own')) {
    return left.length === 1
      ? 'The channel that is left out carries sound of its own.'
      : 'Among the channels that are left out, some carry sound of their own.';
  }
  if (kinds.includes('trace')) return 'What is left out has only a faint trace of what is kept.';
  const name = inspection.channels.length === 2 ? 'The other side' : 'What is left out';
  if (kinds.includes('disguise')) return `${name} is this signal in disguise.`;
  if (kinds.includes('copy')) return `${name} is the same signal.`;
  const programme = new Set(
    inspection.channels.flatMap(({ channel, content }) => (content === 'programme' ? [channel] : [])),
  );
  return left.some(({ channel }) => programme.has(channel))
    ? 'What is left out has nothing of its own.'
    : 'What is left out carries no sound.';
}

function capital(text: string): string {
  return text[0].toUpperCase() + text.slice(1);
}
