import { isProven, type EditFault, type EditFaultCode } from '../schema/editProof.ts';
import { sayTime } from '../time/sayTime.ts';
import type { EventState, WrittenEdit } from './eventOutcome.ts';

const FAULTS: Record<EditFaultCode, string> = {
  'lost-event': 'its clip is missing',
  'lost-track': 'the track with its further file is missing',
  shifted: 'its clip is at another time',
  'wrong-file': 'another file is in its place',
  dangling: 'its file is not where the edit says',
  added: 'the edit plays something that was not there before',
  silent: 'the old edit sounds there and the new one does not',
  balance: 'left and right are balanced differently, and no repair did that',
};

/** What became of an event, in two or three words. */
export const EVENT_STATES: Record<EventState, string> = {
  same: 'Same sound',
  repaired: 'Repaired',
  relaid: 'Other channels',
  loses: 'Loses a channel',
  waits: 'Waits for you',
  picture: 'Keeps its picture',
  missing: 'Not found',
  ambiguous: 'Several clips fit',
};

/** "At 00:12.0, talk.wav: the track with its further file is missing." */
export function faultSentence({ code, name, startSeconds }: EditFault): string {
  const place = startSeconds === null ? '' : `At ${sayTime(startSeconds, 1)}`;
  const subject = [place, name].filter((part) => part !== '').join(', ');
  return `${subject === '' ? 'Somewhere' : subject}: ${FAULTS[code]}.`;
}

/** Whether an edit as it was written plays what the old one played, in a sentence. */
export function proofSentence({ name, proof }: Pick<WrittenEdit, 'name' | 'proof'>): string {
  const { faults, unresolved } = proof;
  if (faults.length > 0) {
    const more = faults.length > 1 ? ` And ${faults.length - 1} more.` : '';
    return `${name} does not play what the old edit played. ${faultSentence(faults[0])}${more}`;
  }
  if (unresolved.length > 0)
    return `${name} points to ${unresolved.length === 1 ? 'a file' : `${unresolved.length} files`} that could not be found, as the old edit did: ${unresolved.join(', ')}.`;
  return `${name} was played through against the old edit: no moment of sound is missing.`;
}

/** Whether nothing is lost and nothing is in doubt. */
export function isEditFine({ events, proof }: WrittenEdit): boolean {
  return isProven(proof) && !events.some(({ state }) => state === 'loses');
}
