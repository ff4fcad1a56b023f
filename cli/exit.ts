/** All that was asked is done, or nothing needs doing; something was found, or is left for a person to decide; a file or the words were off. */
export const EXIT = { done: 0, found: 1, off: 2 } as const;
