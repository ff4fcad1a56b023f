import { useMemo } from 'react';
import { useNavigate } from 'react-router';
import type { Handoff, HandoffStep } from '@pocket-twin/core/schema/handoff.ts';
import { inBackground } from '../../parts/inBackground.ts';
import type { ScreenKey } from '../../parts/keyNames.ts';

interface Acts {
  /** What the main button does; null where it does nothing now. */
  main: (() => void) | null;
  /** The handoff that is looked at; undefined where a new one is made. */
  handoff: Handoff | undefined;
  step: (step: HandoffStep['step']) => void;
  showKeys: () => void;
}

/** The keys of the handoff screen. */
export function useHandoffKeys(projectId: string, { main, handoff, step, showKeys }: Acts): ScreenKey[] {
  const navigate = useNavigate();
  const state = handoff?.state;
  return useMemo(
    (): ScreenKey[] => [
      {
        id: 'main',
        key: 'Enter',
        fixed: 'Enter does what the main button says everywhere.',
        does: 'Hand off, or what the main button says',
        group: 'Go',
        run: () => main?.(),
      },
      {
        id: 'pause',
        key: 'p',
        does: 'Pause the handoff, or let it go on',
        group: 'Go',
        run: () => {
          if (state === 'running') step('pause');
          else if (state === 'paused' || state === 'held') step('go-on');
        },
      },
      {
        id: 'new-handoff',
        key: 'n',
        does: 'Prepare a new handoff',
        group: 'Go',
        run: () => inBackground(navigate(`/projects/${projectId}/handoff`)),
      },
      {
        id: 'to-lineup',
        key: 'l',
        does: 'Back to the lineup',
        group: 'Go',
        run: () => inBackground(navigate(`/projects/${projectId}`)),
      },
      { id: 'keys', key: '?', does: 'Show these keys, and change them', group: 'Go', run: showKeys },
    ],
    [main, navigate, projectId, showKeys, state, step],
  );
}
