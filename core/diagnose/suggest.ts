import type { Measurement } from '../measure/measurement.ts';
import type { ChannelReport, Suggestion } from '../schema/inspection.ts';
import { sayTime } from '../time/sayTime.ts';
import { suggest, type PairFacts } from './catalogue/entry.ts';
import { NOTHING_RECORDED, VERDICTS } from './catalogue/verdicts.ts';
import { isTurnedOver } from './catalogue/stereo.ts';
import { isDoubtful } from './confidence.ts';
import { capital } from './channelName.ts';
import { copiesAmong } from './copies.ts';
import { channelList, mixedFrom } from './sentences.ts';

/** What to do with a stereo clip. Never throws away programme. */
export function suggestForPair(facts: PairFacts): Suggestion {
  const { verdict } = facts.pair;
  if (facts.losses.length > 0) return suggestForLosses(facts);
  const { exchange } = facts.pair;
  if (exchange)
    return suggest(
      'review',
      `The sides change places at ${sayTime(exchange.atSeconds, 1)}: swap them back from there on, in a section of its own.`,
    );
  // What changes has parts to look at, however sure each of them is; and what may be middle and side, or upside down, a way to be heard.
  const hasAWay = verdict === 'changing' || facts.pair.middle !== null || isTurnedOver(facts.pair);
  return hasAWay || !isDoubtful(facts.pair)
    ? VERDICTS[verdict].suggestion(facts)
    : suggest('review', 'This is too close to call: listen and decide.');
}

/** Copies of which one has holes: the whole one stands in. Where neither is whole, or they are no copies, a person fills the moments that are lost. */
function suggestForLosses({ pair, losses }: PairFacts): Suggestion {
  const lost = new Set(losses.map(({ side }) => side));
  const { verdict, channels } = pair;
  const areCopies = verdict === 'dual-mono' || verdict === 'fake-stereo';
  if (!areCopies || lost.size > 1 || isDoubtful(pair))
    return suggest('review', 'A side drops out for moments: fill them from the other side where it has them.');
  const [whole, holed] = lost.has('left') ? [channels[1], channels[0]] : channels;
  const side = lost.has('left') ? 'right' : 'left';
  return suggest('fill', `The ${side} side carries everything all the way through; the other drops out.`, whole, [
    holed,
  ]);
}

export function suggestForMono({ content }: ChannelReport): Suggestion {
  return content === 'programme' ? suggest('none', 'Nothing needs doing.') : suggest('review', NOTHING_RECORDED);
}

/** What carries sound of its own is kept, one mono file each; copies and empty channels are left. Where nothing can be left a person chooses. */
export function suggestForMultichannel(
  reports: ChannelReport[],
  { duplicates, mixes }: Pick<Measurement, 'duplicates' | 'mixes'>,
): Suggestion {
  if (mixes.length > 0) {
    const mixed = mixes.map(({ channel }) => channel);
    return suggest(
      'review',
      `${capital(channelList(mixed))} ${mixed.length === 1 ? 'is' : 'are'} the mix of ${channelList(mixedFrom(mixes))}: choose the mix, or the microphones by themselves.`,
    );
  }
  const copies = copiesAmong(duplicates, reports);
  const own = reports.filter(({ content, channel }) => content === 'programme' && !copies.has(channel));
  if (own.length === 1)
    return suggest('select', `Only channel ${own[0].channel} carries sound of its own.`, own[0].channel, [
      own[0].channel,
    ]);
  const kept = own.map(({ channel }) => channel);
  if (kept.length > 0 && kept.length < reports.length)
    return suggest(
      'split',
      `Channels ${kept.join(', ')} as mono files are all there is: the others are copies or empty.`,
      null,
      kept,
    );
  return suggest('review', kept.length === 0 ? NOTHING_RECORDED : 'Listen to the channels and choose.');
}
