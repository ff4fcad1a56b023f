import type { ConformLine, ConformReason } from '../schema/handoff.ts';

/** What was done to a recording, as far as it explains what is different about its file. */
export interface WhatWasAsked {
  /** Something was done to its sound. */
  isRepaired: boolean;
  /** Other channels or streams come of it. */
  changesChannels: boolean;
  isCut: boolean;
  /** It goes into another container, or its words into another form. */
  changesForm: boolean;
  /** A coder makes its sound anew, and loses something of it. */
  isCoded: boolean;
  sampleRate: number;
}

// A coder works in blocks, and puts some of them before and after: more than this is a fault.
const MOST_DELAY_SECONDS = 0.1;

const OF_A_STRETCH =
  /^(frames|duration|start timecode|picture (packets|frames)|clock begins|chapters?\b|chunk |tag (time_reference|timecode))|: (start|duration|content)/;
const OF_CHANNELS =
  /^(channels|channel layout|stream order|sound \d+:|chunk (iXML|chna)|tag (description|comment)|duration|frames)/;
const OF_CODING = /^(codec|bit depth)$|: (channel layout|codec)$/;
const OF_LENGTH = /^(frames|duration in seconds)$|^(sound|picture) \d+: (start|duration)$/;

/** Why a property differs; undefined where nothing explains it. */
export function reasonFor({ what, old, new: now }: ConformLine, asked: WhatWasAsked): ConformReason | undefined {
  const { isRepaired, changesChannels, isCut, changesForm, isCoded, sampleRate } = asked;
  if (/^chunk (levl|PEAK|MD5)$|umid$/.test(what)) return 'new-sound';
  if (/^chunk (bext|ID3)$/.test(what) && (isRepaired || changesForm)) return 'history';
  if (isRepaired && /^chunk iXML$|^sound \d+: (title|handler_name)$|^tag description$/.test(what)) return 'history';
  if (isCut && OF_A_STRETCH.test(what)) return 'cut';
  if (changesChannels && OF_CHANNELS.test(what)) return 'repair';
  if (changesForm) return now === null ? 'no-place' : 'form';
  if (!isCoded) return undefined;
  if (OF_CODING.test(what)) return 'coded';
  if (!OF_LENGTH.test(what)) return undefined;
  const apart = Math.abs(Number(now) - Number(old)) / (what === 'frames' ? sampleRate : 1);
  return apart < MOST_DELAY_SECONDS ? 'coder-delay' : undefined;
}

/** What a reason is called where it is shown. */
export const REASONS: Record<ConformReason, string> = {
  repair: 'as the repair has it',
  cut: 'only this stretch was asked for',
  form: 'another form was asked for',
  coded: 'the sound is re-encoded',
  'coder-delay': 'the coder works in blocks; the sound stays in step',
  history: 'says what is on it and what was done',
  'new-sound': 'belongs to the old sound',
  'no-place': 'not carried: this kind of file has no place for it',
};
