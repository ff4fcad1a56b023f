import { sayTime } from '../../time/sayTime.ts';
import type { ChannelReport, Section } from '../../schema/inspection.ts';
import type { FindingCode, PairVerdict, Side } from '../../schema/verdict.ts';
import { sayDecibels, sayNumber } from '../../signal/sayDecibels.ts';
import {
  DC_OFFSET,
  HOT_DBTP,
  LATE_MS,
  LOW_LUFS,
  MONO_LOSS_DB,
  UNBALANCED_LU,
  UNBALANCED_LOOK_LU,
} from '../boundaries.ts';
import { isDoubtful } from '../confidence.ts';
import { capital, channelName } from '../channelName.ts';
import { sayBand } from './disguise.ts';
import { sayMade } from './deadSide.ts';
import type { Noticed, PairFacts } from './entry.ts';

/** What is noticed of a part of a pair, instead of its verdict. */
interface SectionFinding {
  of: 'section';
  notice: (facts: PairFacts, section: Section) => Noticed | null;
}
interface PairFinding {
  of: 'pair';
  notice: (facts: PairFacts) => Noticed | null;
}
interface ChannelFinding {
  of: 'channel';
  /** @param name how a sentence begins that is about this channel */
  notice: (report: ChannelReport, name: string, total: number) => Omit<Noticed, 'channels'> | null;
}
interface ClipFinding {
  of: 'clip';
  notice: (reports: ChannelReport[], duplicates: number[][]) => Noticed[];
}
export type FindingEntry = SectionFinding | PairFinding | ChannelFinding | ClipFinding;

/** The other side is gone for a while. @param liveSide the one that is there */
export function droppedOut({ pair: { channels }, reports: { length: total } }: PairFacts, liveSide: Side): Noticed {
  const [lost, live] = liveSide === 'left' ? [channels[1], channels[0]] : channels;
  const name = total === 2 ? `the ${liveSide} one` : channelName(live, total);
  return {
    severity: 'fix',
    channels: [lost],
    message: `${capital(channelName(lost, total))} drops out: only ${name} carries the programme.`,
  };
}

/** What a machine makes on a channel beside a programme. */
function made(...kinds: NonNullable<ChannelReport['made']>['kind'][]): ChannelFinding {
  return {
    of: 'channel',
    notice: (report, name) =>
      report.made && kinds.includes(report.made.kind)
        ? { severity: 'note', message: `${name} is ${sayMade(report.made)}.` }
        : null,
  };
}

/** The findings that are no verdicts, in the order in which they are told. A finding is one entry here. */
export const FINDINGS: Record<Exclude<FindingCode, PairVerdict>, FindingEntry> = {
  dropout: {
    of: 'section',
    notice: (facts, section) => (dropsOut(section, facts.sections) ? droppedOut(facts, section.side!) : null),
  },

  'out-of-polarity': {
    of: 'pair',
    notice: ({ pair: { verdict, disguise, channels }, reports }) =>
      verdict === 'fake-stereo' && disguise.includes('polarity')
        ? {
            severity: 'fix',
            channels: [channels[1]],
            message: `${capital(channelName(channels[1], reports.length))} is upside down: in mono the two cancel.`,
          }
        : null,
  },

  'late-side': {
    of: 'pair',
    notice: ({ pair: { verdict, disguise, channels, delaySamples }, reports, sampleRate }) => {
      const delayMs = (1000 * delaySamples) / sampleRate;
      if (verdict !== 'fake-stereo' || !disguise.includes('delay') || Math.abs(delayMs) < LATE_MS) return null;
      const late = delayMs > 0 ? channels[1] : channels[0];
      return {
        severity: 'fix',
        channels: [late],
        message: `${capital(channelName(late, reports.length))} is ${sayNumber(Math.abs(delayMs), 2)} ms late.`,
      };
    },
  },

  drift: {
    of: 'pair',
    notice: ({ pair: { verdict, channels, driftPpm, jump }, reports, sampleRate }) => {
      if (verdict === 'fake-stereo' && jump) {
        const ms = (1000 * jump.delaySamples) / sampleRate;
        return {
          severity: 'fix',
          channels: [channels[1]],
          startSeconds: jump.atSeconds,
          message: `From ${sayTime(jump.atSeconds, 2)} on ${channelName(channels[1], reports.length)} comes ${sayNumber(Math.abs(ms), 2)} ms ${ms > 0 ? 'later' : 'earlier'} than before.`,
        };
      }
      if ((verdict !== 'fake-stereo' && verdict !== 'two-mics') || driftPpm === 0) return null;
      const behind = driftPpm > 0 ? channels[1] : channels[0];
      return {
        severity: verdict === 'two-mics' ? 'look' : 'fix',
        channels: [behind],
        message: `${capital(channelName(behind, reports.length))} falls behind by ${sayNumber((Math.abs(driftPpm) * 60) / 1000, 2)} ms a minute: two clocks that run ${sayNumber(Math.abs(driftPpm), 0)} parts in a million apart.`,
      };
    },
  },

  'band-limited': {
    of: 'pair',
    notice: ({ pair: { verdict, channels, narrower }, reports }) => {
      if (verdict !== 'fake-stereo' || narrower === null) return null;
      const channel = narrower.side === 'left' ? channels[0] : channels[1];
      return {
        severity: 'note',
        channels: [channel],
        message: `${capital(channelName(channel, reports.length))} holds nothing but ${sayBand(narrower)} of what the other does.`,
      };
    },
  },

  swapped: {
    of: 'pair',
    notice: ({ pair: { exchange, channels } }) =>
      exchange && {
        severity: 'look',
        channels,
        startSeconds: exchange.atSeconds,
        message: `From ${sayTime(exchange.atSeconds, 1)} on each side carries what the other carried before: ${exchange.by === 'noise' ? 'the noise of each has changed places' : 'what was louder left is as much louder right'}.`,
      },
  },

  unbalanced: {
    of: 'pair',
    notice: ({ pair, reports }) => {
      const { verdict, channels, balanceLu, middle } = pair;
      const alike = verdict === 'fake-stereo';
      // Middle and side are no two sides yet.
      const shouldBeEven =
        alike || (verdict === 'stereo' && (middle === null || isDoubtful(pair))) || verdict === 'dual-mono';
      if (!shouldBeEven || balanceLu === null || Math.abs(balanceLu) < UNBALANCED_LU) return null;
      const louder = balanceLu > 0 ? channels[0] : channels[1];
      return {
        severity: alike ? 'fix' : Math.abs(balanceLu) >= UNBALANCED_LOOK_LU ? 'look' : 'note',
        channels,
        message: `${capital(channelName(louder, reports.length))} is ${sayDecibels(Math.abs(balanceLu), 'LU')} louder.`,
      };
    },
  },

  'mono-loss': {
    of: 'pair',
    notice: ({ pair: { verdict, channels, sumLossDb } }) =>
      verdict === 'one-sided' || verdict === 'silent' || (sumLossDb !== null && sumLossDb < MONO_LOSS_DB)
        ? null
        : {
            severity: 'look',
            channels,
            message: `Summed to mono, this loses ${sumLossDb === null ? 'everything' : sayDecibels(sumLossDb, 'dB')}.`,
          },
  },

  'mid-side': {
    of: 'pair',
    notice: ({ pair, reports }) => {
      const { channels, middle } = pair;
      if (middle === null) return null;
      const [mid, side] = middle === 'left' ? channels : [channels[1], channels[0]];
      return {
        severity: 'look',
        channels,
        message: `${capital(channelName(mid, reports.length))} ${isDoubtful(pair) ? 'may hold' : 'holds'} the middle, ${channelName(side, reports.length)} what is to either hand: never decoded, they are no left and right yet.`,
      };
    },
  },

  'silent-channel': {
    of: 'channel',
    // What a machine makes is told by its own name.
    notice: ({ content, made: machine }, name, total) =>
      content === 'programme' || machine || total <= 2
        ? null
        : { severity: 'note', message: `${name} carries nothing${content === 'noise' ? ' but noise' : ''}.` },
  },

  timecode: made('timecode'),
  tone: made('tone'),
  hum: made('hum'),
  interference: made('interference', 'hiss'),

  clipped: {
    of: 'channel',
    notice: ({ clippedSamples }, name) =>
      clippedSamples > 0
        ? { severity: 'look', message: `${name} is clipped: ${clippedSamples} samples at full scale.` }
        : null,
  },

  hot: {
    of: 'channel',
    notice: ({ truePeakDbtp }, name) =>
      truePeakDbtp !== null && truePeakDbtp > HOT_DBTP
        ? { severity: 'note', message: `${name} peaks at ${sayDecibels(truePeakDbtp, 'dBTP')}.` }
        : null,
  },

  low: {
    of: 'channel',
    notice: ({ content, loudnessLufs }, name) =>
      content === 'programme' && loudnessLufs !== null && loudnessLufs < LOW_LUFS
        ? { severity: 'note', message: `${name} is very quiet: ${sayDecibels(loudnessLufs, 'LUFS')}.` }
        : null,
  },

  'dc-offset': {
    of: 'channel',
    notice: ({ dcOffset }, name) =>
      Math.abs(dcOffset) >= DC_OFFSET
        ? { severity: 'note', message: `${name} stands off zero by ${dcOffset.toFixed(3)} of full scale.` }
        : null,
  },

  'duplicate-channels': {
    of: 'clip',
    notice: ({ length: total }, duplicates) =>
      total > 2
        ? duplicates.map((channels) => ({
            severity: 'note',
            channels,
            message: `Channels ${channels.join(' and ')} carry the same signal.`,
          }))
        : [],
  },
};

/** A side that was there before or is there after is missing. */
function dropsOut(section: Section, sections: Section[]): boolean {
  const at = sections.indexOf(section);
  const whole = [sections[at - 1], sections[at + 1]].some(
    (other) => other && other.verdict !== 'silent' && other.verdict !== 'one-sided',
  );
  return section.verdict === 'one-sided' && whole;
}
