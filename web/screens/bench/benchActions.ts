import { useCallback, useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { repairName } from '@pocket-twin/core/repair/plan/describe.ts';
import { sameRepair } from '@pocket-twin/core/repair/plan/compare.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { Writing } from '@pocket-twin/core/schema/writing.ts';
import { inBackground } from '../../parts/inBackground.ts';
import {
  sentenceOf,
  useKeepRepairMutation,
  useListWritingsQuery,
  useRedoRepairMutation,
  useUndoRepairMutation,
  useWriteMutation,
} from '../../state/api.ts';
import { useAppDispatch, useAppSelector } from '../../state/store.ts';
import { draftSettled, repairTried } from '../../state/benchSlice.ts';
import { startingRepair } from './repairChoices.ts';
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
  useEffect(() => setTrouble(null), [clip.id]);
  const settle = useCallback(
    (work: Promise<unknown>) => {
      setTrouble(null);
      work.then(
        () => dispatch(draftSettled(clip.id)),
        (error: unknown) => setTrouble(sentenceOf(error)),
      );
    },
    [clip.id, dispatch],
  );
  const write = (): void =>
    settle(
      writeRepair({ clipId: clip.id, repair })
        .unwrap()
        .then(() => refetchClip()),
    );
  const goNext = (): void =>
    inBackground(
      navigate(queue.next ? `/projects/${clip.projectId}/bench/${queue.next}` : `/projects/${clip.projectId}`),
    );
  const main = ((): MainAction => {
    if (!isKept)
      return {
        label: `Keep: ${lowered(repairName(repair))}`,
        isDisabled: false,
        run: () => settle(keepRepair({ clipId: clip.id, repair }).unwrap()),
      };
    if (writing && (writing.state === 'waiting' || writing.state === 'writing'))
      return { label: 'Writing ...', isDisabled: true, run: () => undefined };
    const isWritten =
      writing?.state === 'done' && writing.receipt !== null && sameRepair(writing.receipt.repair, repair);
    if (!isWritten) return { label: writeLabel(repair), isDisabled: false, run: write };
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
    tryRepair: (tried) => {
      dispatch(repairTried({ clipId: clip.id, repair: tried }));
    },
    undo: () => {
      if (clip.canUndo) settle(undoRepair(clip.id).unwrap());
    },
    redo: () => {
      if (clip.canRedo) settle(redoRepair(clip.id).unwrap());
    },
  };
}

/** Says what will be there afterwards. */
export function writeLabel({ action, outputs }: Repair): string {
  if (action === 'leave') return 'Write a copy as it is';
  return outputs.length > 1 ? 'Write the repaired files' : 'Write the repaired file';
}

function lowered(text: string): string {
  return text[0].toLowerCase() + text.slice(1);
}
