import { proofSentence } from '@pocket-twin/core/edit/proofSentence.ts';
import { isProven } from '@pocket-twin/core/schema/editProof.ts';
import type {
  EditLinked,
  ForecastEvent,
  Handoff,
  HandoffFile,
  HandoffForecast,
} from '@pocket-twin/core/schema/handoff.ts';

/** What becomes of the edit that comes along, in one sentence. */
export function forecastEditSentence({ name, events, addedTracks }: NonNullable<HandoffForecast['edit']>): string {
  const count = (state: ForecastEvent['state']): number => events.filter((event) => event.state === state).length;
  const loses = count('loses');
  if (loses > 0)
    return `${name}: ${loses === 1 ? '1 event loses' : `${loses} events lose`} a channel that carries sound of its own. Look at them before you hand off.`;
  const replaced = events.filter(({ files }) => files.length > 0).length;
  const parts = [
    `${replaced} of ${events.length} events point to the new files`,
    ...(addedTracks > 0 ? [addedTracks === 1 ? '1 track is added' : `${addedTracks} tracks are added`] : []),
    ...(count('waits') > 0 ? [count('waits') === 1 ? '1 waits for you' : `${count('waits')} wait for you`] : []),
    ...(count('missing') > 0 ? [`${count('missing')} not found`] : []),
    ...(count('ambiguous') > 0 ? [`${count('ambiguous')} fit several clips`] : []),
  ];
  return `${name}: ${parts.join('; ')}.`;
}

/** How the edit that came along came out; the tone says whether somebody should look. */
export function editOutcome({ name, events, replaced, matched, missing, ambiguous, loses, proof }: EditLinked): {
  tone: 'fine' | 'look' | 'fix';
  sentences: string[];
} {
  const count = `${name}: ${replaced ?? matched} of ${events} events point to the new files.`;
  const off = [
    ...(loses.length > 0 ? [`These lose a channel that carries sound of its own: ${loses.join(', ')}.`] : []),
    ...(missing.length > 0 ? [`Not found: ${missing.join(', ')}.`] : []),
    ...(ambiguous.length > 0 ? [`Several clips fit: ${ambiguous.join(', ')}.`] : []),
  ];
  const proven = proof ? [proofSentence({ name, proof })] : [];
  const tone =
    proof && proof.faults.length > 0 ? 'fix' : off.length > 0 || !proof || !isProven(proof) ? 'look' : 'fine';
  return { tone, sentences: [count, ...proven, ...off] };
}

function filesIn({ files }: Pick<Handoff, 'files'>): number {
  return Object.values(files).reduce((sum, count) => sum + count, 0);
}

/** How a handoff stands, in a word or two. */
export function handoffStateWords(handoff: Handoff): string {
  const { state, files } = handoff;
  const done = `${files.done} of ${filesIn(handoff)}`;
  switch (state) {
    case 'running':
      return done;
    case 'paused':
      return `paused at ${done}`;
    case 'held':
      return `waits at ${done}`;
    case 'finishing':
      return 'ending';
    case 'cancelled':
      return `cancelled at ${done}`;
    case 'done':
      return files.failed > 0 ? `${files.failed} failed` : `${files.done} done`;
  }
}

/** How a handoff stands, in one sentence. */
export function handoffHeadline(handoff: Handoff): string {
  const { state, name, files } = handoff;
  const tone = handoff.edit ? editOutcome(handoff.edit).tone : 'fine';
  const edit = tone === 'fine' ? '' : tone === 'fix' ? ' The edit is not right.' : ' The edit needs a look.';
  const total = filesIn(handoff);
  const done = `${files.done} of ${total === 1 ? '1 clip' : `${total} clips`}`;
  const failed = files.failed === 0 ? '' : `, ${files.failed} failed`;
  switch (state) {
    case 'running':
      return `Handing off “${name}”: ${done}${failed}.`;
    case 'paused':
      return `“${name}” is paused: ${done} are there${failed}.`;
    case 'held':
      return `“${name}” waits: ${done} are there${failed}.`;
    case 'finishing':
      return `“${name}” is ending: receipts and checksums.`;
    case 'cancelled':
      return `“${name}” was cancelled: ${done} stay, with their proof${failed}.`;
    case 'done':
      if (failed) return `“${name}”: ${done} are handed off${failed}.`;
      return total === 1
        ? `“${name}”: the clip is handed off, and proven.${edit}`
        : `“${name}”: all ${total} clips are handed off, and proven.${edit}`;
  }
}

/** What became of one file, in a word. */
export const FILE_STATES: Record<HandoffFile['state'], string> = {
  waiting: 'Waiting',
  writing: 'Writing',
  done: 'Proven',
  failed: 'Failed',
  cancelled: 'Cancelled',
};
