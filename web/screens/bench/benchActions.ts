import { useCallback, useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { repairName } from '@pocket-twin/core/repair/plan/describe.ts';
import { sameRepair } from '@pocket-twin/core/repair/plan/compare.ts';
import { leaveAsItIs } from '@pocket-twin/core/repair/plan/plans.ts';
import { isStraight } from '@pocket-twin/core/repair/plan/timeline.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Finds } from '@pocket-twin/core/schema/proposal.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { Writing } from '@pocket-twin/core/schema/writing.ts';
import { currentGesture } from '../../parts/gesture.ts';
import { inBackground } from '../../parts/inBackground.ts';
import {
  sentenceOf,
  useKeepRepairMutation,
  useListWritingsQuery,
  useProposeMutation,
  useRedoRepairMutation,
  useUndoRepairMutation,
  useWriteMutation,
} from '../../state/api.ts';
import { useAppDispatch, useAppSelector } from '../../state/store.ts';
import {
  draftRedone,
  draftSettled,
  draftUndone,
  inTimeChosen,
  keptSeen,
  placesFound,
  repairTried,
} from '../../state/benchSlice.ts';
import { repairChoices, startingRepair } from './repairChoices.ts';
import type { BenchQueue } from './useBenchQueue.ts';

/** What the main button does now, and what it is called. */
interface MainAction {
  label: string;
  run: () => void;
  isDisabled: boolean;
}

export interface BenchActions {
  /** The repair that is being tried: what "after" plays, what is written. */
  repair: Repair;
  isKept: boolean;
  /** The newest writing of the clip. */
  writing: Writing | undefined;
  trouble: string | null;
  main: MainAction;
  tryRepair: (repair: Repair) => void;
  /** Looks on the clip for what lies elsewhere in each, and tries what is found. */
  find: (finds: Finds) => void;
  /** To the next plan of the list, or the one before. */
  step: (by: 1 | -1) => void;
  isFinding: boolean;
  /** Whether what is found is still to come, and nothing was done meanwhile that takes its place: nobody means to keep or write what stands there until then. */
  isAwaited: boolean;
  /** What was said of what was found last. */
  notes: string[];
  canUndo: boolean;
  canRedo: boolean;
  /** Takes back what was tried last; with nothing tried, what was kept last. */
  undo: () => void;
  redo: () => void;
  /** Writes what is chosen and seen, keeping it in the same step. */
  write: () => void;
  goNext: () => void;
}

/** Everything the bench can do with a clip's repair; a failure becomes a sentence. */
export function useBenchActions(clip: Clip, queue: BenchQueue, refetchClip: () => PromiseLike<unknown>): BenchActions {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const draft = useAppSelector((state) => state.bench.drafts[clip.id]);
  const repair = draft ?? startingRepair(clip);
  const isKept = clip.repair !== null && sameRepair(clip.repair, repair);
  const { data: writings } = useListWritingsQuery(clip.id);
  const writing = writings?.[0];
  const [trouble, setTrouble] = useState<string | null>(null);
  const [keepRepair] = useKeepRepairMutation();
  const [undoRepair] = useUndoRepairMutation();
  const [redoRepair] = useRedoRepairMutation();
  const [writeRepair] = useWriteMutation();
  const [propose, { isLoading: isFinding }] = useProposeMutation();
  const [notes, setNotes] = useState<string[]>([]);
  // What is found late must not take the place of what a person has done meanwhile: the last word holds.
  const word = useRef(0);
  const [awaited, setAwaited] = useState<number | null>(null);
  const speak = useCallback(() => {
    setAwaited(null);
    return ++word.current;
  }, []);
  useEffect(() => {
    setTrouble(null);
    setNotes([]);
    return () => {
      speak();
    };
  }, [clip.id, speak]);
  const steps = useAppSelector((state) => state.bench.steps[clip.id]);
  const canUndoDraft = draft !== undefined && (steps?.past.length ?? 0) > 0;
  const canRedoDraft = (steps?.future.length ?? 0) > 0;
  const seen = useAppSelector((state) => state.bench.seenKept[clip.id]);
  const settle = useCallback(
    (work: Promise<unknown>) => {
      speak();
      setTrouble(null);
      work.then(
        () => dispatch(draftSettled(clip.id)),
        (error: unknown) => {
          setTrouble(sentenceOf(error));
          // What another window has kept is seen now: pressed once more, it is replaced.
          dispatch(keptSeen({ clipId: clip.id, kept: clip.repair }));
        },
      );
    },
    [clip.id, clip.repair, dispatch, speak],
  );
  const tryRepair = (tried: Repair): void => {
    speak();
    dispatch(
      repairTried({
        clipId: clip.id,
        repair: tried,
        kept: clip.repair,
        at: performance.now(),
        gesture: currentGesture(),
      }),
    );
  };
  const find = async (finds: Finds): Promise<void> => {
    setTrouble(null);
    const asked = speak();
    setAwaited(asked);
    const base = { ...repair, ...(finds.sections || finds.turns ? { sections: null, turns: null } : {}) };
    const straight =
      finds.sections || finds.turns
        ? { ...leaveAsItIs(base.inputChannels), trims: base.trims, level: base.level }
        : base;
    const { data, error } = await propose({ clipId: clip.id, base: straight, finds });
    if (asked !== word.current) return;
    setAwaited(null);
    if (error !== undefined) return setTrouble(sentenceOf(error));
    if ('whyNot' in data!) return setNotes([data.whyNot]);
    setNotes(data!.notes);
    dispatch(placesFound({ clipId: clip.id, frames: placesIn(data!.repair) }));
    tryRepair(data!.repair);
    dispatch(
      inTimeChosen(
        data!.repair.sections
          ? Math.max(
              0,
              data!.repair.sections.list.findIndex(({ routes }) => !isStraight(routes)),
            )
          : null,
      ),
    );
  };
  const isAwaited = awaited !== null;
  const write = (): void => {
    if (isAwaited) return;
    settle(
      writeRepair({ clipId: clip.id, repair, seen: seen === undefined ? clip.repair : seen })
        .unwrap()
        .then(() => refetchClip()),
    );
  };
  const goNext = (): void =>
    inBackground(
      navigate(queue.next ? `/projects/${clip.projectId}/bench/${queue.next}` : `/projects/${clip.projectId}`),
    );
  const main = ((): MainAction => {
    if (isAwaited) return { label: 'Listening ...', isDisabled: true, run: () => undefined };
    if (!isKept)
      return {
        // The whole plan stands above as a sentence.
        label: `Keep: ${lowered(repairName(repair).split(':')[0])}`,
        isDisabled: false,
        run: () =>
          settle(keepRepair({ clipId: clip.id, repair, seen: seen === undefined ? clip.repair : seen }).unwrap()),
      };
    if (writing && (writing.state === 'waiting' || writing.state === 'writing'))
      return { label: 'Writing ...', isDisabled: true, run: () => undefined };
    const isWritten =
      writing?.state === 'done' && writing.receipt !== null && sameRepair(writing.receipt.repair, repair);
    // A copy of what is fine as it is helps nobody; W writes one all the same, and a handoff takes it along.
    if (!isWritten && repair.action !== 'leave') return { label: writeLabel(repair), isDisabled: false, run: write };
    return { label: queue.next ? 'Next clip to decide' : 'Back to the lineup', isDisabled: false, run: goNext };
  })();
  return {
    repair,
    isKept,
    writing,
    trouble,
    main,
    write,
    goNext,
    step: (by) => {
      const choices = repairChoices(clip);
      const at = choices.findIndex((choice) => sameRepair(choice.repair, repair));
      const next = at < 0 ? (by > 0 ? 0 : choices.length - 1) : (at + by + choices.length) % choices.length;
      setNotes([]);
      tryRepair(choices[next].repair);
    },
    isFinding,
    isAwaited,
    notes,
    tryRepair: (tried) => {
      setNotes([]);
      tryRepair(tried);
    },
    find: (finds) => inBackground(find(finds)),
    canUndo: canUndoDraft || clip.canUndo,
    canRedo: canRedoDraft || clip.canRedo,
    undo: () => {
      setNotes([]);
      speak();
      if (canUndoDraft) dispatch(draftUndone(clip.id));
      else if (clip.canUndo) settle(undoRepair(clip.id).unwrap());
    },
    redo: () => {
      speak();
      if (canRedoDraft) dispatch(draftRedone({ clipId: clip.id, kept: clip.repair }));
      else if (clip.canRedo) settle(redoRepair(clip.id).unwrap());
    },
  };
}

/** Every boundary and edge of a plan, in frames. */
function placesIn({ sections, turns }: Repair): number[] {
  return [...(sections?.list ?? []), ...(turns?.list ?? [])].flatMap(({ startFrame, endFrame }) => [
    startFrame,
    endFrame,
  ]);
}

/** Says what will be there afterwards. */
export function writeLabel({ action, outputs }: Repair): string {
  if (action === 'leave') return 'Write a copy as it is';
  return outputs.length > 1 ? 'Write the repaired files' : 'Write the repaired file';
}

function lowered(text: string): string {
  return text[0].toLowerCase() + text.slice(1);
}
