import type { ChannelMeasurement, Measurement } from '../measure/measurement.ts';
import { noiseFloorPower } from '../measure/noiseFloor.ts';
import { levelOrNull, type ChannelReport, type ClipFormat, type Inspection } from '../schema/inspection.ts';
import type { ClipVerdict } from '../schema/verdict.ts';
import { dbFromAmplitude, dbFromPower } from '../signal/decibels.ts';
import { channelActivity, type ChannelActivity } from './channelActivity.ts';
import { findingsOf } from './findings.ts';
import { decidePair } from './pairVerdict.ts';
import { monoSentences, multichannelSentences, stereoSentences } from './sentences.ts';
import { suggestForMono, suggestForMultichannel, suggestForPair } from './suggest.ts';

/** From numbers to a verdict, findings and a suggestion. A pure function: no audio here. */
export function diagnose(measurement: Measurement, format: ClipFormat): Inspection {
  const activity = measurement.channels.map((channel) => channelActivity(channel, measurement.blockSeconds));
  const reports = measurement.channels.map((channel, i) => reportChannel(channel, activity[i]));
  const pairs = measurement.pairs.map((pair) => {
    const [a, b] = pair.channels.map((channel) => channel - 1);
    return decidePair(pair, [measurement.channels[a], measurement.channels[b]], [activity[a], activity[b]]);
  });
  const verdict: ClipVerdict = reports.length === 1 ? 'mono' : reports.length === 2 ? pairs[0].report.verdict : 'multichannel';
  const sentencesAndSuggestion = () => {
    if (verdict === 'mono') return { ...monoSentences(reports[0]), suggestion: suggestForMono() };
    if (verdict === 'multichannel') return { ...multichannelSentences(reports), suggestion: suggestForMultichannel() };
    const [{ report, doubt }] = pairs;
    const speech = activity.some((channel) => channel.soundsLikeSpeech);
    return { ...stereoSentences(report, reports, speech, doubt), suggestion: suggestForPair(report, doubt) };
  };
  return {
    format,
    channels: reports,
    pairs: pairs.map(({ report }) => report),
    verdict,
    sections: [{
      startSeconds: 0, endSeconds: format.durationSeconds, verdict, side: reports.length === 2 ? pairs[0].report.side : null,
    }],
    duplicates: pairs.filter(({ report }) => report.verdict === 'dual-mono').map(({ report }) => report.channels),
    clearestChannel: clearestChannel(reports, activity),
    findings: findingsOf({ durationSeconds: format.durationSeconds, reports, pairs }),
    ...sentencesAndSuggestion(),
  };
}

function reportChannel(channel: ChannelMeasurement, activity: ChannelActivity): ChannelReport {
  return {
    channel: channel.channel,
    content: activity.content,
    peakDbfs: levelOrNull(dbFromAmplitude(channel.peak)),
    truePeakDbtp: levelOrNull(dbFromAmplitude(channel.truePeak)),
    rmsDbfs: levelOrNull(dbFromPower(channel.meanSquare)),
    loudnessLufs: levelOrNull(channel.loudnessLufs),
    noiseFloorDbfs: levelOrNull(dbFromPower(noiseFloorPower(channel.blockPower))),
    clippedSamples: channel.clippedSamples,
    dcOffset: channel.mean,
  };
}

/** The speaking channel that stands furthest out of its own noise. */
function clearestChannel(reports: ChannelReport[], activity: ChannelActivity[]): number | null {
  let best: { channel: number; reachDb: number } | null = null;
  reports.forEach((report, i) => {
    if (!activity[i].soundsLikeSpeech) return;
    const reachDb = (report.rmsDbfs ?? -Infinity) - (report.noiseFloorDbfs ?? -Infinity);
    if (!best || reachDb > best.reachDb) best = { channel: report.channel, reachDb };
  });
  return (best as { channel: number } | null)?.channel ?? null;
}
