import { repairName } from '../repair/plan/describe.ts';
import type { Receipt } from '../schema/receipt.ts';
import type { FrameRate } from '../time/frameRates.ts';
import { timecodeFromSeconds } from '../time/timecode.ts';
import type { EditEvent, EditMarker } from './edit.ts';

/** What was found on a recording and what was done to it, to be seen on its clips: from its first sample. */
export function markersFor({ before, repair }: Receipt): EditMarker[] {
  const done: EditMarker = {
    name: repairName(repair),
    comment: 'Done by Pocket Twin',
    startSeconds: 0,
    durationSeconds: before.format.durationSeconds,
  };
  return [
    ...(repair.action === 'leave' ? [] : [done]),
    ...before.findings.map((finding) => ({
      name: finding.code,
      comment: finding.message,
      startSeconds: finding.startSeconds,
      durationSeconds: Math.max(0, finding.endSeconds - finding.startSeconds),
    })),
  ];
}

/** A marker on a clip of an edit. */
export interface MarkedEvent {
  edit: string;
  event: EditEvent;
  marker: EditMarker;
  rate: FrameRate | null;
}

const COLUMNS = ['edit', 'track', 'clip', 'record in', 'record out', 'source in', 'source out', 'marker', 'comment'];
const DEFAULT_RATE: FrameRate = { numerator: 25, denominator: 1, dropFrame: false };

/** As RFC 4180 has it, with a head; only what of each marker lies within its event. */
export function markersCsv(marked: readonly MarkedEvent[]): string {
  const rows = marked.flatMap(({ edit, event, marker, rate }) => {
    const { startSeconds, endSeconds, recordStartSeconds } = event;
    if (startSeconds === null || endSeconds === null) return [];
    const from = Math.max(startSeconds, marker.startSeconds);
    const to = Math.min(endSeconds, marker.startSeconds + marker.durationSeconds);
    if (to < from) return [];
    const clock = (seconds: number): string => timecodeFromSeconds(seconds, rate ?? DEFAULT_RATE);
    const record = (seconds: number): string =>
      recordStartSeconds === null ? '' : clock(recordStartSeconds + seconds - startSeconds);
    return [
      [
        ...[edit, event.track ?? '', event.name ?? event.target ?? event.reel ?? ''],
        ...[record(from), record(to), clock(from), clock(to), marker.name, marker.comment],
      ],
    ];
  });
  return [COLUMNS, ...rows].map((row) => row.map(field).join(',')).join('\r\n') + '\r\n';
}

function field(text: string): string {
  return /[",\r\n]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text;
}
