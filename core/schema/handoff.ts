import * as z from 'zod';
import { EditProof } from './editProof.ts';
import { HandedOffFileFacts } from './handedOffRecording.ts';
import { Receipt } from './receipt.ts';

/** Why something of a new file is otherwise than the old one's. */
export const ConformReason = z.enum([
  /** The repair makes other channels. */
  'repair',
  /** Only a stretch of the recording was asked for. */
  'cut',
  /** Another form or depth was asked for. */
  'form',
  /** The container holds no plain words, so the sound is coded anew. */
  'coded',
  /** A coder puts so much before the first sample; the sound stays in step. */
  'coder-delay',
  /** What says what was done is written anew. */
  'history',
  /** It belongs to the recording that it was made for, and new sound gets its own. */
  'new-sound',
  /** The container has no place for it. */
  'no-place',
]);
export type ConformReason = z.infer<typeof ConformReason>;

/** One thing of a new file beside the old one's. */
export const ConformLine = z.object({
  what: z.string(),
  old: z.union([z.string(), z.number()]).nullable(),
  new: z.union([z.string(), z.number()]).nullable(),
  equal: z.boolean(),
  /** Why it differs, where that is known and meant: what the repair did, or what a container or coder does. */
  why: ConformReason.optional(),
});
export type ConformLine = z.infer<typeof ConformLine>;

/** What is usual for sound that must be coded, in kbit/s for each channel. */
export const USUAL_CODED_KBITS = 160;

/** What the files are: as each source is, or all of one kind. */
export const HandoffFormat = z.enum(['same', 'wav', 'flac', 'aiff']);
export type HandoffFormat = z.infer<typeof HandoffFormat>;

/** On which streams and channels the sound is: those that each file had, or those that its repair makes. */
export const HandoffTracks = z.enum(['same', 'repaired']);
export type HandoffTracks = z.infer<typeof HandoffTracks>;

export const HandoffBits = z.enum(['same', '16', '24', '32', '32f']);
export type HandoffBits = z.infer<typeof HandoffBits>;

/** Where the files go: into an allowed folder, into a folder of their own beside the originals, or to whoever fetches the archive. */
const HandoffPlace = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('folder'),
    root: z.int().nonnegative(),
    /** Within that folder; the handoff gets one of its own name in there. */
    path: z.string().max(2000).default(''),
  }),
  z.object({ kind: z.literal('beside') }),
  z.object({ kind: z.literal('download') }),
]);

export const HandoffWanted = z.object({
  /** Also what its folder is called. */
  name: z.string().trim().min(1, 'Give the handoff a name.').max(120, 'Keep the name under 120 letters.'),
  /** null for all clips of the project. */
  clipIds: z.array(z.uuid()).min(1).max(10_000).nullable().default(null),
  /** Clips that need nothing come along, so that the folder is complete. */
  untouched: z.boolean().default(true),
  place: HandoffPlace,
  /** null keeps each file's own name. */
  pattern: z.string().max(300).nullable().default(null),
  format: HandoffFormat.default('same'),
  bits: HandoffBits.default('same'),
  /** null: the same for films and for what the edit uses. */
  tracks: HandoffTracks.nullable().default(null),
  /** For containers that take coded sound alone (MP4, WebM): kbit/s for each channel. */
  codedKbits: z.int().min(48).max(256).default(USUAL_CODED_KBITS),
  /** The project's edit comes along, pointing to the new files. */
  withEdit: z.boolean().default(true),
  /** What is added to what becomes mono, where the receiving program plays mono in the middle so much softer. */
  monoGainDb: z.union([z.literal(0), z.literal(3), z.literal(4.5), z.literal(6)]).default(0),
  /** The new files are as old as the recordings. */
  keepsTimes: z.boolean().default(false),
  /** What was found and done comes as markers in the edit, and as a list. */
  markers: z.boolean().default(false),
  /** Only what the edit uses, with so many seconds before and after; null is all of each clip. */
  handlesSeconds: z.number().min(0).max(3600).nullable().default(null),
});
export type HandoffWanted = z.infer<typeof HandoffWanted>;

const Left = z.object({ clipId: z.uuid(), name: z.string(), why: z.string() });

const EventStateCode = z.enum(['same', 'repaired', 'relaid', 'loses', 'waits', 'picture', 'missing', 'ambiguous']);

/** What would become of one event of the edit. */
const ForecastEvent = z.object({
  name: z.string(),
  clipId: z.uuid().nullable(),
  track: z.string().nullable(),
  recordStartSeconds: z.number().nullable(),
  recordEndSeconds: z.number().nullable(),
  state: EventStateCode,
  /** The channels of the old file's sound streams. */
  streams: z.array(z.int()),
  files: z.array(HandedOffFileFacts),
  lost: z.array(z.int()),
});
export type ForecastEvent = z.infer<typeof ForecastEvent>;

/** What a handoff would do, before anything is done. */
export const HandoffForecast = z.object({
  /** The folder that it would make, as it is called on this machine; null for an archive. */
  folder: z.string().nullable(),
  files: z.array(
    z.object({
      clipId: z.uuid(),
      name: z.string(),
      /** What is done to it: "Fill right from left", "As it is". */
      what: z.string(),
      paths: z.array(z.string()),
      /** What is worth knowing of it, one sentence each. */
      notes: z.array(z.string()),
    }),
  ),
  /** What becomes of the edit that comes along, event by event; null where none does. */
  edit: z
    .object({
      name: z.string(),
      events: z.array(ForecastEvent),
      /** Tracks that are added, for further files of clips. */
      addedTracks: z.int().nonnegative(),
    })
    .nullable(),
  /** Clips about which a person has to decide first. */
  undecided: z.array(Left),
  /** Clips that stay out for another reason. */
  leftOut: z.array(Left),
  /** What the files take at most, and what is free there; null where that is not known. */
  /** Files of an earlier handoff that give way. */
  replaces: z.int().nonnegative(),
  bytes: z.int().nonnegative(),
  roomBytes: z.int().nullable(),
  /** Why it cannot begin, in a sentence; null where it can. */
  problem: z.string().nullable(),
});
export type HandoffForecast = z.infer<typeof HandoffForecast>;

/** held: it waits by itself until there is room, or the folder is there again. finishing: receipts and checksums are being written. */
export const HandoffState = z.enum(['running', 'paused', 'held', 'finishing', 'done', 'cancelled']);
export type HandoffState = z.infer<typeof HandoffState>;

export const HandoffFileState = z.enum(['waiting', 'writing', 'done', 'failed', 'cancelled']);
export type HandoffFileState = z.infer<typeof HandoffFileState>;

/** How the edit came out. */
export const EditLinked = z.object({
  name: z.string(),
  events: z.int().nonnegative(),
  matched: z.int().nonnegative(),
  missing: z.array(z.string()),
  ambiguous: z.array(z.string()),
  /** How many point to new files; an earlier version did not count them. */
  replaced: z.int().nonnegative().nullable().default(null),
  /** Events in which a channel that carries sound of its own is left out. */
  loses: z.array(z.string()).default([]),
  /** null where an earlier version wrote it. */
  proof: EditProof.nullable().default(null),
});
export type EditLinked = z.infer<typeof EditLinked>;

export const Handoff = z.object({
  id: z.uuid(),
  projectId: z.uuid(),
  name: z.string(),
  wanted: HandoffWanted,
  folder: z.string().nullable(),
  state: HandoffState,
  /** Why it is held, or what went wrong at the end. */
  said: z.string().nullable(),
  files: z.record(HandoffFileState, z.int().nonnegative()),
  edit: EditLinked.nullable(),
  createdAt: z.iso.datetime(),
  finishedAt: z.iso.datetime().nullable(),
});
export type Handoff = z.infer<typeof Handoff>;

export const HandoffFile = z.object({
  id: z.uuid(),
  /** null where the clip is gone for good. */
  clipId: z.uuid().nullable(),
  name: z.string(),
  what: z.string(),
  state: HandoffFileState,
  error: z.string().nullable(),
  paths: z.array(z.string()),
  /** Of the first file: old against new. */
  conform: z.array(ConformLine),
  /** "every sample is the original's": what was proven. */
  proof: z.string().nullable(),
});
export type HandoffFile = z.infer<typeof HandoffFile>;

/** What was done to one clip, with everything that was measured. */
export const HandoffReceipt = z.object({ file: HandoffFile, receipt: Receipt });
export type HandoffReceipt = z.infer<typeof HandoffReceipt>;

export const HandoffDetail = Handoff.extend({ list: z.array(HandoffFile) });
export type HandoffDetail = z.infer<typeof HandoffDetail>;

export const HandoffStep = z.object({ step: z.enum(['pause', 'go-on', 'cancel', 'try-failed']) });
export type HandoffStep = z.infer<typeof HandoffStep>;

export const HandoffFolder = z.object({ index: z.int().nonnegative(), name: z.string(), path: z.string() });
export type HandoffFolder = z.infer<typeof HandoffFolder>;

/** Whether what was handed off is still what it was. */
export const Verified = z.object({
  files: z.int().nonnegative(),
  changed: z.array(z.string()),
  missing: z.array(z.string()),
  /** What lies there and no handoff put there. */
  unnamed: z.array(z.string()).default([]),
});
export type Verified = z.infer<typeof Verified>;
