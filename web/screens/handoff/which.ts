/** Which clips: all, those chosen in the lineup, or a setup by its id. */
export type Which = string;
export const ALL = 'all';
export const CHOSEN = 'chosen';
