/**
 * Something a person can be told in one sentence: what happened, to which file, and the way
 * out. Every border (HTTP, queue, terminal) shows the message of a Refusal as it stands;
 * any other error is a defect of ours and is logged instead.
 */
export class Refusal extends Error {
  override name = 'Refusal';

  constructor(
    readonly code: RefusalCode,
    sentence: string,
  ) {
    super(sentence);
  }
}

export type RefusalCode =
  | 'not-found'
  | 'not-audio'
  | 'empty-file'
  | 'damaged'
  | 'not-allowed'
  | 'too-large'
  | 'no-room'
  | 'bad-request'
  | 'conflict'
  | 'exists'
  /** Something outside stopped it; the same may go well the next time. */
  | 'interrupted'
  | 'cancelled';
