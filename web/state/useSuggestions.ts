import { useCallback } from 'react';
import { sentenceOf, useUseSuggestionMutation } from './api.ts';
import { useAppDispatch } from './store.ts';
import { newsCame } from './lineupSlice.ts';

/** Keeps a suggestion on clips, or on each its own (null), and says what was done and what was left alone. */
export function useSuggestions(projectId: string): {
  keepOn: (clipIds: string[], suggestion: string | null) => void;
  isBusy: boolean;
} {
  const dispatch = useAppDispatch();
  const [keep, { isLoading }] = useUseSuggestionMutation();
  const keepOn = useCallback(
    (clipIds: string[], suggestion: string | null) => {
      keep({ projectId, clipIds, suggestion })
        .unwrap()
        .then(
          (used) => dispatch(newsCame({ kind: 'suggestion', projectId, used, suggestion })),
          (error: unknown) => dispatch(newsCame({ kind: 'said', projectId, tone: 'fix', sentence: sentenceOf(error) })),
        );
    },
    [dispatch, keep, projectId],
  );
  return { keepOn, isBusy: isLoading };
}
