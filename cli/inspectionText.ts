import { repairFromSuggestion } from '@pocket-twin/core/repair/fromSuggestion.ts';
import { repairName } from '@pocket-twin/core/repair/describe.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { sayNumber } from '@pocket-twin/core/signal/sayDecibels.ts';

const WIDTH = 80;

/** What a person reads in a terminal: the sentence first, then a table no wider than 80 columns. */
export function inspectionText(file: string, inspection: Inspection): string {
  const { format, channels, headline, detail, findings } = inspection;
  const facts = [
    `${format.durationSeconds.toFixed(1)} s`, `${format.sampleRate / 1000} kHz`,
    format.bitDepth ? `${format.bitDepth} bit` : format.codec, `${format.channels} ${format.channels === 1 ? 'channel' : 'channels'}`,
  ].join(', ');
  const lines = [
    file,
    ...wrap(`${headline} ${detail}`),
    ...wrap(facts),
    ...(format.warning ? wrap(format.warning) : []),
    `  ${row('channel', 'carries', 'peak dBFS', 'RMS dBFS', 'LUFS', 'floor dBFS')}`,
    ...channels.map((channel) => `  ${row(
      String(channel.channel), channel.content, sayNumber(channel.peakDbfs), sayNumber(channel.rmsDbfs),
      sayNumber(channel.loudnessLufs), sayNumber(channel.noiseFloorDbfs),
    )}`),
    ...findings.flatMap((finding) => wrap(`${finding.severity}: ${finding.message}`)),
    ...wrap(`Do: ${whatToDo(inspection)}`),
  ];
  return `${lines.join('\n')}\n\n`;
}

function whatToDo(inspection: Inspection): string {
  const { suggestion } = inspection;
  if (suggestion.action === 'none') return 'nothing.';
  const repair = repairFromSuggestion(inspection);
  return repair ? `${repairName(repair)}. ${suggestion.reason}` : suggestion.reason;
}

function row(...cells: string[]): string {
  return cells.map((cell, i) => (i < 2 ? cell.padEnd(11) : cell.padStart(12))).join('').trimEnd();
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
