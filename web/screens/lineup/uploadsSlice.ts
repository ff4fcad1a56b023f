import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

export interface UploadEntry {
  id: string;
  projectId: string;
  name: string;
  bytes: number;
  sentBytes: number;
  state: 'sending' | 'failed';
  error: string | null;
}

/** Files on their way up. One that has arrived is a clip and leaves this list. */
export const uploadsSlice = createSlice({
  name: 'uploads',
  initialState: [] as UploadEntry[],
  reducers: {
    uploadBegun: (state, { payload }: PayloadAction<Pick<UploadEntry, 'id' | 'projectId' | 'name' | 'bytes'>>) => {
      state.push({ ...payload, sentBytes: 0, state: 'sending', error: null });
    },
    uploadMoved: (state, { payload }: PayloadAction<{ id: string; sentBytes: number }>) => {
      const entry = state.find(({ id }) => id === payload.id);
      if (entry) entry.sentBytes = payload.sentBytes;
    },
    uploadFailed: (state, { payload }: PayloadAction<{ id: string; error: string }>) => {
      const entry = state.find(({ id }) => id === payload.id);
      if (entry) Object.assign(entry, { state: 'failed', error: payload.error });
    },
    uploadRetried: (state, { payload }: PayloadAction<string>) => {
      const entry = state.find(({ id }) => id === payload);
      if (entry) Object.assign(entry, { state: 'sending', error: null });
    },
    uploadGone: (state, { payload }: PayloadAction<string>) => state.filter(({ id }) => id !== payload),
  },
});

export const { uploadBegun, uploadMoved, uploadFailed, uploadRetried, uploadGone } = uploadsSlice.actions;
