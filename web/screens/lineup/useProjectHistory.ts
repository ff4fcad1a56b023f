import { useCallback } from 'react';
import { sentenceOf, useRedoNextMutation, useUndoLastMutation } from '../../state/api.ts';
import { useAppDispatch } from '../../state/store.ts';
import { newsCame } from '../../state/lineupSlice.ts';

/** Takes back what was done to the project's clips and setups, the newest first, and does it again. */
export function useProjectHistory(projectId: string): { undo: () => void; redo: () => void } {
  const dispatch = useAppDispatch();
  const [undoLast] = useUndoLastMutation();
  const [redoNext] = useRedoNextMutation();
  const failed = useCallback(
    (error: unknown) => {
      dispatch(newsCame({ kind: 'said', projectId, tone: 'fix', sentence: sentenceOf(error) }));
    },
    [dispatch, projectId],
  );
  const undo = useCallback(() => {
    undoLast(projectId)
      .unwrap()
      .then(
        ({ label }) =>
          dispatch(newsCame({ kind: 'done', projectId, sentence: `Taken back: ${label}.`, wayBack: 'redo' })),
        failed,
      );
  }, [dispatch, failed, projectId, undoLast]);
  const redo = useCallback(() => {
    redoNext(projectId)
      .unwrap()
      .then(
        ({ label }) =>
          dispatch(newsCame({ kind: 'done', projectId, sentence: `Done again: ${label}.`, wayBack: 'undo' })),
        failed,
      );
  }, [dispatch, failed, projectId, redoNext]);
  return { undo, redo };
}
