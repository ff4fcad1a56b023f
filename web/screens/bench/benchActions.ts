import { useCallback, useEffect, useState } from 'react';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { sentenceOf, useKeepRepairMutation, useRedoRepairMutation, useUndoRepairMutation, useWriteMutation } from '../../api/api.ts';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { draftSettled, repairTried } from './benchSlice.ts';
import { startingRepair } from './repairChoices.ts';

export interface BenchActions {
  /** The repair that is being tried: what "after" plays. */
  repair: Repair;
  trouble: string | null;
  tryRepair: (repair: Repair) => void;
  keep: () => void;
  undo: () => void;
  redo: () => void;
  write: () => void;
}

/** Everything the bench can do with a clip's repair; a failure becomes a sentence. */
export function useBenchActions(clip: Clip): BenchActions {
  const dispatch = useAppDispatch();
  const draft = useAppSelector((state) => state.bench.drafts[clip.id]);
  const repair = draft ?? startingRepair(clip);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [keepRepair] = useKeepRepairMutation();
  const [undoRepair] = useUndoRepairMutation();
  const [redoRepair] = useRedoRepairMutation();
  const [writeRepair] = useWriteMutation();
  useEffect(() => setTrouble(null), [clip.id]);
  const attempt = useCallback((work: Promise<unknown>) => {
    setTrouble(null);
    work.catch((error: unknown) => setTrouble(sentenceOf(error)));
  }, []);
  const settle = (work: Promise<unknown>): void => attempt(work.then(() => dispatch(draftSettled(clip.id))));
  return {
    repair,
    trouble,
    tryRepair: (tried) => { dispatch(repairTried({ clipId: clip.id, repair: tried })); },
    keep: () => settle(keepRepair({ clipId: clip.id, repair }).unwrap()),
    undo: () => { if (clip.canUndo) settle(undoRepair(clip.id).unwrap()); },
    redo: () => { if (clip.canRedo) settle(redoRepair(clip.id).unwrap()); },
    write: () => attempt(writeRepair(clip.id).unwrap()),
  };
}
