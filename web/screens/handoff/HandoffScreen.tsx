import { useCallback, useState } from 'react';
import { useParams } from 'react-router';
import type { HandoffStep } from '@pocket-twin/core/schema/handoff.ts';
import { inBackground } from '../../parts/inBackground.ts';
import {
  sentenceOf,
  useGetHandoffQuery,
  useGetProjectQuery,
  useListHandoffsQuery,
  useStepHandoffMutation,
} from '../../state/api.ts';
import { Button } from '../../parts/Button.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Body, Screen, Soft } from '../../parts/Screen.tsx';
import { ScreenKeys } from '../../frame/keys/ScreenKeys.tsx';
import { placesOf } from '../../frame/places.ts';
import { TopBar } from '../../frame/TopBar.tsx';
import { useFocusHome } from '../../parts/useFocusHome.ts';
import { useTitle } from '../../parts/useTitle.ts';
import { HandoffStrip } from './HandoffStrip.tsx';
import { HandoffView } from './HandoffView.tsx';
import { useHandoffKeys } from './handoffKeys.ts';
import { NewHandoff } from './NewHandoff.tsx';

/** A whole shoot into the edit: the handoffs that were made, and a new one in preparation. */
export function HandoffScreen() {
  const { projectId = '', handoffId } = useParams();
  const { data: project, error: projectError } = useGetProjectQuery(projectId);
  const { data: handoffs = [], error: listError } = useListHandoffsQuery(projectId);
  const { currentData: handoff, error: handoffError } = useGetHandoffQuery(handoffId ?? '', {
    skip: handoffId === undefined,
  });
  const [stepOf, { error: stepError }] = useStepHandoffMutation();
  useTitle(project && `Handoff: ${project.name}`);
  useFocusHome(() => document.querySelector<HTMLElement>('main h1'));
  const [keysShown, setKeysShown] = useState(false);
  const showKeys = useCallback(() => setKeysShown(true), []);
  const [main, setMain] = useState<{ run: (() => void) | null }>({ run: null });
  const step = useCallback(
    (wanted: HandoffStep['step']) => {
      if (handoffId !== undefined) inBackground(stepOf({ handoffId, step: wanted }));
    },
    [handoffId, stepOf],
  );
  const keys = useHandoffKeys(projectId, { main: main.run, handoff, step, showKeys });
  const failure = projectError ?? listError ?? handoffError ?? stepError;
  return (
    <ScreenKeys screen="handoff" keys={keys} isShown={keysShown} onClose={() => setKeysShown(false)}>
      <Screen>
        <TopBar projectName={project?.name} places={placesOf({ projectId, project }, 'Handoff')}>
          <Button kind="quiet" aria-label="Keys" shortcut="keys" onPress={showKeys}>
            Keys
          </Button>
        </TopBar>
        <Body>
          {failure !== undefined && <Notice tone="fix">{sentenceOf(failure)}</Notice>}
          <HandoffStrip projectId={projectId} handoffs={handoffs} currentId={handoffId} />
          {handoffId === undefined
            ? project && <NewHandoff key={project.id} project={project} onMain={setMain} />
            : handoff && <HandoffView key={handoff.id} handoff={handoff} step={step} onMain={setMain} />}
          {handoffId !== undefined && !handoff && failure === undefined && (
            <Soft role="status">Fetching the handoff ...</Soft>
          )}
        </Body>
      </Screen>
    </ScreenKeys>
  );
}
