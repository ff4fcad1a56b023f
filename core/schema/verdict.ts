import * as z from 'zod';

/** The one word for a pair of channels. */
export const PairVerdict = z.enum([
  'silent',
  'one-sided',
  'dual-mono',
  'fake-stereo',
  'two-mics',
  'stereo',
  'changing',
]);
export type PairVerdict = z.infer<typeof PairVerdict>;

/** The one word for a file: its pair's, or what its number of channels says. */
export const ClipVerdict = z.enum([...PairVerdict.options, 'mono', 'multichannel']);
export type ClipVerdict = z.infer<typeof ClipVerdict>;

export const Side = z.enum(['left', 'right']);
export type Side = z.infer<typeof Side>;

/** fix: wrong for delivery; look: a person must decide; note: fine to leave. */
export const Severity = z.enum(['fix', 'look', 'note']);
export type Severity = z.infer<typeof Severity>;
/** Most pressing first. */
export const SEVERITIES = Severity.options;

export const FindingCode = z.enum([
  ...PairVerdict.options,
  'clipped',
  'hot',
  'low',
  'dc-offset',
  'unbalanced',
  'swapped',
  'out-of-polarity',
  'late-side',
  'drift',
  'band-limited',
  'mono-loss',
  'mid-side',
  'dropout',
  'duplicate-channels',
  'silent-channel',
  'timecode',
  'tone',
  'hum',
  'interference',
]);
export type FindingCode = z.infer<typeof FindingCode>;

export const SuggestedAction = z.enum([
  'none',
  'fill',
  'select',
  'split',
  'swap',
  'sum',
  'invert',
  'align',
  'balance',
  'review',
]);
export type SuggestedAction = z.infer<typeof SuggestedAction>;
