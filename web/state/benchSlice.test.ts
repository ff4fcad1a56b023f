import { fillFrom, selectChannel, swapSides } from '@pocket-twin/core/repair/plan/plans.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { benchSlice, channelSoloed, draftRedone, draftSettled, draftUndone, repairTried } from './benchSlice.ts';

type State = ReturnType<typeof benchSlice.getInitialState>;
const CLIP = 'clip';
const [FILL, SWAP, SELECT] = [fillFrom(1, 2), swapSides(2), selectChannel(1, 2)];
const after = (...actions: Parameters<typeof benchSlice.reducer>[1][]): State =>
  actions.reduce<State>((state, action) => benchSlice.reducer(state, action), benchSlice.getInitialState());
const tried = (repair: Repair, at: number, gesture: number | null = null) =>
  repairTried({ clipId: CLIP, repair, kept: null, at, gesture });

test('what was tried is taken back step by step down to nothing, and done again', () => {
  const back = [draftUndone(CLIP), draftUndone(CLIP), draftUndone(CLIP)];
  const steps = [tried(FILL, 0), tried(SWAP, 2000), tried(SELECT, 4000)];
  expect(after(...steps, back[0]).drafts[CLIP]).toEqual(SWAP);
  expect(after(...steps, ...back).drafts[CLIP]).toBeUndefined();
  expect(after(...steps, ...back, back[0]).drafts[CLIP]).toBeUndefined();
  const again = draftRedone({ clipId: CLIP, kept: null });
  expect(after(...steps, ...back, again, again).drafts[CLIP]).toEqual(SWAP);
  expect(after(...steps, ...back, again, again, again, again).drafts[CLIP]).toEqual(SELECT);
});

test('a knob that goes on being turned is one step, whatever else follows soon is its own; something new ends what could be done again', () => {
  const turned = (gainDb: number, at: number, gesture: number | null = null) =>
    tried({ ...FILL, trims: [{ channel: 1, gainDb, polarity: 'normal', delaySamples: 0 }] }, at, gesture);
  const dragged = [tried(FILL, 0), turned(-1, 2000), turned(-2, 2100), turned(-3, 2200)];
  expect(after(...dragged, draftUndone(CLIP)).drafts[CLIP]?.trims[0].gainDb).toBe(-1);
  expect(after(...dragged, draftUndone(CLIP), draftUndone(CLIP)).drafts[CLIP]).toEqual(FILL);
  // However slowly the hand moves, until it lets go.
  const slowly = [tried(SWAP, 0), turned(-1, 9000, 4), turned(-2, 19_000, 4), turned(-3, 29_000, 4)];
  expect(after(...slowly, draftUndone(CLIP)).drafts[CLIP]).toEqual(SWAP);
  expect(after(...slowly, turned(-4, 39_000, 5), draftUndone(CLIP)).drafts[CLIP]?.trims[0].gainDb).toBe(-3);
  expect(after(tried(FILL, 0), tried(SWAP, 50), tried(SELECT, 100), draftUndone(CLIP)).drafts[CLIP]).toEqual(SWAP);
  const again = draftRedone({ clipId: CLIP, kept: null });
  expect(after(...dragged, draftUndone(CLIP), tried(SELECT, 5000), again).drafts[CLIP]).toEqual(SELECT);
  // Taken back and turned at once: no step is swallowed.
  expect(after(...dragged, draftUndone(CLIP), turned(-9, 2300), draftUndone(CLIP)).drafts[CLIP]?.trims[0].gainDb).toBe(
    -1,
  );
});

test('what is kept has no steps left to take back', () => {
  expect(after(tried(FILL, 0), draftSettled(CLIP)).steps[CLIP]).toBeUndefined();
});

test('a channel heard alone gives way to whatever is tried or chosen to be heard, and remembers the one before', () => {
  const solo = (channel: number | null) => channelSoloed({ clipId: CLIP, channel });
  expect(after(solo(1), solo(3)).soloed).toEqual({ clipId: CLIP, channel: 3, before: 1 });
  expect(after(solo(1), solo(3), solo(3)).soloed?.before).toBe(1);
  expect(after(solo(1), tried(FILL, 0)).soloed).toBeNull();
  expect(after(solo(1), solo(null)).soloed).toBeNull();
});
