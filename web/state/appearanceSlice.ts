import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

export type Appearance = 'system' | 'day' | 'night';

const KEY = 'pocket-twin.appearance';

function remembered(): Appearance {
  const value = localStorage.getItem(KEY);
  return value === 'day' || value === 'night' ? value : 'system';
}

/** Day or night, as the system has it until the person chooses. */
export const appearanceSlice = createSlice({
  name: 'appearance',
  initialState: () => ({ chosen: remembered() }),
  reducers: {
    appearanceChosen: (state, { payload }: PayloadAction<Appearance>) => {
      state.chosen = payload;
    },
  },
});

export const { appearanceChosen } = appearanceSlice.actions;

/** Puts the choice on the page and keeps it for the next visit. */
export function applyAppearance(chosen: Appearance): void {
  if ((document.documentElement.dataset.theme ?? 'system') === chosen) return;
  if (chosen === 'system') {
    delete document.documentElement.dataset.theme;
    localStorage.removeItem(KEY);
  } else {
    document.documentElement.dataset.theme = chosen;
    localStorage.setItem(KEY, chosen);
  }
}
