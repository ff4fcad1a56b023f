import type { Measurement, ShortLoss } from '../measure/measurement.ts';
import type { ChannelReport, PairReport } from '../schema/inspection.ts';
import { describeSilence, sayMade } from './catalogue/deadSide.ts';
import { sayTime } from '../time/sayTime.ts';
import type { Cause, Sentences } from './catalogue/entry.ts';
import { AS_IT_SHOULD_BE } from './catalogue/stereo.ts';
import { capital, channelName } from './channelName.ts';
import { copiesAmong } from './copies.ts';

// What is said of clips that are no pair.

export function monoSentences(report: ChannelReport): Sentences {
  if (report.content !== 'programme') return { headline: 'Nothing was recorded.', detail: describeSilence([report]) };
  return { headline: 'One channel.', detail: 'A mono recording plays in the middle. Nothing needs doing.' };
}

export function multichannelSentences(
  reports: ChannelReport[],
  { duplicates, mixes }: Pick<Measurement, 'duplicates' | 'mixes'>,
  clearest: number | null,
): Sentences {
  const carrying = reports.filter((report) => report.content === 'programme').map((report) => report.channel);
  if (carrying.length === 0) return { headline: 'Nothing was recorded.', detail: describeSilence(reports) };
  const keptFor = copiesAmong(duplicates, reports);
  const copies = carrying.filter((channel) => keptFor.has(channel));
  const mixed = mixes.map(({ channel }) => channel);
  const own = carrying.filter((channel) => !copies.includes(channel) && !mixed.includes(channel));
  const copied = [...new Set(copies.map((channel) => keptFor.get(channel)!))];
  const made = reports.filter((report) => report.made);
  const empty = reports
    .filter(({ channel, made: machine }) => !carrying.includes(channel) && !machine)
    .map(({ channel }) => channel);
  const parts = [
    mixed.length > 0 &&
      `${capital(channelList(mixed))} ${mixed.length === 1 ? 'is' : 'are'} the mix of ${channelList(mixedFrom(mixes))}.`,
    copies.length > 0 &&
      `${capital(channelList(copies))} ${copies.length === 1 ? 'is a copy' : 'are copies'} of ${channelList(copied)}.`,
    empty.length > 0 && `Nothing on ${channelList(empty)}.`,
    made.length > 0 &&
      `${made.map((report) => `${capital(channelName(report.channel, reports.length))} is ${sayMade(report.made!)}`).join('; ')}.`,
    clearest !== null && own.length > 1 && `The voice is clearest on channel ${keptFor.get(clearest) ?? clearest}.`,
  ].filter((part) => part !== false);
  return {
    headline:
      copies.length + mixed.length + empty.length + made.length === 0
        ? `All ${reports.length} channels carry sound of their own.`
        : `Only ${channelList(own)} ${own.length === 1 ? 'carries' : 'carry'} sound of ${own.length === 1 ? 'its' : 'their'} own.`,
    detail: parts.join(' ') || 'Which of them belong together is for you to say.',
  };
}

/** The channels that are in any of the mixes. */
export function mixedFrom(mixes: Measurement['mixes']): number[] {
  return [...new Set(mixes.flatMap(({ of }) => of))].sort((a, b) => a - b);
}

/** Of sides that change places that comes first, and then what they are. */
export function exchangeSentences(
  { atSeconds }: NonNullable<PairReport['exchange']>,
  { headline, detail }: Sentences,
): Sentences {
  const otherwise = headline === AS_IT_SHOULD_BE ? '' : ` ${headline} ${detail}`;
  return {
    headline: 'The sides change places on the way.',
    detail: `From ${sayTime(atSeconds, 1)} on each carries what the other carried before.${otherwise}`,
  };
}

export const EXCHANGE_CAUSE: Cause = {
  cause: 'Two cables changed places while recording, or takes with their sides the other way round were joined.',
  advice: 'Mark cables and inputs, and stop and start a new clip whenever a cable moves.',
};

/** "The right side drops out 6 times, for moments." Empty where nothing is lost. */
export function describeLosses(losses: readonly ShortLoss[]): string {
  const of = (side: ShortLoss['side']): number => losses.filter((loss) => loss.side === side).length;
  return (['left', 'right'] as const)
    .filter((side) => of(side) > 0)
    .map((side) => `The ${side} side drops out ${of(side) === 1 ? 'for a moment' : `${of(side)} times, for moments`}.`)
    .join(' ');
}

/** "channels 1, 2 and 5 to 9" */
export function channelList(channels: number[]): string {
  const runs: [first: number, last: number][] = [];
  for (const channel of channels) {
    const run = runs.at(-1);
    if (run && channel === run[1] + 1) run[1] = channel;
    else runs.push([channel, channel]);
  }
  const words = runs.flatMap(([first, last]) =>
    last - first < 2 ? [...new Set([first, last])].map(String) : [`${first} to ${last}`],
  );
  return `${channels.length === 1 ? 'channel' : 'channels'} ${words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`}`;
}
