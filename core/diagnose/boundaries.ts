// Every boundary of deciding, once (docs/method.md lists them; a test holds the two together).

/** Below this a person decides. */
export const LEAST_CONFIDENCE = 0.75;

/** True peak: what lossy coders and converters after us may clip. */
export const HOT_DBTP = -1;
/** Quieter programme than this was recorded far too low. */
export const LOW_LUFS = -40;
/** Of full scale: what makes cuts click. */
export const DC_OFFSET = 0.005;
/** Sides that should be even: the least difference that is heard as off the middle, and where a person should look. */
export const UNBALANCED_LU = 1;
export const UNBALANCED_LOOK_LU = 3;
/** What a phone's one speaker would lose. */
export const MONO_LOSS_DB = 3;
/** Earlier than this no copy is called late: a few samples are a converter's. */
export const LATE_MS = 0.05;
