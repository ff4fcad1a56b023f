import * as z from 'zod';
import { ConformLine } from './handoff.ts';
import { HandedOffRecording } from './handedOffRecording.ts';

/** Of a file as it was written. */
const Checksums = z.object({
  bytes: z.int().nonnegative(),
  modifiedAt: z.iso.datetime(),
  sha256: z.string(),
  xxh128: z.string(),
});

/** By which call a recording was handed off, and what its file was then: a call that was cut short is gone on with by this. */
export const HandoffCall = z.object({ key: z.string(), bytes: z.int(), modifiedMs: z.int() });
export type HandoffCall = z.infer<typeof HandoffCall>;

/** What a receipt's file holds beside the receipt, for whoever hands off into the folder again. */
export const HandoffRecord = z.object({
  version: z.literal(1),
  recording: HandedOffRecording,
  /** Others that its files hold: the right side of a left one. */
  also: z.array(HandedOffRecording).default([]),
  /** Its files, within the folder. */
  files: z.array(z.object({ path: z.string(), conform: z.array(ConformLine), checksums: Checksums })).min(1),
  call: HandoffCall.nullable(),
});
export type HandoffRecord = z.infer<typeof HandoffRecord>;

/** An edit as it was given, kept beside the receipts so that it can be pointed to whatever is handed off later. */
export const GivenEdit = z.object({
  version: z.literal(1),
  name: z.string(),
  text: z.string(),
  /** The folder that relative paths in it are meant from; null where nobody knows. */
  home: z.string().nullable(),
  rate: z.object({ numerator: z.int(), denominator: z.int(), dropFrame: z.boolean() }).nullable(),
  markers: z.boolean(),
});
export type GivenEdit = z.infer<typeof GivenEdit>;
