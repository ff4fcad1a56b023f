import { SecondsSpan } from '../time/spans.ts';
import * as z from 'zod';
import { ClipState, SourceState } from './clip.ts';
import { Sketch } from './sketch.ts';
import { ChannelContent } from './inspection.ts';
import { History } from './batch.ts';
import { ProjectEdit } from './edit.ts';
import { Setup } from './setup.ts';
import { ClipVerdict, Severity, Side, SuggestedAction } from './verdict.ts';

const Level = z.number().nullable();

const LineupChannel = z.object({
  channel: z.int().min(1),
  content: ChannelContent,
  loudnessLufs: Level,
  peakDbfs: Level,
  noiseFloorDbfs: Level,
});

/** What a list needs of an inspection. Kept beside it, so that a list of thousands reads none of them. */
export const LineupSummary = z.object({
  verdict: ClipVerdict,
  side: Side.nullable(),
  /** The most pressing severity among the findings. */
  severity: Severity.nullable(),
  headline: z.string(),
  fact: z.string(),
  cause: z.string().nullable(),
  warning: z.string().nullable(),
  durationSeconds: z.number().nonnegative(),
  frames: z.int().nonnegative(),
  sampleRate: z.int().positive(),
  bitDepth: z.int().nullable(),
  codec: z.string(),
  hasVideo: z.boolean(),
  channels: z.array(LineupChannel),
  /** Of the first pair. */
  balanceLu: Level,
  /** `name` is what the repair is called; null where a person must decide or nothing needs doing. */
  suggestion: z.object({ action: SuggestedAction, name: z.string().nullable() }),
  /** The ten seconds that tell most about the clip. */
  telling: SecondsSpan,
});
export type LineupSummary = z.infer<typeof LineupSummary>;

/**
 * Where a clip stands on its way, decided by `core/lineup/standing.ts` alone. open: a repair is suggested and nothing is decided; look: a person must
 * decide; kept: a repair is kept; written: its files are there and were read back as they should be; fine: nothing needs doing.
 */
export const Standing = z.enum(['open', 'look', 'kept', 'written', 'fine', 'measuring', 'unreadable']);
export type Standing = z.infer<typeof Standing>;

/** One clip as it is sorted, searched, filtered and counted: all clips of a project are had in this form at once. */
export const LineupEntry = z.object({
  id: z.uuid(),
  name: z.string(),
  fileName: z.string(),
  folder: z.string(),
  setupId: z.uuid().nullable(),
  standing: Standing,
  /** The most pressing severity among the findings. */
  severity: Severity.nullable(),
  verdict: ClipVerdict.nullable(),
  side: Side.nullable(),
  headline: z.string().nullable(),
  fact: z.string().nullable(),
  cause: z.string().nullable(),
  error: z.string().nullable(),
  /** What the suggested repair is called; null where a person must decide or nothing needs doing. */
  suggestion: z.string().nullable(),
  /** What the kept repair is called. */
  kept: z.string().nullable(),
  durationSeconds: z.number().nonnegative().nullable(),
  channels: z.int().nonnegative().nullable(),
  leftLufs: Level,
  rightLufs: Level,
  balanceLu: Level,
  /** After midnight; null where the file does not say. */
  startSeconds: z.number().nonnegative().nullable(),
  /** It starts at a timecode of which nobody knows the frame rate. */
  wantsFrameRate: z.boolean(),
  /** The linked file has moved or changed. */
  lost: z.boolean(),
  /** When it came, in milliseconds since 1970. */
  cameAtMs: z.number(),
});
export type LineupEntry = z.infer<typeof LineupEntry>;

/** One clip as a row of the lineup. */
export const LineupRow = LineupEntry.extend({
  projectId: z.uuid(),
  bytes: z.int().nonnegative(),
  state: ClipState,
  linked: z.boolean(),
  sourceState: SourceState,
  hasStill: z.boolean(),
  summary: LineupSummary.nullable(),
  sketch: Sketch.nullable(),
  /** One a channel: what the setup says it carries, or the file itself. */
  channelNames: z.array(z.string().nullable()),
  /** The last time that the kept repair was written it read back differently. */
  readBackDiffers: z.boolean(),
  /** hh:mm:ss:ff, or hh:mm:ss where the frame rate is not known. */
  timecode: z.string().nullable(),
  /** Another clip of the project with the same content. */
  sameAs: z.string().nullable(),
});
export type LineupRow = z.infer<typeof LineupRow>;

export const RowsWanted = z.object({ ids: z.array(z.uuid()).max(500) });
export type RowsWanted = z.infer<typeof RowsWanted>;

export const LineupColumn = z.enum([
  'came',
  'verdict',
  'name',
  'length',
  'channels',
  'what',
  'left',
  'right',
  'balance',
  'suggestion',
  'state',
  'timecode',
]);
export type LineupColumn = z.infer<typeof LineupColumn>;

/** What a person may filter by: where a clip stands, whether the edit uses it, or a verdict. */
export const LineupFilter = z.enum([...Standing.options, 'in-edit', ...ClipVerdict.options]);
export type LineupFilter = z.infer<typeof LineupFilter>;

const Flag = z.union([z.boolean(), z.enum(['true', 'false']).transform((word) => word === 'true')]);

export const LineupQuery = z.object({
  sort: LineupColumn.default('came'),
  descending: Flag.default(false),
  search: z.string().max(200).default(''),
  only: LineupFilter.optional(),
  grouped: Flag.default(true),
});
export type LineupQuery = z.infer<typeof LineupQuery>;

export const LineupHead = z.object({ headline: z.string(), detail: z.string() });
export type LineupHead = z.infer<typeof LineupHead>;

/** Two files that look like the left and the right of one recording. */
export const PairProposal = z.object({
  leftId: z.uuid(),
  rightId: z.uuid(),
  left: z.string(),
  right: z.string(),
  state: z.enum(['proposed', 'accepted', 'declined']),
});
export type PairProposal = z.infer<typeof PairProposal>;
export const PairAnswer = z.object({ leftId: z.uuid(), rightId: z.uuid(), accept: z.boolean() });
export type PairAnswer = z.infer<typeof PairAnswer>;

/** The order of a project's clips for one way of looking at them; the rows themselves come by their ids. */
export const Lineup = z.object({
  head: LineupHead,
  /** All clips of the project, and those that search and filter leave. */
  total: z.int().nonnegative(),
  shown: z.int().nonnegative(),
  /** Clips for each filter, among those that the search leaves. */
  counts: z.partialRecord(LineupFilter, z.int()),
  setups: z.array(Setup),
  /** One a setup, in the order of their first clip; a single one where grouping is not asked for. */
  groups: z.array(z.object({ setupId: z.uuid().nullable(), ids: z.array(z.uuid()) })),
  /** Clips that start at a timecode of which nobody knows the frame rate. */
  withoutFrameRate: z.int().nonnegative(),
  pairs: z.array(PairProposal),
  /** null where none was read. */
  edit: ProjectEdit.nullable(),
});
export type Lineup = z.infer<typeof Lineup>;

/** All that the lineup is made from, but what only rows in sight show: sorting, searching and filtering need no server. */
export const LineupIndex = z.object({
  entries: z.array(LineupEntry),
  setups: z.array(Setup),
  pairs: z.array(PairProposal),
  history: History,
  edit: ProjectEdit.nullable(),
});
export type LineupIndex = z.infer<typeof LineupIndex>;
