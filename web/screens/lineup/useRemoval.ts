import { sentenceOf, useRemoveClipsMutation } from '../../api/api.ts';
import { useAppDispatch } from '../../app/store.ts';
import { chosen, newsCame } from './lineupSlice.ts';

/** Takes clips out of the project, with the way back in the news. */
export function useRemoval(projectId: string): (clipIds: string[], name: string) => Promise<void> {
  const dispatch = useAppDispatch();
  const [remove] = useRemoveClipsMutation();
  return async (clipIds, name) => {
    const answer = await remove({ projectId, clipIds });
    if ('error' in answer && answer.error) {
      dispatch(newsCame({ kind: 'said', projectId, tone: 'fix', sentence: sentenceOf(answer.error) }));
      return;
    }
    dispatch(chosen({ projectId, ids: [] }));
    dispatch(newsCame({ kind: 'removed', projectId, clipIds, name }));
  };
}
