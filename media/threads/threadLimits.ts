/** Most of what a measuring thread makes is short-lived; left to itself it would keep three times this. */
export const THREAD_LIMITS = { maxYoungGenerationSizeMb: 8 };
