import { amplitudeFromDb } from '../signal/decibels.ts';

// The limits that measuring and deciding share, each once. What only one file uses as the size of a step stands beside that step.

/** Peak: below one step of 16-bit sound there is nothing anybody put there. */
export const SILENT_PEAK_DBFS = -96;
export const SILENT_PEAK = amplitudeFromDb(SILENT_PEAK_DBFS);
/** Mean square (-120 dBFS): less is digital silence, or what a filter rings on with after it; a converter's own noise lies far above. */
export const NOTHING_POWER = 1e-12;
/** Hiss and hum move by a decibel or two between blocks of 100 ms; speech and music by far more than this. */
export const STANDS_OUT_DB = 10;

/** Left minus right against left plus right: no converters, gains or coders at their best leave more of one signal on both sides. */
export const ONE_SIGNAL_NULL_DB = -40;
/** What a null scatters by where it is measured over a moment and not over all. */
export const MOMENT_SCATTER_DB = 4;
/** Coders make up the treble of each side by themselves, up to this in all ... */
export const CODED_NULL_DB = -18;
/** ... and leave what lies below 3.5 kHz the same, to this ... */
export const CODED_LOW_NULL_DB = -55;
/** ... or, where a moment of it went amiss, to this and so much deeper than all of it: the sides of narrow mixes differ below as above (-37 dB and 4 dB deeper at most, coded). */
export const MOSTLY_LOW_NULL_DB = -42;
export const MOSTLY_LOW_DEEPER_DB = 12;
/** A copy under the noise of a coder nulls to no more than this once it is moved onto the other, with nothing left for a filter to do. */
export const CODED_COPY_NULL_DB = -12;
/** Two microphones a hand or two apart in a dry place null like a disguise, but no deeper than this. */
export const ROOM_NULL_DB = -32;
/** Nearer together than 3 cm, as sound goes, nobody puts two microphones. */
export const SOONEST_ROOM_MS = 0.1;
/** A disguise is what undoing nulls this deep ... */
export const DISGUISED_NULL_DB = -20;
/** ... and this much deeper than nothing undone: a true pair gains a few decibels, a disguise tens. */
export const DISGUISED_GAIN_DB = 12;
/** The other side's programme lies this far below where one side carries it: faint bleed does, a second talker does not. */
export const ONE_SIDED_DB = 30;
/** A peak that stands so many deviations out of the correlation curve is an arrival. */
export const CLEAR_ARRIVAL = 7.5;
