import * as z from 'zod';

const ChannelNumber = z.int().min(1).max(64);
const GainDb = z.number().min(-60).max(60);

/** What is done to an input channel before it is routed. */
export const InputTrim = z.object({
  channel: ChannelNumber,
  gainDb: GainDb,
  polarity: z.enum(['normal', 'inverted']),
  /** Positive is later. Whole samples are exact; fractions are interpolated. */
  delaySamples: z.number().min(-96000).max(96000),
});
export type InputTrim = z.infer<typeof InputTrim>;

/** Which input channels feed one output channel, and at what gain. */
export const Route = z.array(z.object({ from: ChannelNumber, gainDb: GainDb })).min(1);
export type Route = z.infer<typeof Route>;

/** One file that is written. */
export const RepairOutput = z.object({
  /** Added to the clip's name; empty where there is one file. */
  suffix: z
    .string()
    .max(40)
    .regex(/^[\p{L}\p{N} _-]*$/u),
  routes: z.array(Route).min(1).max(64),
});
export type RepairOutput = z.infer<typeof RepairOutput>;

export const RepairAction = z.enum(['leave', 'fill', 'swap', 'select', 'sum', 'split', 'trim']);
export type RepairAction = z.infer<typeof RepairAction>;

/** The level of what is written: one gain for all channels, found by measuring first. */
export const LevelTarget = z.object({
  loudnessLufs: z.number().min(-70).max(0).nullable(),
  peakDbtp: z.number().min(-60).max(0).nullable(),
  ceilingDbtp: z.number().min(-60).max(0).nullable(),
});
export type LevelTarget = z.infer<typeof LevelTarget>;

/** A plan for one clip. The routes are what is done; the action is what it is called. */
export const Repair = z
  .object({
    version: z.literal(1),
    action: RepairAction,
    inputChannels: ChannelNumber,
    trims: z.array(InputTrim),
    outputs: z.array(RepairOutput).min(1).max(64),
    level: LevelTarget.nullable(),
  })
  .refine(
    (repair) =>
      repair.outputs.every((output) =>
        output.routes.every((route) => route.every(({ from }) => from <= repair.inputChannels)),
      ) && repair.trims.every((trim) => trim.channel <= repair.inputChannels),
    { message: 'The repair names a channel that the clip does not have.' },
  );
export type Repair = z.infer<typeof Repair>;
