import type { ChannelMeasurement, Measurement } from '../measure/measurement.ts';
import { noiseFloorPower } from '../measure/stream/noiseFloor.ts';
import { levelOrNull, type ChannelReport, type ClipFormat, type Inspection } from '../schema/inspection.ts';
import type { ClipVerdict } from '../schema/verdict.ts';
import { dbFromAmplitude, dbFromPower } from '../signal/decibels.ts';
import { causeOf } from './causes.ts';
import { channelActivity, mean, type ChannelActivity } from './channelActivity.ts';
import { findingsOf } from './findings.ts';
import { decidePair } from './pairVerdict.ts';
import { monoSentences, multichannelSentences, stereoSentences } from './sentences.ts';
import { suggestForMono, suggestForMultichannel, suggestForPair } from './suggest.ts';

/** From numbers to a verdict, findings and a suggestion. A pure function: no audio here. */
export function diagnose(measurement: Measurement, format: ClipFormat): Inspection {
  const { blockSeconds, sampleRate } = measurement;
  const { durationSeconds } = format;
  const activity = measurement.channels.map((channel) => channelActivity(channel, blockSeconds));
  const reports = measurement.channels.map((channel, i) => reportChannel(channel, activity[i]));
  const pairs = measurement.pairs.map((pair) => {
    const [a, b] = pair.channels.map((channel) => channel - 1);
    return decidePair(pair, [measurement.channels[a], measurement.channels[b]], [activity[a], activity[b]], {
      sampleRate,
      blockSeconds,
      durationSeconds,
    });
  });
  const verdict: ClipVerdict =
    reports.length === 1 ? 'mono' : reports.length === 2 ? pairs[0].report.verdict : 'multichannel';
  const clearest = clearestChannel(measurement, activity);
  const sentencesAndSuggestion = () => {
    if (verdict === 'mono')
      return { ...monoSentences(reports[0]), ...causeOf(null), suggestion: suggestForMono(reports[0]) };
    if (verdict === 'multichannel') {
      return {
        ...multichannelSentences(reports, measurement.duplicates, clearest),
        ...causeOf(null),
        suggestion: suggestForMultichannel(reports, measurement.duplicates),
      };
    }
    const [{ report, sections }] = pairs;
    const speech = activity.some((channel) => channel.soundsLikeSpeech);
    return {
      ...stereoSentences({ pair: report, reports, speech, sections, sampleRate }),
      ...causeOf(report),
      suggestion: suggestForPair(report, sections, clearest),
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
    clearestChannel: clearest,
    findings: findingsOf({ durationSeconds, sampleRate, reports, pairs, duplicates: measurement.duplicates }),
    ...sentencesAndSuggestion(),
  };
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
  };
}

/**
 * The speaking channel that hears its voice closest: the one whose speech stands highest above its own pauses. A room fills
 * the pauses of a distant microphone, and its preamplifier is turned up.
 */
function clearestChannel({ channels }: Measurement, activity: ChannelActivity[]): number | null {
  let best: { channel: number; reachDb: number } | null = null;
  for (const [i, { channel, blockSpeechPower }] of channels.entries()) {
    if (!activity[i].soundsLikeSpeech) continue;
    const speaking = mean(blockSpeechPower.filter((_, block) => activity[i].active[block]));
    const reachDb = dbFromPower(speaking / Math.max(activity[i].pausePower, 1e-12));
    if (!best || reachDb > best.reachDb) best = { channel, reachDb };
  }
  return best ? best.channel : null;
}
