import type { ChannelReport, Finding, PairReport, Section } from '../schema/inspection.ts';
import type { FindingCode, Severity } from '../schema/verdict.ts';
import { sayDecibels, sayNumber } from '../signal/sayDecibels.ts';
import { channelName } from './channelName.ts';
import { LEAST_CONFIDENCE } from './confidence.ts';
import { capital, describeDeadSide, sayOnly } from './sentences.ts';

// The boundaries of the findings (the contract of the terminal commands).
const HOT_DBTP = -1;
const LOW_LUFS = -40;
const DC_OFFSET = 0.005;
const UNBALANCED_LU = 1;
const MONO_LOSS_DB = 3;
const LATE_MS = 0.05;

interface FindingsInput {
  durationSeconds: number;
  sampleRate: number;
  reports: ChannelReport[];
  pairs: { report: PairReport; sections: Section[] }[];
  duplicates: number[][];
}

type Add = (code: FindingCode, severity: Severity, channels: number[], message: string, section?: Section) => void;

/** Everything worth a person's notice, the most pressing first. */
export function findingsOf({ durationSeconds, sampleRate, reports, pairs, duplicates }: FindingsInput): Finding[] {
  const findings: Finding[] = [];
  const add: Add = (code, severity, channels, sentence, section) => {
    // Of many channels it is said which two are meant.
    const message =
      reports.length > 2 && channels.length === 2 && code !== 'duplicate-channels'
        ? `Channels ${channels.join(' and ')}: ${sentence[0].toLowerCase()}${sentence.slice(1)}`
        : sentence;
    findings.push({
      code,
      severity,
      channels,
      startSeconds: section?.startSeconds ?? 0,
      endSeconds: section?.endSeconds ?? durationSeconds,
      message,
    });
  };
  for (const { report, sections } of pairs) {
    for (const section of sections) {
      if (dropsOut(section, sections)) addDropout(report, section, reports.length, add);
      else addVerdict(report, section, reports, add);
    }
    addPairFindings(report, reports, sampleRate, add);
  }
  if (reports.length === 1 && reports[0].content !== 'programme')
    add('silent', 'look', [1], 'This channel carries no programme.');
  for (const report of reports) addChannelFindings(report, reports.length, add);
  if (reports.length > 2) {
    for (const group of duplicates)
      add('duplicate-channels', 'note', group, `Channels ${group.join(' and ')} carry the same signal.`);
  }
  const order: Severity[] = ['fix', 'look', 'note'];
  return findings.sort(
    (a, b) => order.indexOf(a.severity) - order.indexOf(b.severity) || a.startSeconds - b.startSeconds,
  );
}

/** The verdicts that need a repair are findings by their own name, each where it holds. */
function addVerdict(pair: PairReport, section: Section, reports: ChannelReport[], add: Add): void {
  const [left, right] = pair.channels;
  const total = reports.length;
  switch (section.verdict) {
    case 'one-sided': {
      const [live, dead] = section.side === 'left' ? [left, right] : [right, left];
      const doubt = pair.verdict !== 'changing' && pair.confidence < LEAST_CONFIDENCE;
      const where = pair.verdict === 'changing' ? '' : ` ${describeDeadSide(reports[dead - 1], total, doubt)}`;
      // Of many channels it is said which two are compared: elsewhere there may be more.
      const among = total > 2 ? `Of channels ${left} and ${right} ` : '';
      const only = sayOnly(reports[dead - 1], doubt);
      return add(
        'one-sided',
        'fix',
        [dead],
        `${among}${among ? only.toLowerCase() : only} ${channelName(live, total)} carries ${among ? 'a' : 'the'} programme.${where}`,
        section,
      );
    }
    case 'silent':
      return total === 2
        ? add('silent', 'look', pair.channels, 'Neither side carries a programme.', section)
        : undefined;
    case 'dual-mono':
      return add(
        'dual-mono',
        'note',
        pair.channels,
        'Both sides carry the same signal at the same level and time.',
        section,
      );
    case 'fake-stereo':
      return add(
        'fake-stereo',
        'fix',
        pair.channels,
        `Both sides carry one signal${pair.disguise.length > 0 ? `, made to look different by ${listOf(pair.disguise)}` : ''}.`,
        section,
      );
    case 'two-mics':
      return add(
        'two-mics',
        'fix',
        pair.channels,
        'Two microphones stand on one stereo pair: played as it is, people sit at the far left and right.',
        section,
      );
    // Nothing to point at, or no verdict of a section.
    case 'stereo':
    case 'mono':
    case 'multichannel':
    case 'changing':
  }
}

/** A side that was there before or is there after is missing. */
function dropsOut(section: Section, sections: Section[]): boolean {
  const at = sections.indexOf(section);
  const whole = [sections[at - 1], sections[at + 1]].some(
    (other) => other && other.verdict !== 'silent' && other.verdict !== 'one-sided',
  );
  return section.verdict === 'one-sided' && whole;
}

function addDropout({ channels: [left, right] }: PairReport, section: Section, total: number, add: Add): void {
  const [lost, live] = section.side === 'left' ? [right, left] : [left, right];
  const name = total === 2 ? `the ${section.side} one` : channelName(live, total);
  add(
    'dropout',
    'fix',
    [lost],
    `${capital(channelName(lost, total))} drops out: only ${name} carries the programme.`,
    section,
  );
}

function addPairFindings(pair: PairReport, reports: ChannelReport[], sampleRate: number, add: Add): void {
  const [left, right] = pair.channels;
  const total = reports.length;
  const alike = pair.verdict === 'fake-stereo';
  if (alike && pair.disguise.includes('polarity'))
    add(
      'out-of-polarity',
      'fix',
      [right],
      `${capital(channelName(right, total))} is upside down: in mono the two cancel.`,
    );
  const delayMs = (1000 * pair.delaySamples) / sampleRate;
  if (alike && pair.disguise.includes('delay') && Math.abs(delayMs) >= LATE_MS) {
    const late = delayMs > 0 ? right : left;
    add(
      'late-side',
      'fix',
      [late],
      `${capital(channelName(late, total))} is ${sayNumber(Math.abs(delayMs), 2)} ms late.`,
    );
  }
  const even = pair.verdict === 'stereo' || pair.verdict === 'dual-mono' || alike;
  if (even && pair.balanceLu !== null && Math.abs(pair.balanceLu) >= UNBALANCED_LU) {
    const louder = pair.balanceLu > 0 ? left : right;
    const severity = alike ? 'fix' : Math.abs(pair.balanceLu) >= 3 * UNBALANCED_LU ? 'look' : 'note';
    add(
      'unbalanced',
      severity,
      pair.channels,
      `${capital(channelName(louder, total))} is ${sayDecibels(Math.abs(pair.balanceLu), 'LU')} louder.`,
    );
  }
  if (
    pair.verdict !== 'one-sided' &&
    pair.verdict !== 'silent' &&
    (pair.sumLossDb === null || pair.sumLossDb >= MONO_LOSS_DB)
  ) {
    add(
      'mono-loss',
      'look',
      pair.channels,
      `Summed to mono, this loses ${pair.sumLossDb === null ? 'everything' : sayDecibels(pair.sumLossDb, 'dB')}.`,
    );
  }
}

function addChannelFindings(report: ChannelReport, total: number, add: Add): void {
  const name = capital(channelName(report.channel, total));
  if (report.content !== 'programme' && total > 2)
    add(
      'silent-channel',
      'note',
      [report.channel],
      `${name} carries nothing${report.content === 'noise' ? ' but noise' : ''}.`,
    );
  if (report.clippedSamples > 0) {
    add('clipped', 'look', [report.channel], `${name} is clipped: ${report.clippedSamples} samples at full scale.`);
  }
  if (report.truePeakDbtp !== null && report.truePeakDbtp > HOT_DBTP) {
    add('hot', 'note', [report.channel], `${name} peaks at ${sayDecibels(report.truePeakDbtp, 'dBTP')}.`);
  }
  if (report.content === 'programme' && report.loudnessLufs !== null && report.loudnessLufs < LOW_LUFS) {
    add('low', 'note', [report.channel], `${name} is very quiet: ${sayDecibels(report.loudnessLufs, 'LUFS')}.`);
  }
  if (Math.abs(report.dcOffset) >= DC_OFFSET) {
    add(
      'dc-offset',
      'note',
      [report.channel],
      `${name} stands off zero by ${report.dcOffset.toFixed(3)} of full scale.`,
    );
  }
}

function listOf(parts: readonly string[]): string {
  return parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`;
}
