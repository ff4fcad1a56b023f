import type { EventOutcome, LinkedEvent, WrittenEdit } from '../edit/eventOutcome.ts';
import { nameOfEvent } from '../edit/edit.ts';
import { layoutWords } from '../edit/layoutWords.ts';
import { EVENT_STATES, faultSentence, isEditFine, proofSentence } from '../edit/proofSentence.ts';
import { sayTime } from '../time/sayTime.ts';
import { xml } from './manifest.ts';

/** An edit on the page to read: what it plays now, event by event, and whether that was proven. */
export function editSection(edit: WrittenEdit): string {
  const rows = edit.events.map((linked) => {
    const { event, state } = linked;
    const { recordStartSeconds: start } = event;
    const isOff = state === 'loses' || state === 'missing' || state === 'ambiguous';
    return `<tr><td>${start === null ? '' : sayTime(start, 1)}</td><td>${xml(event.track ?? '')}</td><td>${xml(nameOfEvent(event))}<br>${xml(oldChannels(linked))}</td><td>${newFiles(linked)}</td><td class="${isOff ? 'differs' : 'equal'}">${EVENT_STATES[state]}</td></tr>`;
  });
  return `<section>
<h2>${xml(edit.name)}</h2>
<p class="${isEditFine(edit) ? 'equal' : 'differs'}">${xml(proofSentence(edit))}</p>
${edit.proof.faults.map((fault) => `<p class="differs">${xml(faultSentence(fault))}</p>`).join('')}
<table><thead><tr><th scope="col">Film</th><th scope="col">Track</th><th scope="col">Old media</th><th scope="col">New media, channel by channel</th><th></th></tr></thead><tbody>${rows.join('')}</tbody></table>
</section>`;
}

function oldChannels({ recording }: LinkedEvent): string {
  return recording ? layoutWords(recording.streams) : '';
}

/** "talk-left.wav: 1 from 1". */
function newFiles({ files, lost }: EventOutcome): string {
  const lines = files.map(({ path, streams }) => `${path}: ${channelWords(streams)}`);
  return [...lines, ...(lost.length > 0 ? [`channel ${lost.join(', ')} is left out`] : [])].map(xml).join('<br>');
}

/** Each channel of a file, and what it is made from. */
function channelWords(streams: readonly number[][][]): string {
  return streams
    .flat()
    .map((from, i) => `${i + 1} from ${from.length === 0 ? 'silence' : from.join(' + ')}`)
    .join(', ');
}
