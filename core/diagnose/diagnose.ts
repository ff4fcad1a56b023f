import { markedOf } from '../kernels/blockSeries.ts';
import type { ChannelMeasurement, Measurement } from '../measure/measurement.ts';
import { sidesBesideLosses } from '../measure/sections/shortLosses.ts';
import { noiseFloorPower } from '../measure/stream/noiseFloor.ts';
import { levelOrNull, type ChannelReport, type ClipFormat, type Inspection } from '../schema/inspection.ts';
import type { ClipVerdict } from '../schema/verdict.ts';
import { dbFromAmplitude, dbFromPower } from '../signal/decibels.ts';
import { cutOffSide } from './copies.ts';
import { channelActivity, isLiving, madeActivity, mean, type ChannelActivity } from './channelActivity.ts';
import { findingsOf } from './findings.ts';
import { decidePair, type PairDecision } from './pairVerdict.ts';
import type { PairFacts } from './catalogue/entry.ts';
import { VERDICTS } from './catalogue/verdicts.ts';
import {
  describeLosses,
  EXCHANGE_CAUSE,
  exchangeSentences,
  monoSentences,
  multichannelSentences,
} from './sentences.ts';
import { suggestForMono, suggestForMultichannel, suggestForPair } from './suggest.ts';

/** From numbers to a verdict, findings and a suggestion. A pure function: no audio here. */
export function diagnose(measurement: Measurement, format: ClipFormat): Inspection {
  const { blockSeconds, sampleRate } = measurement;
  const { durationSeconds } = format;
  const activity = besideEachOther(measurement);
  const reports = measurement.channels.map((channel, i) => reportChannel(channel, activity[i]));
  const pairs = measurement.pairs.map((pair) => {
    const [a, b] = pair.channels.map((channel) => channel - 1);
    const sides = sidesBesideLosses([measurement.channels[a], measurement.channels[b]], pair.losses);
    const does =
      pair.losses.length === 0
        ? [activity[a], activity[b]]
        : sides.map((side, s) =>
            activity[[a, b][s]].isMade ? activity[[a, b][s]] : channelActivity(side, blockSeconds),
          );
    return decidePair(pair, sides, [does[0], does[1]], {
      sampleRate,
      blockSeconds,
      durationSeconds,
    });
  });
  const verdict: ClipVerdict =
    reports.length === 1 ? 'mono' : reports.length === 2 ? pairs[0].report.verdict : 'multichannel';
  const clearest = better(pairs, clearestChannel(measurement, activity), reports);
  const facts = pairs.map(({ report, sections }, p): PairFacts => ({
    pair: report,
    reports,
    sections,
    losses: measurement.pairs[p].losses,
    sampleRate,
    speech: activity.some((channel) => channel.soundsLikeSpeech),
    clearest,
  }));
  const words = (): Pick<Inspection, 'headline' | 'detail' | 'cause' | 'advice' | 'suggestion'> => {
    const unexplained = { cause: null, advice: null };
    if (verdict === 'mono')
      return { ...monoSentences(reports[0]), ...unexplained, suggestion: suggestForMono(reports[0]) };
    if (verdict === 'multichannel')
      return {
        ...multichannelSentences(reports, measurement, clearest),
        ...unexplained,
        suggestion: suggestForMultichannel(reports, measurement),
      };
    const [pair] = facts;
    const entry = VERDICTS[verdict];
    const { exchange } = pair.pair;
    const { headline, detail } = exchange ? exchangeSentences(exchange, entry.sentences(pair)) : entry.sentences(pair);
    return {
      ...{ headline, detail: [describeLosses(pair.losses), detail].filter(Boolean).join(' ') },
      ...(exchange ? EXCHANGE_CAUSE : entry.cause(pair.pair)),
      suggestion: suggestForPair(pair),
    };
  };
  return {
    format,
    channels: reports,
    pairs: pairs.map(({ report }) => report),
    verdict,
    sections:
      reports.length === 2
        ? pairs[0].sections
        : [{ startSeconds: 0, endSeconds: durationSeconds, verdict, side: null }],
    duplicates: measurement.duplicates,
    mixes: measurement.mixes,
    clearestChannel: clearest,
    findings: findingsOf({ durationSeconds, reports, pairs: facts, duplicates: measurement.duplicates }),
    ...words(),
  };
}

/** What each channel does; what a machine makes is no programme where another channel carries one. */
function besideEachOther({ channels, blockSeconds }: Measurement): ChannelActivity[] {
  const each = channels.map((channel) => channelActivity(channel, blockSeconds));
  const lives = channels.some((channel, i) => isLiving(channel, each[i]));
  return channels.map((channel, i) =>
    lives && isOfAMachine(channel, each[i]) ? madeActivity(channel.blockPower.length) : each[i],
  );
}

/** In parts of it even what is softer on the whole may be as loud as a programme. Hum that is as soft as noise is told as hum, with its level. */
function isOfAMachine({ made }: ChannelMeasurement, { content }: ChannelActivity): boolean {
  return made !== null && (content === 'programme' || (content === 'noise' && made.kind !== 'hum'));
}

function reportChannel(channel: ChannelMeasurement, activity: ChannelActivity): ChannelReport {
  const floor = noiseFloorPower(channel.blockPower);
  return {
    channel: channel.channel,
    content: activity.content,
    peakDbfs: levelOrNull(dbFromAmplitude(channel.peak)),
    truePeakDbtp: levelOrNull(dbFromAmplitude(channel.truePeak)),
    rmsDbfs: levelOrNull(dbFromPower(channel.meanSquare)),
    loudnessLufs: levelOrNull(channel.loudnessLufs),
    momentaryMaxLufs: levelOrNull(channel.momentaryMaxLufs),
    shortTermMaxLufs: levelOrNull(channel.shortTermMaxLufs),
    loudnessRangeLu: channel.loudnessRangeLu,
    noiseFloorDbfs: levelOrNull(dbFromPower(floor)),
    humDbfs: channel.tone && levelOrNull(dbFromPower(channel.tone.humPower)),
    mainsHz: channel.tone && channel.tone.humPower > 0 ? channel.tone.mainsHz : null,
    longestSilenceSeconds: channel.longestSilenceSeconds,
    clippedSamples: channel.clippedSamples,
    dcOffset: channel.mean,
    made: activity.isMade ? channel.made : null,
  };
}

/** Of copies in disguise the one that nothing was taken from: a telephone's band has the quietest pauses, a filter's too, and what is cut off at full scale stands highest above them. */
function better(pairs: PairDecision[], clearest: number | null, reports: ChannelReport[]): number | null {
  if (clearest === null || pairs.length !== 1) return clearest;
  const [{ report, duller }] = pairs;
  const narrower = report.narrower?.side ?? null;
  // Something was taken from either.
  if (report.limited !== null && narrower !== null && narrower !== report.limited) return null;
  const worse = report.limited ?? narrower ?? cutOffSide(report, reports) ?? duller;
  return worse === null ? clearest : report.channels[worse === 'left' ? 1 : 0];
}

/**
 * The speaking channel that hears its voice closest: the one whose speech stands highest above its own pauses. A room fills
 * the pauses of a distant microphone, and its preamplifier is turned up.
 */
function clearestChannel({ channels }: Measurement, activity: ChannelActivity[]): number | null {
  let best: { channel: number; reachDb: number } | null = null;
  for (const [i, { channel, blockSpeechPower }] of channels.entries()) {
    if (!activity[i].soundsLikeSpeech) continue;
    const speaking = mean(markedOf(blockSpeechPower, activity[i].active));
    const reachDb = dbFromPower(speaking / Math.max(activity[i].pausePower, 1e-12));
    if (!best || reachDb > best.reachDb) best = { channel, reachDb };
  }
  return best ? best.channel : null;
}
