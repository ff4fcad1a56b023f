import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { Heard, When } from '@pocket-twin/core/repair/run/listening.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { HeightScale } from '../ribbon/heightScale.ts';
import type { FrameSpan } from '@pocket-twin/core/time/spans.ts';

interface BenchState {
  /** The repair being tried on each clip, not yet kept. */
  drafts: Record<string, Repair>;
  /** What each clip's ribbon shows; the whole clip where there is none. */
  views: Record<string, FrameSpan>;
  heightScale: HeightScale;
  heard: Heard;
  when: When;
  keysShown: boolean;
  /** Heard in place of the repair while someone listens to what a match leaves over. */
  probe: Repair | null;
}

const initialState: BenchState = {
  drafts: {},
  views: {},
  heightScale: 'db',
  heard: 'both',
  when: 'after',
  keysShown: false,
  probe: null,
};

export const benchSlice = createSlice({
  name: 'bench',
  initialState,
  reducers: {
    repairTried: (state, { payload }: PayloadAction<{ clipId: string; repair: Repair }>) => {
      state.drafts[payload.clipId] = payload.repair;
      state.probe = null;
    },
    draftSettled: (state, { payload }: PayloadAction<string>) => {
      delete state.drafts[payload];
    },
    viewChanged: (state, { payload }: PayloadAction<{ clipId: string; view: FrameSpan }>) => {
      state.views[payload.clipId] = payload.view;
    },
    heightScaleChosen: (state, { payload }: PayloadAction<HeightScale>) => {
      state.heightScale = payload;
    },
    heardChosen: (state, { payload }: PayloadAction<Heard>) => {
      state.heard = payload;
      state.probe = null;
    },
    leftoverProbed: (state, { payload }: PayloadAction<Repair | 'plain'>) => {
      state.heard = 'difference';
      state.when = payload === 'plain' ? 'before' : 'after';
      state.probe = payload === 'plain' ? null : payload;
    },
    whenChosen: (state, { payload }: PayloadAction<When>) => {
      state.when = payload;
    },
    keysToggled: (state) => {
      state.keysShown = !state.keysShown;
    },
  },
});

export const {
  repairTried,
  draftSettled,
  viewChanged,
  heightScaleChosen,
  heardChosen,
  leftoverProbed,
  whenChosen,
  keysToggled,
} = benchSlice.actions;
