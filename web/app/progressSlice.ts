import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { Progress } from '@pocket-twin/core/schema/changes.ts';

/** What each running job is at, by the id of its clip or writing. */
export const progressSlice = createSlice({
  name: 'progress',
  initialState: {} as Record<string, Progress>,
  reducers: {
    progressed: (state, { payload: { id, stage, share } }: PayloadAction<{ id: string } & Progress>) => { state[id] = { stage, share }; },
    progressEnded: (state, { payload }: PayloadAction<string>) => { delete state[payload]; },
  },
});

export const { progressed, progressEnded } = progressSlice.actions;
