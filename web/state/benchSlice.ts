import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { Heard, When } from '@pocket-twin/core/repair/run/listening.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { HeightScale } from '../ribbon/heightScale.ts';
import type { FrameSpan } from '@pocket-twin/core/time/spans.ts';

export type PlanPart = 'routes' | 'trim' | 'time' | 'level';

interface BenchState {
  /** The repair being tried on each clip, not yet kept; and what was kept when that began, for another window may keep something meanwhile. */
  drafts: Record<string, Repair>;
  seenKept: Record<string, Repair | null>;
  /** The section or turn that is worked on; null where none is. */
  chosenInTime: number | null;
  /** What is unfolded of the plan. */
  open: PlanPart[];
  /** What each clip's ribbon shows; the whole clip where there is none. */
  views: Record<string, FrameSpan>;
  heightScale: HeightScale;
  heard: Heard;
  when: When;
  keysShown: boolean;
  /** Heard in place of the repair while someone listens to what a match leaves over. */
  probe: Repair | null;
  /** The channel that is heard by itself, to choose among them, and the one before it. */
  soloed: { clipId: string; channel: number; before: number | null } | null;
  /** Pairs of each clip's ribbon that are folded, where a person has folded or unfolded any. */
  folded: Record<string, number[]>;
}

const initialState: BenchState = {
  drafts: {},
  seenKept: {},
  chosenInTime: null,
  open: [],
  views: {},
  heightScale: 'db',
  heard: 'both',
  when: 'after',
  keysShown: false,
  probe: null,
  soloed: null,
  folded: {},
};

export const benchSlice = createSlice({
  name: 'bench',
  initialState,
  reducers: {
    repairTried: (state, { payload }: PayloadAction<{ clipId: string; repair: Repair; kept: Repair | null }>) => {
      if (!state.drafts[payload.clipId]) state.seenKept[payload.clipId] = payload.kept;
      state.drafts[payload.clipId] = payload.repair;
      state.probe = null;
      state.soloed = null;
    },
    draftSettled: (state, { payload }: PayloadAction<string>) => {
      delete state.drafts[payload];
      delete state.seenKept[payload];
    },
    /** Told that another window has kept something, a person may still want their own. */
    keptSeen: (state, { payload }: PayloadAction<{ clipId: string; kept: Repair | null }>) => {
      state.seenKept[payload.clipId] = payload.kept;
    },
    inTimeChosen: (state, { payload }: PayloadAction<number | null>) => {
      state.chosenInTime = payload;
    },
    partFolded: (state, { payload: { part, open } }: PayloadAction<{ part: PlanPart; open: boolean }>) => {
      state.open = [...state.open.filter((other) => other !== part), ...(open ? [part] : [])];
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
      state.soloed = null;
    },
    leftoverProbed: (state, { payload }: PayloadAction<Repair | 'plain'>) => {
      state.soloed = null;
      state.heard = 'difference';
      state.when = payload === 'plain' ? 'before' : 'after';
      state.probe = payload === 'plain' ? null : payload;
    },
    whenChosen: (state, { payload }: PayloadAction<When>) => {
      state.when = payload;
      state.soloed = null;
    },
    channelSoloed: (
      state,
      { payload: { clipId, channel } }: PayloadAction<{ clipId: string; channel: number | null }>,
    ) => {
      const before = state.soloed?.clipId === clipId ? state.soloed : null;
      state.probe = null;
      state.soloed =
        channel === null
          ? null
          : {
              clipId,
              channel,
              before: before && before.channel !== channel ? before.channel : (before?.before ?? null),
            };
    },
    pairsFolded: (state, { payload: { clipId, folded } }: PayloadAction<{ clipId: string; folded: number[] }>) => {
      state.folded[clipId] = folded;
    },
    keysToggled: (state) => {
      state.keysShown = !state.keysShown;
    },
  },
});

export const {
  repairTried,
  keptSeen,
  inTimeChosen,
  partFolded,
  draftSettled,
  viewChanged,
  heightScaleChosen,
  heardChosen,
  leftoverProbed,
  whenChosen,
  channelSoloed,
  pairsFolded,
  keysToggled,
} = benchSlice.actions;
