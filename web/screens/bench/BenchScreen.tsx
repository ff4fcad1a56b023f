import { Redo2, Undo2 } from 'lucide-react';
import { useMemo } from 'react';
import { useNavigate, useParams } from 'react-router';
import styled from 'styled-components';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Project } from '@pocket-twin/core/schema/project.ts';
import { sentenceOf, useGetClipQuery, useGetProjectQuery } from '../../api/api.ts';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { Button } from '../../parts/Button.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Body, Screen, Soft } from '../../parts/Screen.tsx';
import { TopBar } from '../../parts/TopBar.tsx';
import { useTitle } from '../../parts/useTitle.ts';
import { moved, whole, zoomed } from '../../ribbon/view.ts';
import { useBenchActions } from './benchActions.ts';
import { BenchHead } from './BenchHead.tsx';
import { useScreenKeys, type ScreenKey } from '../../parts/keys.ts';
import { heardChosen, heightScaleChosen, keysToggled, viewChanged, whenChosen } from './benchSlice.ts';
import { ClipQueue } from './ClipQueue.tsx';
import { EvidencePart } from './evidence/EvidencePart.tsx';
import { KeysOverlay } from '../../parts/KeysOverlay.tsx';
import { ListenBar } from './ListenBar.tsx';
import { repairChoices } from './repairChoices.ts';
import { RepairPanel } from './RepairPanel.tsx';
import { RibbonView } from './RibbonView.tsx';
import { useBenchQueue } from './useBenchQueue.ts';
import { usePlayer } from './usePlayer.ts';

/** One clip: look, listen, repair. */
export function BenchScreen() {
  const { projectId = '', clipId = '' } = useParams();
  const { data: project } = useGetProjectQuery(projectId);
  const { currentData: clip, error, isLoading } = useGetClipQuery(clipId);
  const queue = useBenchQueue(projectId, clipId);
  useTitle(clip?.name);
  if (clip?.inspection) return <Bench key={clip.id} clip={clip} queue={queue} project={project} />;
  return (
    <Screen>
      <TopBar projectName={project?.name} places={[{ name: 'Lineup', to: `/projects/${projectId}`, count: project?.clips, current: false }]} />
      <Body>
        {error && <><h1>This clip can’t be shown.</h1><Notice tone="fix">{sentenceOf(error)}</Notice><Soft>Choose another from the lineup.</Soft></>}
        {isLoading && <Soft role="status">Fetching the clip ...</Soft>}
        {clip && <><h1>{clip.state === 'failed' ? 'This clip could not be read.' : 'This clip is still being measured.'}</h1><Soft>{clip.error ?? 'It opens here as soon as it is done.'}</Soft></>}
      </Body>
    </Screen>
  );
}

interface BenchProps {
  clip: Clip;
  queue: string[];
  project: Project | undefined;
}

function Bench({ clip, queue, project }: BenchProps) {
  const actions = useBenchActions(clip);
  const { player, trouble } = usePlayer(clip, actions.repair);
  const keysShown = useAppSelector((state) => state.bench.keysShown);
  const dispatch = useAppDispatch();
  const keys = useKeysFor(clip, queue, actions, player);
  useScreenKeys(keys);
  return (
    <Screen>
      <TopBar
        projectName={project?.name}
        places={[
          { name: 'Lineup', to: `/projects/${clip.projectId}`, count: project?.clips, current: false },
          { name: 'Bench', to: `/projects/${clip.projectId}/bench/${clip.id}`, current: true },
        ]}
      >
        <Soft role="status">{clip.repair ? 'Repair kept' : 'No repair kept yet'}</Soft>
        <Button shortcut="Z" isDisabled={!clip.canUndo} onPress={actions.undo}><Undo2 size={15} aria-hidden="true" />Undo</Button>
        <Button aria-label="Redo" isDisabled={!clip.canRedo} onPress={actions.redo}><Redo2 size={15} aria-hidden="true" /></Button>
        <Button kind="quiet" aria-label="Keys" shortcut="?" onPress={() => dispatch(keysToggled())}>Keys</Button>
      </TopBar>
      <Columns>
        <ClipQueue projectId={clip.projectId} queue={queue} left={project?.left} currentId={clip.id} />
        <Middle>
          <Looking>
            <BenchHead clip={clip} />
            <RibbonView clipId={clip.id} inspection={clip.inspection!} player={player} />
            <EvidencePart key={clip.id} clip={clip} player={player} />
          </Looking>
          <ListenBar player={player} trouble={trouble} />
        </Middle>
        <RepairPanel clip={clip} actions={actions} />
      </Columns>
      <KeysOverlay keys={keys} isOpen={keysShown} onClose={() => dispatch(keysToggled())} />
    </Screen>
  );
}

function useKeysFor(clip: Clip, queue: string[], actions: ReturnType<typeof useBenchActions>, player: ReturnType<typeof usePlayer>['player']): ScreenKey[] {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const when = useAppSelector((state) => state.bench.when);
  const scale = useAppSelector((state) => state.bench.heightScale);
  const view = useAppSelector((state) => state.bench.views[clip.id]);
  return useMemo(() => {
    const { frames, sampleRate } = clip.inspection!.format;
    const shown = view ?? whole(frames);
    const go = (by: number): void => {
      const next = queue[queue.indexOf(clip.id) + by];
      if (next) void navigate(`/projects/${clip.projectId}/bench/${next}`);
    };
    const show = (next: typeof shown): void => { dispatch(viewChanged({ clipId: clip.id, view: next })); };
    const length = shown.end - shown.start;
    const skip = (seconds: number): void => player.seek(player.state.frame + seconds * sampleRate);
    return [
      { key: ' ', shown: 'Space', does: 'Play or pause', group: 'Listen', run: () => void player.toggle() },
      { key: 'ArrowLeft', shown: '←', does: 'Two seconds back', group: 'Listen', run: () => skip(-2) },
      { key: 'ArrowRight', shown: '→', does: 'Two seconds on', group: 'Listen', run: () => skip(2) },
      { key: 'b', shown: 'B', does: 'Hear both sides', group: 'Listen', run: () => dispatch(heardChosen('both')) },
      { key: 'l', shown: 'L', does: 'Hear the left side alone', group: 'Listen', run: () => dispatch(heardChosen('left')) },
      { key: 'r', shown: 'R', does: 'Hear the right side alone', group: 'Listen', run: () => dispatch(heardChosen('right')) },
      { key: 's', shown: 'S', does: 'Hear the sum', group: 'Listen', run: () => dispatch(heardChosen('sum')) },
      { key: 'd', shown: 'D', does: 'Hear the difference', group: 'Listen', run: () => dispatch(heardChosen('difference')) },
      { key: 'q', shown: 'Q', does: 'Before or after the repair', group: 'Listen', run: () => dispatch(whenChosen(when === 'after' ? 'before' : 'after')) },
      { key: '+', shown: '+', does: 'Zoom in', group: 'Look', run: () => show(zoomed(shown, 0.5, player.state.frame, frames)) },
      { key: '-', shown: '−', does: 'Zoom out', group: 'Look', run: () => show(zoomed(shown, 2, (shown.start + shown.end) / 2, frames)) },
      { key: '0', shown: '0', does: 'The whole clip', group: 'Look', run: () => show(whole(frames)) },
      { key: '<', shown: '<', does: 'Move the view back', group: 'Look', run: () => show(moved(shown, -length / 2, frames)) },
      { key: '>', shown: '>', does: 'Move the view on', group: 'Look', run: () => show(moved(shown, length / 2, frames)) },
      { key: 'h', shown: 'H', does: 'Height in dB or linear', group: 'Look', run: () => dispatch(heightScaleChosen(scale === 'db' ? 'linear' : 'db')) },
      ...repairChoices(clip).map((choice): ScreenKey => (
        { key: choice.key, shown: choice.key, does: choice.name, group: 'Repair', run: () => actions.tryRepair(choice.repair) }
      )),
      { key: 'Enter', shown: 'Enter', does: 'Keep this repair', group: 'Repair', run: actions.keep },
      { key: 'w', shown: 'W', does: 'Write the repaired file', group: 'Repair', run: actions.write },
      { key: 'z', shown: 'Z', does: 'Undo', group: 'Repair', run: actions.undo },
      { key: 'Shift z', shown: 'Shift Z', does: 'Redo', group: 'Repair', run: actions.redo },
      { key: 'n', shown: 'N', does: 'Next clip', group: 'Go', run: () => go(1) },
      { key: 'p', shown: 'P', does: 'Clip before', group: 'Go', run: () => go(-1) },
      { key: 'u', shown: 'U', does: 'Up to the lineup', group: 'Go', run: () => void navigate(`/projects/${clip.projectId}`) },
      { key: '?', shown: '?', does: 'Show these keys', group: 'Go', run: () => dispatch(keysToggled()) },
    ];
  }, [actions, clip, queue, dispatch, navigate, player, scale, view, when]);
}

const Columns = styled.div`flex: 1; min-height: 0; display: grid; grid-template-columns: clamp(190px, 17vw, 260px) minmax(0, 1fr) 310px;`;
const Middle = styled.main`min-width: 0; min-height: 0; display: flex; flex-direction: column;`;
const Looking = styled.div`flex: 1; min-height: 0; overflow: auto; padding: 18px 20px; display: flex; flex-direction: column; gap: 16px;`;
