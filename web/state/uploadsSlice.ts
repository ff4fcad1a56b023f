import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

export interface UploadEntry {
  id: string;
  projectId: string;
  name: string;
  bytes: number;
  sentBytes: number;
  state: 'waiting' | 'sending' | 'paused' | 'failed';
  error: string | null;
}

/** An upload of an earlier visit to the page that did not end; its file must be chosen again to go on. */
export interface InterruptedUpload {
  /** Where the browser remembers it. */
  key: string;
  projectId: string;
  name: string;
  bytes: number;
}

interface Uploads {
  entries: UploadEntry[];
  interrupted: InterruptedUpload[];
  /** Of what was added since the list was last empty: what arrived already. */
  arrived: { files: number; bytes: number };
}

const change = (state: Uploads, id: string, to: Partial<UploadEntry>): void => {
  const entry = state.entries.find((one) => one.id === id);
  if (entry) Object.assign(entry, to);
};

/** Files on their way up. One that has arrived is a clip and leaves this list. */
export const uploadsSlice = createSlice({
  name: 'uploads',
  initialState: { entries: [], interrupted: [], arrived: { files: 0, bytes: 0 } } as Uploads,
  reducers: {
    uploadsAdded: (state, { payload }: PayloadAction<Pick<UploadEntry, 'id' | 'projectId' | 'name' | 'bytes'>[]>) => {
      if (state.entries.length === 0) state.arrived = { files: 0, bytes: 0 };
      state.entries.push(
        ...payload.map((entry): UploadEntry => ({ ...entry, sentBytes: 0, state: 'waiting', error: null })),
      );
    },
    // What happens to many within a moment is one change.
    uploadsWentOn: (
      state,
      {
        payload: { sending, sentBytes, arrived },
      }: PayloadAction<{ sending: string[]; sentBytes: Record<string, number>; arrived: string[] }>,
    ) => {
      const gone = new Set(arrived);
      for (const entry of state.entries) {
        if (gone.has(entry.id))
          state.arrived = { files: state.arrived.files + 1, bytes: state.arrived.bytes + entry.bytes };
        else if (sending.includes(entry.id)) Object.assign(entry, { state: 'sending', error: null });
        if (sentBytes[entry.id] !== undefined) entry.sentBytes = sentBytes[entry.id];
      }
      if (gone.size > 0) state.entries = state.entries.filter(({ id }) => !gone.has(id));
    },
    uploadIs: (state, { payload: { id, is } }: PayloadAction<{ id: string; is: 'waiting' | 'paused' }>) =>
      change(state, id, { state: is, error: null }),
    uploadFailed: (state, { payload: { id, error } }: PayloadAction<{ id: string; error: string }>) =>
      change(state, id, { state: 'failed', error }),
    uploadGone: (state, { payload }: PayloadAction<string>) => {
      state.entries = state.entries.filter((one) => one.id !== payload);
    },
    interruptedFound: (state, { payload }: PayloadAction<InterruptedUpload[]>) => {
      state.interrupted = payload;
    },
  },
});

export const { uploadsAdded, uploadsWentOn, uploadIs, uploadFailed, uploadGone, interruptedFound } =
  uploadsSlice.actions;
