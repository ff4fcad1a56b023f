import { Redo2, Undo2 } from 'lucide-react';
import { useEffect, useMemo } from 'react';
import { Link } from 'react-aria-components';
import { useNavigate, useParams } from 'react-router';
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
import type { Player } from '../../listen/player.ts';
import { useFocusHome } from '../../parts/useFocusHome.ts';
import { useTitle } from '../../parts/useTitle.ts';
import { moved, whole, zoomed } from '../../ribbon/view.ts';
import { lineMadeCurrent } from '../../state/lineupSlice.ts';
import { useBenchActions, type BenchActions } from './benchActions.ts';
import { BenchHead } from './BenchHead.tsx';
import { useScreenKeys, type ScreenKey } from '../../parts/keys.ts';
import { heardChosen, heightScaleChosen, keysToggled, viewChanged, whenChosen } from '../../state/benchSlice.ts';
import { ClipQueue } from './ClipQueue.tsx';
import { EvidencePart } from './evidence/EvidencePart.tsx';
import { KeysOverlay } from '../../parts/KeysOverlay.tsx';
import { ListenBar } from './ListenBar.tsx';
import { foundPlans } from './foundPlans.ts';
import { repairChoices } from './repairChoices.ts';
import { RepairPanel } from './RepairPanel.tsx';
import { RibbonView } from './RibbonView.tsx';
import { useBenchQueue, type BenchQueue } from './useBenchQueue.ts';
import { usePlayer } from './usePlayer.ts';

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
  const { player, trouble } = usePlayer(clip, actions.repair);
  const keysShown = useAppSelector((state) => state.bench.keysShown);
  const dispatch = useAppDispatch();
  const keys = useKeysFor(clip, queue, actions, player);
  useScreenKeys(keys);
  return (
    <Screen>
      <TopBar
        projectName={project?.name}
        places={placesOf({ projectId: clip.projectId, project, clipId: clip.id }, 'Bench')}
      >
        <Soft role="status">
          {actions.isKept ? 'Repair kept' : clip.repair ? 'Something else is kept' : 'No repair kept yet'}
        </Soft>
        <Button shortcut="Z" isDisabled={!clip.canUndo} onPress={actions.undo}>
          <Undo2 size={15} aria-hidden="true" />
          Undo
        </Button>
        <Button aria-label="Redo" isDisabled={!clip.canRedo} onPress={actions.redo}>
          <Redo2 size={15} aria-hidden="true" />
        </Button>
        <Button kind="quiet" aria-label="Keys" shortcut="?" onPress={() => dispatch(keysToggled())}>
          Keys
        </Button>
      </TopBar>
      <Columns>
        <ClipQueue projectId={clip.projectId} queue={queue} currentId={clip.id} />
        <Middle>
          <Looking>
            <BenchHead clip={clip} />
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
      <KeysOverlay keys={keys} isOpen={keysShown} onClose={() => dispatch(keysToggled())} />
    </Screen>
  );
}

function useKeysFor(clip: Clip, queue: BenchQueue, actions: BenchActions, player: Player): ScreenKey[] {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const when = useAppSelector((state) => state.bench.when);
  const scale = useAppSelector((state) => state.bench.heightScale);
  const view = useAppSelector((state) => state.bench.views[clip.id]);
  return useMemo(() => {
    const { frames, sampleRate } = clip.inspection!.format;
    const shown = view ?? whole(frames);
    const go = (by: number): void => {
      const next = queue.order[queue.order.indexOf(clip.id) + by];
      if (next) inBackground(navigate(`/projects/${clip.projectId}/bench/${next}`));
    };
    const show = (next: typeof shown): void => {
      dispatch(viewChanged({ clipId: clip.id, view: next }));
    };
    const length = shown.endFrame - shown.startFrame;
    const skip = (seconds: number): void => player.seek(player.state.frame + seconds * sampleRate);
    return [
      { key: ' ', shown: 'Space', does: 'Play or pause', group: 'Listen', run: () => inBackground(player.toggle()) },
      { key: 'ArrowLeft', repeats: true, shown: '←', does: 'Two seconds back', group: 'Listen', run: () => skip(-2) },
      { key: 'ArrowRight', repeats: true, shown: '→', does: 'Two seconds on', group: 'Listen', run: () => skip(2) },
      { key: 'b', shown: 'B', does: 'Hear both sides', group: 'Listen', run: () => dispatch(heardChosen('both')) },
      {
        key: 'l',
        shown: 'L',
        does: 'Hear the left side alone',
        group: 'Listen',
        run: () => dispatch(heardChosen('left')),
      },
      {
        key: 'r',
        shown: 'R',
        does: 'Hear the right side alone',
        group: 'Listen',
        run: () => dispatch(heardChosen('right')),
      },
      { key: 's', shown: 'S', does: 'Hear the sum', group: 'Listen', run: () => dispatch(heardChosen('sum')) },
      {
        key: 'd',
        shown: 'D',
        does: 'Hear the difference',
        group: 'Listen',
        run: () => dispatch(heardChosen('difference')),
      },
      {
        key: 'q',
        shown: 'Q',
        does: 'Before or after the repair',
        group: 'Listen',
        run: () => dispatch(whenChosen(when === 'after' ? 'before' : 'after')),
      },
      {
        key: '+',
        repeats: true,
        shown: '+',
        does: 'Zoom in',
        group: 'Look',
        run: () => show(zoomed(shown, 0.5, player.state.frame, frames)),
      },
      {
        key: '-',
        repeats: true,
        shown: '−',
        does: 'Zoom out',
        group: 'Look',
        run: () => show(zoomed(shown, 2, (shown.startFrame + shown.endFrame) / 2, frames)),
      },
      { key: '0', shown: '0', does: 'The whole clip', group: 'Look', run: () => show(whole(frames)) },
      {
        key: '<',
        repeats: true,
        shown: '<',
        does: 'Move the view back',
        group: 'Look',
        run: () => show(moved(shown, -length / 2, frames)),
      },
      {
        key: '>',
        repeats: true,
        shown: '>',
        does: 'Move the view on',
        group: 'Look',
        run: () => show(moved(shown, length / 2, frames)),
      },
      {
        key: 'h',
        shown: 'H',
        does: 'Height in dB or linear',
        group: 'Look',
        run: () => dispatch(heightScaleChosen(scale === 'db' ? 'linear' : 'db')),
      },
      ...foundPlans(clip).map(({ key, name, finds }): ScreenKey => ({
        key,
        shown: key.toUpperCase(),
        does: name,
        group: 'Repair',
        run: () => actions.find(finds),
      })),
      { key: '.', shown: '.', does: 'The next plan', group: 'Repair', run: () => actions.step(1) },
      { key: ',', shown: ',', does: 'The plan before', group: 'Repair', run: () => actions.step(-1) },
      ...repairChoices(clip).map((choice): ScreenKey => ({
        key: choice.key,
        shown: choice.key,
        does: choice.name,
        group: 'Repair',
        run: () => actions.tryRepair(choice.repair),
      })),
      {
        key: 'Enter',
        shown: 'Enter',
        does: 'What the main button says: keep, write, go on',
        group: 'Repair',
        run: () => {
          if (!actions.main.isDisabled) actions.main.run();
        },
      },
      { key: 'w', shown: 'W', does: 'Keep what is chosen and write it', group: 'Repair', run: actions.write },
      { key: 'z', alsoCtrl: true, shown: 'Z', does: 'Undo', group: 'Repair', run: actions.undo },
      { key: 'Shift z', alsoCtrl: true, shown: 'Shift Z', does: 'Redo', group: 'Repair', run: actions.redo },
      { key: 'Home', shown: 'Home', does: 'To the start of the clip', group: 'Listen', run: () => player.seek(0) },
      { key: 'End', shown: 'End', does: 'To its end', group: 'Listen', run: () => player.seek(frames - 1) },
      { key: 'Shift n', shown: 'Shift N', does: 'Next clip that is undecided', group: 'Go', run: actions.goNext },
      { key: 'n', shown: 'N', does: 'Next clip', group: 'Go', run: () => go(1) },
      { key: 'p', shown: 'P', does: 'Clip before', group: 'Go', run: () => go(-1) },
      {
        key: 'u',
        shown: 'U',
        does: 'Up to the lineup',
        group: 'Go',
        run: () => inBackground(navigate(`/projects/${clip.projectId}`)),
      },
      { key: '?', shown: '?', does: 'Show these keys', group: 'Go', run: () => dispatch(keysToggled()) },
    ];
  }, [actions, clip, queue, dispatch, navigate, player, scale, view, when]);
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
  @media (max-width: 760px) { grid-template-columns: minmax(0, 1fr); overflow: auto; grid-auto-rows: max-content; > main > :first-child { overflow: visible; } }
`;
const Middle = styled.main`min-width: 0; min-height: 0; display: flex; flex-direction: column;`;
const Looking = styled.div`flex: 1; min-height: 0; overflow: auto; padding: 18px 20px; display: flex; flex-direction: column; gap: 16px;`;
