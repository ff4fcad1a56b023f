import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { Progress } from '@pocket-twin/core/contract/events.ts';

/** What each running job is at, by the id of its clip or writing. */
export const progressSlice = createSlice({
  name: 'progress',
  initialState: {} as Record<string, Progress>,
  reducers: {
    progressed: (state, { payload }: PayloadAction<({ id: string } & Progress)[]>) => {
      for (const { id, stage, share } of payload) state[id] = { stage, share };
    },
    progressEnded: (state, { payload }: PayloadAction<string[]>) => {
      for (const id of payload) delete state[id];
    },
  },
});

export const { progressed, progressEnded } = progressSlice.actions;
