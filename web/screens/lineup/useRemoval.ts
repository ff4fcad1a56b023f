import { useCallback } from 'react';
import { sentenceOf, useRemoveClipsMutation } from '../../state/api.ts';
import { useAppDispatch } from '../../state/store.ts';
import { chosen, newsCame } from '../../state/lineupSlice.ts';

/** Takes clips out of the project, with the way back in the news. */
export function useRemoval(projectId: string): (clipIds: string[]) => void {
  const dispatch = useAppDispatch();
  const [remove] = useRemoveClipsMutation();
  return useCallback(
    (clipIds) => {
      remove({ projectId, clipIds })
        .unwrap()
        .then(
          ({ label, clips }) => {
            dispatch(chosen({ projectId, ids: [] }));
            dispatch(
              newsCame({
                kind: 'done',
                projectId,
                sentence: `${label}. ${clips === 1 ? 'The file stays where it is.' : 'Their files stay where they are.'}`,
                wayBack: 'undo',
              }),
            );
          },
          (error: unknown) => dispatch(newsCame({ kind: 'said', projectId, tone: 'fix', sentence: sentenceOf(error) })),
        );
    },
    [dispatch, projectId, remove],
  );
}
