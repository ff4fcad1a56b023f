import { Redo2, Undo2 } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { Link } from 'react-aria-components';
import { useParams } from 'react-router';
import styled from 'styled-components';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Project } from '@pocket-twin/core/schema/project.ts';
import { inBackground } from '../../parts/inBackground.ts';
import { sentenceOf, useGetClipQuery, useGetProjectQuery, usePrefetch } from '../../state/api.ts';
import { useAppDispatch, useAppSelector } from '../../state/store.ts';
import { AfterFirst } from '../../parts/AfterFirst.tsx';
import { Button } from '../../parts/Button.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Body, Screen, Soft } from '../../parts/Screen.tsx';
import { placesOf } from '../../frame/places.ts';
import { TopBar } from '../../frame/TopBar.tsx';
import { useFocusHome } from '../../parts/useFocusHome.ts';
import { useTitle } from '../../parts/useTitle.ts';
import { lineMadeCurrent } from '../../state/lineupSlice.ts';
import { useBenchActions, type BenchActions } from './benchActions.ts';
import { BenchHead } from './BenchHead.tsx';
import { KEYS_ELSEWHERE, useBenchKeys } from './benchKeys.ts';
import { keysToggled } from '../../state/benchSlice.ts';
import { ClipQueue } from './ClipQueue.tsx';
import { EvidencePart } from './evidence/EvidencePart.tsx';
import { ScreenKeys } from '../../frame/keys/ScreenKeys.tsx';
import { foundPlans } from './foundPlans.ts';
import { HeardLine } from './HeardLine.tsx';
import { hasMicrophones, Microphones } from './Microphones.tsx';
import { ListenBar } from './ListenBar.tsx';
import { RepairPanel } from './RepairPanel.tsx';
import { RibbonView } from './RibbonView.tsx';
import { useBenchQueue, type BenchQueue } from './useBenchQueue.ts';
import { usePlayer } from './usePlayer.ts';
import { scrolls } from '../../parts/scrolls.ts';

/** One clip: look, listen, repair. */
export function BenchScreen() {
  const { projectId = '', clipId = '' } = useParams();
  const dispatch = useAppDispatch();
  const { data: project, error: projectError } = useGetProjectQuery(projectId);
  const { currentData: clip, error, isLoading, refetch } = useGetClipQuery(clipId);
  const queue = useBenchQueue(projectId, clipId);
  useTitle(clip?.name);
  // Whoever goes back to the lineup goes on at this clip.
  useEffect(() => {
    dispatch(lineMadeCurrent({ projectId, line: clipId }));
  }, [clipId, dispatch, projectId]);
  useFocusHome(() => document.querySelector<HTMLElement>('main h1'));
  const isElsewhere = clip !== undefined && clip.projectId !== projectId;
  if (clip?.inspection && !isElsewhere && !projectError)
    return <Bench key={clip.id} clip={clip} queue={queue} project={project} refetch={refetch} />;
  const failure = projectError ?? error;
  return (
    <Screen>
      <TopBar projectName={project?.name} places={placesOf({ projectId, project }, null)} />
      <Body>
        {isElsewhere && (
          <>
            <h1 tabIndex={-1}>This clip belongs to another project.</h1>
            <Soft>
              <Link href={`/projects/${clip.projectId}/bench/${clip.id}`}>Open it there</Link>
            </Soft>
          </>
        )}
        {!isElsewhere && failure !== undefined && (
          <>
            <h1 tabIndex={-1}>This clip can’t be shown.</h1>
            <Notice tone="fix">{sentenceOf(failure)}</Notice>
            <div>
              <Button autoFocus onPress={() => inBackground(refetch())}>
                Try again
              </Button>
            </div>
            <Soft>
              Or{' '}
              <Link href={projectError ? '/' : `/projects/${projectId}`}>
                {projectError ? 'see all projects' : 'choose another from the lineup'}
              </Link>
              .
            </Soft>
          </>
        )}
        {isLoading && <Soft role="status">Fetching the clip ...</Soft>}
        {clip && !isElsewhere && failure === undefined && (
          <>
            <h1 tabIndex={-1}>
              {clip.state === 'failed' ? 'This clip could not be read.' : 'This clip is still being measured.'}
            </h1>
            <Soft>{clip.error ?? 'It opens here as soon as it is done.'}</Soft>
          </>
        )}
      </Body>
    </Screen>
  );
}

interface BenchProps {
  clip: Clip;
  queue: BenchQueue;
  project: Project | undefined;
  refetch: () => PromiseLike<unknown>;
}

function Bench({ clip, queue, project, refetch }: BenchProps) {
  const actions = useBenchActions(clip, queue, refetch);
  usePrefetchedNeighbours(queue.order, clip.id);
  useFoundAtFirst(clip, actions);
  const { player, trouble } = usePlayer(clip, actions.repair);
  const keysShown = useAppSelector((state) => state.bench.keysShown);
  const dispatch = useAppDispatch();
  const keys = useBenchKeys(clip, queue, actions, player);
  return (
    <ScreenKeys
      screen="bench"
      keys={keys}
      elsewhere={KEYS_ELSEWHERE}
      isShown={keysShown}
      onClose={() => dispatch(keysToggled())}
    >
      <Screen>
        <TopBar
          projectName={project?.name}
          places={placesOf({ projectId: clip.projectId, project, clipId: clip.id }, 'Bench')}
        >
          <Soft role="status">
            {actions.isKept ? 'Repair kept' : clip.repair ? 'Something else is kept' : 'No repair kept yet'}
          </Soft>
          <Button shortcut="undo" isDisabled={!actions.canUndo} onPress={actions.undo}>
            <Undo2 size={15} aria-hidden="true" />
            Undo
          </Button>
          <Button aria-label="Redo" isDisabled={!actions.canRedo} onPress={actions.redo}>
            <Redo2 size={15} aria-hidden="true" />
          </Button>
          <Button kind="quiet" aria-label="Keys" shortcut="keys" onPress={() => dispatch(keysToggled())}>
            Keys
          </Button>
        </TopBar>
        <Columns>
          <ClipQueue projectId={clip.projectId} queue={queue} currentId={clip.id} />
          <Middle>
            <Looking>
              <BenchHead clip={clip} />
              {hasMicrophones(clip) && <Microphones clip={clip} actions={actions} />}
              <HeardLine clip={clip} repair={actions.repair} />
              <RibbonView
                clipId={clip.id}
                inspection={clip.inspection!}
                player={player}
                repair={actions.repair}
                onRepair={actions.tryRepair}
              />
              <AfterFirst>{() => <EvidencePart key={clip.id} clip={clip} player={player} />}</AfterFirst>
            </Looking>
            <ListenBar player={player} trouble={trouble} />
          </Middle>
          <AfterFirst meanwhile={<aside />}>
            {() => <RepairPanel clip={clip} actions={actions} player={player} />}
          </AfterFirst>
        </Columns>
      </Screen>
    </ScreenKeys>
  );
}

/** A clip that changes part-way comes with its sections filled in, where nothing has been decided about it. */
function useFoundAtFirst(clip: Clip, { find }: BenchActions): void {
  const isUntouched = useAppSelector((state) => !state.bench.drafts[clip.id] && !state.bench.steps[clip.id]);
  const finds =
    clip.repair === null && !clip.canRedo && isUntouched
      ? foundPlans(clip).find(({ suggested, comesByItself }) => suggested && comesByItself)?.finds
      : undefined;
  const wanted = useRef(finds);
  useEffect(() => {
    if (wanted.current) find(wanted.current);
    wanted.current = undefined;
  }, [find]);
}

/** The next clips are fetched while this one is looked at. */
function usePrefetchedNeighbours(order: string[], clipId: string): void {
  const prefetch = usePrefetch('getClip');
  const at = order.indexOf(clipId);
  const [before, after] = [order[at - 1], order[at + 1]];
  useEffect(() => {
    for (const id of [after, before]) if (id) prefetch(id);
  }, [after, before, prefetch]);
}

/* Narrow windows, or wide ones at twice the size: the list goes first, then the repair goes below. */
const Columns = styled.div`
  flex: 1; min-height: 0; display: grid; grid-template-columns: clamp(190px, 17vw, 260px) minmax(0, 1fr) 310px;
  @media (max-width: 980px) { grid-template-columns: minmax(0, 1fr) 290px; > aside:first-child { display: none; } }
  @media (max-width: 760px) { grid-template-columns: minmax(0, 1fr); ${scrolls} grid-auto-rows: max-content; > main > :first-child { overflow: visible; } }
`;
const Middle = styled.main`min-width: 0; min-height: 0; display: flex; flex-direction: column;`;
const Looking = styled.div`flex: 1; min-height: 0; ${scrolls} padding: 18px 20px; display: flex; flex-direction: column; gap: 16px;`;
