import type { EditEvent } from '@pocket-twin/core/edit/edit.ts';
import type { WrittenEdit } from '@pocket-twin/core/edit/eventOutcome.ts';
import { originOf } from '@pocket-twin/core/edit/usedStretches.ts';
import { markersCsv, markersFor, type MarkedEvent } from '@pocket-twin/core/edit/markers.ts';
import type { GivenEdit } from '@pocket-twin/core/schema/handoffRecord.ts';
import type { HandedOffRecording } from '@pocket-twin/core/schema/handedOffRecording.ts';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { editFrom } from './editFile.ts';
import type { FolderRecord } from './folderRecords.ts';
import { proveEdit } from './proveEdit.ts';

const MARKERS = 'markers.csv';

interface LinkOrder {
  folder: string;
  isInPlace: boolean;
  recordings: readonly HandedOffRecording[];
  records: readonly FolderRecord[];
  write: (path: string, text: string) => Promise<void>;
}

/** Writes edits again, pointing to what was handed off, and proves each as it lies there. */
export async function linkEdits(
  given: readonly GivenEdit[],
  { folder, isInPlace, recordings, records, write }: LinkOrder,
): Promise<WrittenEdit[]> {
  const bySource = new Map(records.map((record) => [record.recording.source, record]));
  const written: WrittenEdit[] = [];
  const marked: MarkedEvent[] = [];
  for (const { name, text, home, rate, markers } of given) {
    // They are counted from the recording's first sample, and its clips from where the edit begins to count.
    const markersOf = (event: EditEvent, recording: HandedOffRecording) => {
      const record = bySource.get(recording.source);
      const origin = originOf(event, recording);
      return record
        ? markersFor(record.receipt).map((one) => ({ ...one, startSeconds: origin + one.startSeconds }))
        : [];
    };
    const linked = editFrom(text, name, home, rate ?? undefined).link(
      recordings,
      isInPlace ? folder : null,
      markers ? markersOf : undefined,
    );
    await write(name, linked.text);
    const again = editFrom(await readFile(join(folder, name), 'utf8'), name, folder, rate ?? undefined);
    const proof = await proveEdit({ linked: linked.events, home, written: again.events, folder });
    written.push({ name, events: linked.events, proof });
    if (markers)
      marked.push(
        ...linked.events.flatMap(({ event, recording }) =>
          recording ? markersOf(event, recording).map((marker) => ({ edit: name, event, marker, rate })) : [],
        ),
      );
  }
  if (given.some(({ markers }) => markers)) await write(MARKERS, markersCsv(marked));
  return written;
}
