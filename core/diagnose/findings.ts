import type { ChannelReport, Finding, Section } from '../schema/inspection.ts';
import { PairVerdict, SEVERITIES, type FindingCode } from '../schema/verdict.ts';
import { capital, channelName } from './channelName.ts';
import type { Noticed, PairFacts } from './catalogue/entry.ts';
import { droppedOut, FINDINGS, type FindingEntry } from './catalogue/findings.ts';
import { VERDICTS } from './catalogue/verdicts.ts';

interface FindingsInput {
  durationSeconds: number;
  reports: ChannelReport[];
  /** Each with the sections of its own pair. */
  pairs: PairFacts[];
  duplicates: number[][];
}

const ENTRIES = Object.entries(FINDINGS) as [FindingCode, FindingEntry][];

/** Everything worth a person's notice, the most pressing first. */
export function findingsOf({ durationSeconds, reports, pairs, duplicates }: FindingsInput): Finding[] {
  const findings: Finding[] = [];
  const add = (code: FindingCode, noticed: Noticed | null, section?: Section): void => {
    if (!noticed) return;
    const { startSeconds, endSeconds } = section ?? { startSeconds: 0, endSeconds: durationSeconds };
    findings.push({ code, startSeconds, endSeconds, ...noticed, message: saidOf(noticed, code, reports.length) });
  };
  for (const facts of pairs) {
    for (const section of facts.sections) addSection(facts, section, add);
    for (const { side, startSeconds, endSeconds } of facts.losses)
      add('dropout', droppedOut(facts, side === 'left' ? 'right' : 'left'), {
        ...{ startSeconds, endSeconds, verdict: 'one-sided' },
        side: side === 'left' ? 'right' : 'left',
      });
    for (const [code, entry] of ENTRIES) if (entry.of === 'pair') add(code, entry.notice(facts));
  }
  if (reports.length === 1 && reports[0].content !== 'programme')
    add('silent', { severity: 'look', channels: [1], message: 'This channel carries no programme.' });
  for (const report of reports) {
    const name = capital(channelName(report.channel, reports.length));
    for (const [code, entry] of ENTRIES) {
      const noticed = entry.of === 'channel' ? entry.notice(report, name, reports.length) : null;
      add(code, noticed && { ...noticed, channels: [report.channel] });
    }
  }
  for (const [code, entry] of ENTRIES)
    if (entry.of === 'clip') for (const noticed of entry.notice(reports, duplicates)) add(code, noticed);
  return findings.sort(
    (a, b) => SEVERITIES.indexOf(a.severity) - SEVERITIES.indexOf(b.severity) || a.startSeconds - b.startSeconds,
  );
}

/** A part of a pair is noticed by what happens in it, or else by its verdict. */
function addSection(
  facts: PairFacts,
  section: Section,
  add: (code: FindingCode, noticed: Noticed | null, section: Section) => void,
): void {
  for (const [code, entry] of ENTRIES) {
    const noticed = entry.of === 'section' ? entry.notice(facts, section) : null;
    if (noticed) return add(code, noticed, section);
  }
  const verdict = PairVerdict.parse(section.verdict);
  add(verdict, VERDICTS[verdict].finding(facts, section), section);
}

/** Of many channels it is said which two are meant. */
function saidOf({ channels, message }: Noticed, code: FindingCode, total: number): string {
  return total > 2 && channels.length === 2 && code !== 'duplicate-channels'
    ? `Channels ${channels.join(' and ')}: ${message[0].toLowerCase()}${message.slice(1)}`
    : message;
}
