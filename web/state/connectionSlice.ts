import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

export type Connection = 'here' | 'server-away' | 'database-away';

/** Whether what the page needs to answer is there. */
export const connectionSlice = createSlice({
  name: 'connection',
  initialState: { is: 'here' as Connection },
  reducers: {
    connectionIs: (state, { payload }: PayloadAction<Connection>) => {
      state.is = payload;
    },
  },
});

export const { connectionIs } = connectionSlice.actions;
