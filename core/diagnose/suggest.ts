import type { ChannelReport, PairReport, Section, Suggestion } from '../schema/inspection.ts';
import type { Side } from '../schema/verdict.ts';
import { LEAST_CONFIDENCE } from './confidence.ts';

const suggestion = (
  action: Suggestion['action'],
  reason: string,
  from: number | null = null,
  to: number[] = [],
): Suggestion => ({ action, from, to, reason });

const NOTHING_RECORDED = 'There is nothing to repair: check whether another take has the sound.';

/** What to do with a stereo clip. Never throws away programme. */
export function suggestForPair(pair: PairReport, sections: Section[], clearest: number | null): Suggestion {
  const whole = wholeSide(sections);
  if (pair.verdict === 'changing' && whole && pair.confidence >= LEAST_CONFIDENCE) {
    const [from, to] = whole === 'left' ? pair.channels : [pair.channels[1], pair.channels[0]];
    return suggestion('fill', `The ${whole} side carries everything all the way through; the other drops out.`, from, [
      to,
    ]);
  }
  if (pair.verdict === 'changing')
    return suggestion('review', 'The clip is not the same all the way through: look at its sections.');
  if (pair.confidence < LEAST_CONFIDENCE) return suggestion('review', 'This is too close to call: listen and decide.');
  const [left, right] = pair.channels;
  switch (pair.verdict) {
    case 'one-sided': {
      const [live, dead] = pair.side === 'left' ? [left, right] : [right, left];
      return suggestion(
        'fill',
        `The ${pair.side} side on both sides plays everywhere; the other side holds nothing to lose.`,
        live,
        [dead],
      );
    }
    case 'dual-mono':
      return suggestion('select', 'Either side is the whole recording: one channel is enough.', left, [left]);
    case 'fake-stereo':
      return suggestForDisguise(pair, clearest);
    case 'two-mics':
      return suggestion('split', 'Each microphone becomes a mono file, to be placed and levelled on its own.', null, [
        left,
        right,
      ]);
    case 'silent':
      return suggestion('review', NOTHING_RECORDED);
    case 'stereo':
      return suggestion('none', 'Nothing needs doing.');
  }
}

/** The side that holds everything: elsewhere both sides are the same, or it alone carries the programme. */
function wholeSide(sections: Section[]): Side | null {
  const sides = new Set(sections.filter(({ verdict }) => verdict === 'one-sided').map(({ side }) => side));
  const known = sections.every(
    ({ verdict }) => verdict === 'one-sided' || verdict === 'dual-mono' || verdict === 'silent',
  );
  return known && sides.size === 1 ? [...sides][0] : null;
}

/** One signal in disguise: either side is the whole of it, so what is kept is the better side, or both brought into line. */
function suggestForDisguise(
  { channels: [left, right], disguise, gainDb, delaySamples }: PairReport,
  clearest: number | null,
): Suggestion {
  if (disguise.includes('filter')) {
    const keep = clearest === right ? right : left;
    return suggestion(
      'select',
      'One side is a filtered copy of the other: the clearer one is the whole recording.',
      keep,
      [keep],
    );
  }
  if (disguise.includes('delay')) {
    const early = delaySamples > 0 ? left : right;
    return suggestion(
      'align',
      'Brought into line, both sides carry the same signal and sum cleanly.',
      early === left ? right : left,
      [early],
    );
  }
  if (disguise.includes('polarity'))
    return suggestion('invert', 'Turned over, both sides carry the same signal and no longer cancel.', left, [right]);
  const louder = (gainDb ?? 0) > 0 ? right : left;
  return suggestion('balance', 'At one level, the voice sits in the middle.', louder === left ? right : left, [louder]);
}

export function suggestForMono({ content }: ChannelReport): Suggestion {
  return content === 'programme' ? suggestion('none', 'Nothing needs doing.') : suggestion('review', NOTHING_RECORDED);
}

/** What carries sound of its own is kept, one mono file each; copies and empty channels are left. Where nothing can be left a person chooses. */
export function suggestForMultichannel(reports: ChannelReport[], duplicates: number[][]): Suggestion {
  const copies = new Set(duplicates.flatMap((group) => group.slice(1)));
  const own = reports.filter(({ content, channel }) => content === 'programme' && !copies.has(channel));
  if (own.length === 1)
    return suggestion('select', `Only channel ${own[0].channel} carries sound of its own.`, own[0].channel, [
      own[0].channel,
    ]);
  const kept = own.map(({ channel }) => channel);
  if (kept.length > 0 && kept.length < reports.length)
    return suggestion(
      'split',
      `Channels ${kept.join(', ')} as mono files are all there is: the others are copies or empty.`,
      null,
      kept,
    );
  return suggestion('review', kept.length === 0 ? NOTHING_RECORDED : 'Listen to the channels and choose.');
}
