import { configureStore } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { api } from './api.ts';
import { rowsSlice } from './rowsSlice.ts';
import { benchSlice } from './benchSlice.ts';
import { lineupSlice } from './lineupSlice.ts';
import { uploadsSlice } from './uploadsSlice.ts';
import { appearanceSlice, applyAppearance } from './appearanceSlice.ts';
import { connectionSlice } from './connectionSlice.ts';
import { progressSlice } from './progressSlice.ts';

export const store = configureStore({
  reducer: {
    [api.reducerPath]: api.reducer,
    [appearanceSlice.name]: appearanceSlice.reducer,
    [benchSlice.name]: benchSlice.reducer,
    [connectionSlice.name]: connectionSlice.reducer,
    [lineupSlice.name]: lineupSlice.reducer,
    [progressSlice.name]: progressSlice.reducer,
    [rowsSlice.name]: rowsSlice.reducer,
    [uploadsSlice.name]: uploadsSlice.reducer,
  },
  middleware: (defaults) => defaults().concat(api.middleware),
});

// On the page before anything is drawn again: canvases read their colours from it.
applyAppearance(store.getState().appearance.chosen);
store.subscribe(() => applyAppearance(store.getState().appearance.chosen));

export type AppStore = typeof store;
export type RootState = ReturnType<typeof store.getState>;
export type AppDispatch = typeof store.dispatch;
export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
