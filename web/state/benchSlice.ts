import { createSlice, current, type PayloadAction } from '@reduxjs/toolkit';
import type { Heard, When } from '@pocket-twin/core/repair/run/listening.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { turnedKnob } from './turnedKnob.ts';
import type { HeightScale } from '../ribbon/heightScale.ts';
import type { FrameSpan } from '@pocket-twin/core/time/spans.ts';

export type PlanPart = 'routes' | 'trim' | 'time' | 'level';

interface BenchState {
  /** The repair being tried on each clip, not yet kept; and what was kept when that began, for another window may keep something meanwhile. */
  drafts: Record<string, Repair>;
  seenKept: Record<string, Repair | null>;
  /** How each draft came about, step by step: what was tried before, null where nothing was, and what was taken back. */
  steps: Record<
    string,
    { past: (Repair | null)[]; future: Repair[]; at: number; knob: string | null; gesture: number | null }
  >;
  /** Where something was found on each clip, in frames: what is dragged there stays there. */
  found: Record<string, number[]>;
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
  steps: {},
  found: {},
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

// Steps of a held key come faster.
const ONE_STEP_MS = 600;

export const benchSlice = createSlice({
  name: 'bench',
  initialState,
  reducers: {
    /** `at`: when, in ms; `gesture`: within which movement of the hand. One movement is one step, and so are the same numbers changed again soon. */
    repairTried: (
      state,
      {
        payload: { clipId, repair, kept, at, gesture },
      }: PayloadAction<{ clipId: string; repair: Repair; kept: Repair | null; at: number; gesture: number | null }>,
    ) => {
      if (!state.drafts[clipId]) state.seenKept[clipId] = kept;
      const steps = (state.steps[clipId] ??= { past: [], future: [], at: -Infinity, knob: null, gesture: null });
      const draft = state.drafts[clipId];
      const knob = draft ? turnedKnob(current(draft), repair) : null;
      const isSameHand = gesture !== null && gesture === steps.gesture;
      const isSameKnob = knob !== null && knob === steps.knob && at - steps.at <= ONE_STEP_MS;
      if (!isSameHand && !isSameKnob) steps.past.push(draft ?? null);
      steps.knob = knob;
      steps.gesture = gesture;
      steps.future = [];
      steps.at = at;
      state.drafts[clipId] = repair;
      state.probe = null;
      state.soloed = null;
    },
    draftSettled: (state, { payload }: PayloadAction<string>) => {
      delete state.drafts[payload];
      delete state.seenKept[payload];
      delete state.steps[payload];
    },
    /** The last thing that was tried is taken back. */
    draftUndone: (state, { payload: clipId }: PayloadAction<string>) => {
      const steps = state.steps[clipId];
      const draft = state.drafts[clipId];
      if (!steps || !draft || steps.past.length === 0) return;
      const before = steps.past.pop()!;
      steps.future.push(draft);
      steps.at = -Infinity;
      steps.gesture = null;
      if (before) state.drafts[clipId] = before;
      else delete state.drafts[clipId];
    },
    draftRedone: (state, { payload: { clipId, kept } }: PayloadAction<{ clipId: string; kept: Repair | null }>) => {
      const steps = state.steps[clipId];
      const next = steps?.future.pop();
      if (!next) return;
      steps.past.push(state.drafts[clipId] ?? null);
      if (!state.drafts[clipId]) state.seenKept[clipId] = kept;
      state.drafts[clipId] = next;
    },
    /** Told that another window has kept something, a person may still want their own. */
    keptSeen: (state, { payload }: PayloadAction<{ clipId: string; kept: Repair | null }>) => {
      state.seenKept[payload.clipId] = payload.kept;
    },
    placesFound: (state, { payload: { clipId, frames } }: PayloadAction<{ clipId: string; frames: number[] }>) => {
      state.found[clipId] = frames;
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
  placesFound,
  partFolded,
  draftSettled,
  draftUndone,
  draftRedone,
  viewChanged,
  heightScaleChosen,
  heardChosen,
  leftoverProbed,
  whenChosen,
  channelSoloed,
  pairsFolded,
  keysToggled,
} = benchSlice.actions;
