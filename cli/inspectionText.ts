import { repairFromSuggestion } from '@pocket-twin/core/repair/plan/fromSuggestion.ts';
import { repairName } from '@pocket-twin/core/repair/plan/describe.ts';
import type { Inspection, PairReport, Section } from '@pocket-twin/core/schema/inspection.ts';
import { sayDepth } from '@pocket-twin/core/pcm/sayDepth.ts';
import { sayDecibels, sayNumber } from '@pocket-twin/core/signal/sayDecibels.ts';

const WIDTH = 80;

/** What a person reads in a terminal: the sentence first, then a table no wider than 80 columns. */
export function inspectionText(file: string, inspection: Inspection): string {
  const { format, channels, pairs, sections, headline, detail, findings, cause } = inspection;
  const facts = [
    `${format.durationSeconds.toFixed(1)} s`,
    `${format.sampleRate / 1000} kHz`,
    sayDepth(format.codec, format.bitDepth),
    `${format.channels} ${format.channels === 1 ? 'channel' : 'channels'}`,
  ].join(', ');
  const lines = [
    file,
    ...wrap(`${headline} ${detail}`),
    ...wrap(facts),
    ...(format.warning ? wrap(format.warning) : []),
    `  ${row('channel', 'carries', 'peak dBFS', 'RMS dBFS', 'LUFS', 'floor dBFS')}`,
    ...channels.map(
      (channel) =>
        `  ${row(
          String(channel.channel),
          channel.content,
          sayNumber(channel.peakDbfs),
          sayNumber(channel.rmsDbfs),
          sayNumber(channel.loudnessLufs),
          sayNumber(channel.noiseFloorDbfs),
        )}`,
    ),
    ...pairs.flatMap((pair) => wrap(pairText(pair))),
    ...(sections.length > 1 ? sections.flatMap((section) => wrap(sectionText(section))) : []),
    ...findings.flatMap((finding) => wrap(`${finding.severity}: ${finding.message}`)),
    ...(cause ? wrap(`Likely cause: ${cause}`) : []),
    ...wrap(`Do: ${whatToDo(inspection)}`),
  ];
  return `${lines.join('\n')}\n\n`;
}

function pairText({
  channels,
  verdict,
  correlation,
  nullDepthDb,
  matchedNullDepthDb,
  delaySamples,
  gainDb,
  polarity,
  sumLossDb,
}: PairReport): string {
  return [
    `${channels.join('+')}: correlation ${sayNumber(correlation ?? 0, 2)}`,
    `null ${sayDecibels(nullDepthDb, 'dB')}`,
    `matched ${sayDecibels(matchedNullDepthDb, 'dB')}`,
    ...(verdict === 'one-sided' || verdict === 'silent'
      ? []
      : [
          `right against left ${sayNumber(delaySamples, 2)} samples`,
          sayDecibels(gainDb, 'dB'),
          `polarity ${polarity}`,
        ]),
    `the sum loses ${sayDecibels(sumLossDb, 'dB')}`,
  ].join(', ');
}

function sectionText({ startSeconds, endSeconds, verdict, side }: Section): string {
  return `${startSeconds.toFixed(1)} to ${endSeconds.toFixed(1)} s: ${verdict}${side ? `, ${side}` : ''}`;
}

function whatToDo(inspection: Inspection): string {
  const { suggestion } = inspection;
  if (suggestion.action === 'none') return 'nothing.';
  const repair = repairFromSuggestion(inspection);
  return repair ? `${repairName(repair)}. ${suggestion.reason}` : suggestion.reason;
}

function row(...cells: string[]): string {
  return cells
    .map((cell, i) => (i < 2 ? cell.padEnd(11) : cell.padStart(12)))
    .join('')
    .trimEnd();
}

function wrap(text: string): string[] {
  const lines: string[] = [];
  let line = ' ';
  for (const word of text.split(' ')) {
    if (line.length + 1 + word.length > WIDTH) {
      lines.push(line);
      line = '   ';
    }
    line += ` ${word}`;
  }
  return [...lines, line];
}
