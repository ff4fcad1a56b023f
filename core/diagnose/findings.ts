import type { ChannelReport, Finding, PairReport } from '../schema/inspection.ts';
import type { FindingCode, Severity } from '../schema/verdict.ts';
import { sayDecibels } from '../signal/sayDecibels.ts';
import { channelName } from './channelName.ts';
import { describeDeadSide } from './sentences.ts';

const HOT_DBTP = -1;
const LOW_LUFS = -40;
const DC_OFFSET = 0.005;
const UNBALANCED_LU = 1;
const MONO_LOSS_DB = 3;

interface FindingsInput {
  durationSeconds: number;
  reports: ChannelReport[];
  pairs: { report: PairReport; doubt: string | null }[];
}

/** Everything worth a person's notice, the most pressing first. */
export function findingsOf({ durationSeconds, reports, pairs }: FindingsInput): Finding[] {
  const findings: Finding[] = [];
  const add = (code: FindingCode, severity: Severity, channels: number[], message: string): void => {
    findings.push({ code, severity, channels, startSeconds: 0, endSeconds: durationSeconds, message });
  };
  for (const { report, doubt } of pairs) addPairFindings(report, doubt, reports, add);
  for (const report of reports) addChannelFindings(report, reports.length, add);
  const order: Severity[] = ['fix', 'look', 'note'];
  return findings.sort((a, b) => order.indexOf(a.severity) - order.indexOf(b.severity));
}

type Add = (code: FindingCode, severity: Severity, channels: number[], message: string) => void;

function addPairFindings(pair: PairReport, doubt: string | null, reports: ChannelReport[], add: Add): void {
  const [left, right] = pair.channels;
  const total = reports.length;
  switch (pair.verdict) {
    case 'one-sided': {
      const live = pair.side === 'left' ? left : right;
      const dead = reports[(pair.side === 'left' ? right : left) - 1];
      add('one-sided', 'fix', [dead.channel], `Only ${channelName(live, total)} carries the programme. ${describeDeadSide(dead, total)}`);
      break;
    }
    case 'silent':
      if (total === 2) add('silent', 'look', pair.channels, 'Neither side carries a programme.');
      break;
    case 'dual-mono':
      add('dual-mono', 'note', pair.channels, 'Both sides carry the same signal at the same level and time.');
      break;
    default:
      if (doubt) add('stereo', 'look', pair.channels, doubt);
      if (pair.balanceLu !== null && Math.abs(pair.balanceLu) >= UNBALANCED_LU) {
        const louder = pair.balanceLu > 0 ? left : right;
        const severity = Math.abs(pair.balanceLu) >= 3 * UNBALANCED_LU ? 'look' : 'note';
        add('unbalanced', severity, pair.channels, `${capital(channelName(louder, total))} is ${sayDecibels(Math.abs(pair.balanceLu), 'LU')} louder.`);
      }
  }
  if (pair.verdict === 'stereo' && (pair.sumLossDb === null || pair.sumLossDb >= MONO_LOSS_DB)) {
    add('mono-loss', 'look', pair.channels, `Summed to mono, this loses ${pair.sumLossDb === null ? 'everything' : sayDecibels(pair.sumLossDb, 'dB')}.`);
  }
}

function addChannelFindings(report: ChannelReport, total: number, add: Add): void {
  const name = capital(channelName(report.channel, total));
  if (report.content === 'silent' && total > 2) add('silent-channel', 'note', [report.channel], `${name} is silent.`);
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
    add('dc-offset', 'note', [report.channel], `${name} stands off zero by ${report.dcOffset.toFixed(3)} of full scale.`);
  }
}

function capital(text: string): string {
  return text[0].toUpperCase() + text.slice(1);
}
