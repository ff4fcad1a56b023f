import * as z from 'zod';
import { ClipState, Sketch, SourceState } from './clip.ts';
import { ChannelContent } from './inspection.ts';
import { Setup } from './setup.ts';
import { ClipVerdict, Severity, Side, SuggestedAction } from './verdict.ts';

const Level = z.number().nullable();

export const LineupChannel = z.object({
  channel: z.int().min(1),
  content: ChannelContent,
  loudnessLufs: Level,
  peakDbfs: Level,
  noiseFloorDbfs: Level,
});
export type LineupChannel = z.infer<typeof LineupChannel>;

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
  telling: z.object({ startSeconds: z.number().nonnegative(), endSeconds: z.number().nonnegative() }),
});
export type LineupSummary = z.infer<typeof LineupSummary>;

/** new: nothing decided; kept: a repair is kept; written: its file is there; verified: and was read back and found equal. */
export const Handling = z.enum(['new', 'kept', 'written', 'verified']);
export type Handling = z.infer<typeof Handling>;

/** One clip as a row of the lineup. */
export const LineupRow = z.object({
  id: z.uuid(),
  projectId: z.uuid(),
  name: z.string(),
  fileName: z.string(),
  folder: z.string(),
  bytes: z.int().nonnegative(),
  state: ClipState,
  error: z.string().nullable(),
  linked: z.boolean(),
  sourceState: SourceState,
  hasStill: z.boolean(),
  summary: LineupSummary.nullable(),
  sketch: Sketch.nullable(),
  /** One a channel: what the setup says it carries, or the file itself. */
  channelNames: z.array(z.string().nullable()),
  /** What the kept repair is called. */
  kept: z.string().nullable(),
  handling: Handling,
  /** hh:mm:ss:ff, or hh:mm:ss where the frame rate is not known. */
  timecode: z.string().nullable(),
  setupId: z.uuid().nullable(),
  /** Its verdict is another than most of its setup's. */
  differs: z.boolean(),
  /** Another clip of the project with the same content. */
  sameAs: z.string().nullable(),
});
export type LineupRow = z.infer<typeof LineupRow>;

export const RowsWanted = z.object({ ids: z.array(z.uuid()).max(500) });
export type RowsWanted = z.infer<typeof RowsWanted>;

export const LineupColumn = z.enum(['came', 'verdict', 'name', 'length', 'channels', 'what', 'left', 'right', 'balance', 'suggestion', 'state', 'timecode']);
export type LineupColumn = z.infer<typeof LineupColumn>;

/** What a person may filter by: a verdict, or that a clip could not be read. */
export const LineupFilter = z.enum([...ClipVerdict.options, 'failed', 'open']);
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
});
export type Lineup = z.infer<typeof Lineup>;
