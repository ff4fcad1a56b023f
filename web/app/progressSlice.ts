import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** How far each running job is, by the id of its clip or writing, 0..1. */
export const progressSlice = createSlice({
  name: 'progress',
  initialState: {} as Record<string, number>,
  reducers: {
    progressed: (state, { payload }: PayloadAction<{ id: string; share: number }>) => { state[payload.id] = payload.share; },
    progressEnded: (state, { payload }: PayloadAction<string>) => { delete state[payload]; },
  },
});

export const { progressed, progressEnded } = progressSlice.actions;
