import { asThisVersion } from './repairVersions.ts';
import * as z from 'zod';

const ChannelNumber = z.int().min(1).max(64);
const GAIN_LIMITS = 'A gain lies between −60 and 60 dB.';
const LOUDNESS_LIMITS = 'A loudness lies between −70 and 0 LUFS.';
const PEAK_LIMITS = 'A peak lies between −60 and 0 dBTP.';
const CEILING_LIMITS = 'A ceiling lies between −60 and 0 dBTP.';
const DELAY_LIMITS = 'A delay is 96000 samples at most.';
const GainDb = z.number().min(-60, GAIN_LIMITS).max(60, GAIN_LIMITS);
// Ten times what clocks of devices that are sold for sound run apart.
const DRIFT_LIMIT_PPM = 1000;
const Polarity = z.enum(['normal', 'inverted']);
/** Of the clip; the end does not belong to it. */
const Span = z
  .object({ startFrame: z.int().nonnegative(), endFrame: z.int().nonnegative() })
  .refine(({ startFrame, endFrame }) => startFrame < endFrame, { message: 'A stretch ends before it begins.' });

/** How a delay goes on in time, where it does not stay what it is at the start: what clocks that ran apart, or a recorder that lost its place, have done. */
export const DelayCourse = z.object({
  /** So much more of delay with time, in parts per million of it. */
  driftPpm: z.number().min(-DRIFT_LIMIT_PPM).max(DRIFT_LIMIT_PPM),
  /** From this frame on, as it is written, the delay is so many samples more. */
  jump: z
    .object({ atFrame: z.int().nonnegative(), samples: z.number().min(-96000, DELAY_LIMITS).max(96000, DELAY_LIMITS) })
    .nullable(),
});
export type DelayCourse = z.infer<typeof DelayCourse>;

/** What is done to an input channel before it is routed. */
export const InputTrim = z.object({
  channel: ChannelNumber,
  gainDb: GainDb,
  polarity: Polarity,
  /** Positive is later. Whole samples are exact; fractions are interpolated. */
  delaySamples: z.number().min(-96000, DELAY_LIMITS).max(96000, DELAY_LIMITS),
  /** Left out where the delay stays. */
  course: DelayCourse.optional(),
});
export type InputTrim = z.infer<typeof InputTrim>;

/** An input channel on its way to an output channel. */
export const Cable = z.object({ from: ChannelNumber, gainDb: GainDb, polarity: Polarity });
export type Cable = z.infer<typeof Cable>;

/** Which input channels feed one output channel, each at most once; none leaves it silent. */
export const Route = z
  .array(Cable)
  .max(64)
  .refine((cables) => new Set(cables.map(({ from }) => from)).size === cables.length, {
    message: 'A channel feeds the same output twice.',
  });
export type Route = z.infer<typeof Route>;

/** What the channels of a file are for: nothing that the file says, or the loudspeakers of ITU-R BS.775 in the order of WAVE (L R C LFE Ls Rs). */
export const OutputLayout = z.enum(['discrete', '5.1']);
export type OutputLayout = z.infer<typeof OutputLayout>;
const LAYOUT_CHANNELS = { '5.1': 6 } as const;

/** One file that is written. */
export const RepairOutput = z
  .object({
    /** Added to the clip's name; empty where there is one file. */
    suffix: z
      .string()
      .max(40)
      .regex(/^[\p{L}\p{N} _-]*$/u),
    layout: OutputLayout,
    routes: z.array(Route).min(1).max(64),
  })
  .refine(({ layout, routes }) => layout === 'discrete' || routes.length === LAYOUT_CHANNELS[layout], {
    message: 'A 5.1 file has six channels: route what goes to each of them.',
  });
export type RepairOutput = z.infer<typeof RepairOutput>;

export const RepairAction = z.enum(['leave', 'fill', 'swap', 'select', 'sum', 'split', 'trim', 'route']);
export type RepairAction = z.infer<typeof RepairAction>;

/** The level of what is written: one gain for all channels, found by measuring first. */
export const LevelTarget = z.object({
  /** The gain found for several clips together, so that their relations stay; null where each is measured for itself. */
  commonGainDb: z.number().min(-120).max(120).nullable(),
  loudnessLufs: z.number().min(-70, LOUDNESS_LIMITS).max(0, LOUDNESS_LIMITS).nullable(),
  peakDbtp: z.number().min(-60, PEAK_LIMITS).max(0, PEAK_LIMITS).nullable(),
  ceilingDbtp: z.number().min(-60, CEILING_LIMITS).max(0, CEILING_LIMITS).nullable(),
});
export type LevelTarget = z.infer<typeof LevelTarget>;

/** How a section takes over from the one before: at equal gain where both carry the same programme there, at equal power where they do not. */
export const FadeKind = z.enum(['equal-gain', 'equal-power']);
export type FadeKind = z.infer<typeof FadeKind>;

/** A stretch of time with routes of its own. */
export const Section = z.intersection(
  Span,
  z.object({
    fadeIn: FadeKind,
    /** One for each output channel of all files, in their order. */
    routes: z.array(Route).min(1).max(256),
  }),
);
export type Section = z.infer<typeof Section>;

/** The whole clip in sections, each from where the one before ends; a boundary is the middle of its fade. */
export const Sections = z
  .object({ fadeFrames: z.int().min(0).max(192_000), list: z.array(Section).min(1).max(2000) })
  .refine(
    ({ list }) =>
      list[0].startFrame === 0 && list.every((section, i) => i === 0 || section.startFrame === list[i - 1].endFrame),
    { message: 'Each section begins where the one before ends, the first with the clip.' },
  );
export type Sections = z.infer<typeof Sections>;

/** How a microphone opens and closes. */
export const Microphone = z.object({
  channel: ChannelNumber,
  /** How far it closes between its turns; null is silence. */
  closedDb: z.number().min(-60).max(0).nullable(),
  fadeInFrames: z.int().min(0).max(1_920_000),
  fadeOutFrames: z.int().min(0).max(1_920_000),
  /** So much before a turn it is open already, and so much after it still. */
  leadFrames: z.int().min(0).max(1_920_000),
  tailFrames: z.int().min(0).max(1_920_000),
});
export type Microphone = z.infer<typeof Microphone>;

/** A stretch in which a microphone is fully open: its fade in lies before, its fade out after. */
export const Turn = z.intersection(Span, z.object({ channel: ChannelNumber }));
export type Turn = z.infer<typeof Turn>;

/** Microphones that are open in turns. */
export const Turns = z
  .object({ microphones: z.array(Microphone).min(1).max(8), list: z.array(Turn).max(20_000) })
  .refine(
    ({ microphones, list }) => list.every((turn) => microphones.some(({ channel }) => channel === turn.channel)),
    {
      message: 'A turn names a channel that is none of the microphones.',
    },
  )
  .refine(({ list }) => firstOverlap(list) === null, { message: 'Two turns of one microphone overlap.' });
export type Turns = z.infer<typeof Turns>;

/** The first turn that begins before the one before it on its microphone has ended. */
export function firstOverlap(turns: readonly Turn[]): Turn | null {
  const sorted = [...turns].sort((a, b) => a.startFrame - b.startFrame);
  const endOf = new Map<number, number>();
  for (const turn of sorted) {
    if (turn.startFrame < (endOf.get(turn.channel) ?? 0)) return turn;
    endOf.set(turn.channel, turn.endFrame);
  }
  return null;
}

const ThisVersion = z
  .object({
    version: z.literal(2),
    action: RepairAction,
    inputChannels: ChannelNumber,
    trims: z.array(InputTrim),
    outputs: z.array(RepairOutput).min(1).max(64),
    /** In force instead of the outputs' own routes. */
    sections: Sections.nullable(),
    turns: Turns.nullable(),
    level: LevelTarget.nullable(),
  })
  .refine(
    (repair) =>
      [
        ...allRoutes(repair).flatMap((route) => route.map(({ from }) => from)),
        ...repair.trims.map(({ channel }) => channel),
        ...(repair.turns?.microphones ?? []).map(({ channel }) => channel),
      ].every((channel) => channel <= repair.inputChannels),
    { message: 'The repair names a channel that the clip does not have.' },
  )
  .refine(({ trims }) => new Set(trims.map(({ channel }) => channel)).size === trims.length, {
    message: 'A channel has two trims.',
  })
  .refine(
    ({ outputs, sections }) =>
      sections === null ||
      sections.list.every(
        ({ routes }) => routes.length === outputs.reduce((sum, output) => sum + output.routes.length, 0),
      ),
    {
      message: 'A section routes other outputs than the files have.',
    },
  );
/**
 * A plan for one clip. The routes are what is done, in time where it has sections and turns; the action is what it is called. Whatever an earlier
 * version of the product saved or sent is read as one of this.
 */
export const Repair = z.preprocess(asThisVersion, ThisVersion);
export type Repair = z.infer<typeof ThisVersion>;

/** Every route of a repair, those of its sections included. */
export function allRoutes({ outputs, sections }: { outputs: RepairOutput[]; sections: Sections | null }): Route[] {
  return [...outputs.flatMap(({ routes }) => routes), ...(sections?.list ?? []).flatMap(({ routes }) => routes)];
}
