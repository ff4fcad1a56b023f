import { useMemo } from 'react';
import { useNavigate } from 'react-router';
import type { Heard } from '@pocket-twin/core/repair/run/listening.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Player } from '../../listen/player.ts';
import { inBackground } from '../../parts/inBackground.ts';
import type { ScreenKey } from '../../parts/keyNames.ts';
import { moved, whole, zoomed } from '../../ribbon/view.ts';
import { selectChannel } from '@pocket-twin/core/repair/plan/plans.ts';
import {
  channelSoloed,
  heardChosen,
  heightScaleChosen,
  keysToggled,
  viewChanged,
  whenChosen,
} from '../../state/benchSlice.ts';
import { useAppDispatch, useAppSelector } from '../../state/store.ts';
import type { BenchActions } from './benchActions.ts';
import { FOUND_KEYS, foundPlans } from './foundPlans.ts';
import { planKeyId, repairChoices } from './repairChoices.ts';
import type { BenchQueue } from './useBenchQueue.ts';

const HEARD: { id: string; key: string; heard: Heard; does: string }[] = [
  { id: 'hear-both', key: 'b', heard: 'both', does: 'Hear both sides' },
  { id: 'hear-left', key: 'l', heard: 'left', does: 'Hear the left side alone' },
  { id: 'hear-right', key: 'r', heard: 'right', does: 'Hear the right side alone' },
  { id: 'hear-sum', key: 's', heard: 'sum', does: 'Hear the sum' },
  { id: 'hear-difference', key: 'd', heard: 'difference', does: 'Hear the difference' },
];

/** Keys that other clips have: they are no free keys on this one. */
export const KEYS_ELSEWHERE: ScreenKey[] = [
  ...Array.from({ length: 9 }, (_, i) => ({
    id: planKeyId(i + 1),
    key: String(i + 1),
    does: `Plan ${i + 1} of the list`,
  })),
  ...Object.entries(FOUND_KEYS).map(([id, key]) => ({ id, key, does: 'A plan that is found on other clips' })),
].map((key) => ({ ...key, group: 'Repair', run: () => undefined }));

/** The bench's keys. */
export function useBenchKeys(clip: Clip, queue: BenchQueue, actions: BenchActions, player: Player): ScreenKey[] {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const when = useAppSelector((state) => state.bench.when);
  const scale = useAppSelector((state) => state.bench.heightScale);
  const view = useAppSelector((state) => state.bench.views[clip.id]);
  const solo = useAppSelector(({ bench: { soloed } }) => (soloed?.clipId === clip.id ? soloed.channel : null));
  return useMemo(() => {
    const { frames, sampleRate, channels } = clip.inspection!.format;
    const soloStep = (by: 1 | -1): void => {
      const from = solo ?? (by > 0 ? 0 : channels + 1);
      const channel = ((from - 1 + by + channels) % channels) + 1;
      dispatch(channelSoloed({ clipId: clip.id, channel }));
    };
    const shown = view ?? whole(frames);
    const length = shown.endFrame - shown.startFrame;
    const go = (by: number): void => {
      const next = queue.order[queue.order.indexOf(clip.id) + by];
      if (next) inBackground(navigate(`/projects/${clip.projectId}/bench/${next}`));
    };
    const show = (next: typeof shown): void => {
      dispatch(viewChanged({ clipId: clip.id, view: next }));
    };
    const skip = (seconds: number): void => player.seek(player.state.frame + seconds * sampleRate);
    const keysOf =
      (group: ScreenKey['group']) =>
      (id: string, key: string, does: string, run: () => void, more: Partial<ScreenKey> = {}): ScreenKey => ({
        id,
        key,
        does,
        group,
        run,
        ...more,
      });
    const [listen, look, repair, goTo] = [keysOf('Listen'), keysOf('Look'), keysOf('Repair'), keysOf('Go')];
    const repeats = { repeats: true };
    return [
      listen('play', ' ', 'Play or pause', () => inBackground(player.toggle()), {
        fixed: 'Space plays and pauses everywhere.',
      }),
      listen('back', 'ArrowLeft', 'Two seconds back', () => skip(-2), repeats),
      listen('on', 'ArrowRight', 'Two seconds on', () => skip(2), repeats),
      ...HEARD.map(({ id, key, does, heard }) => listen(id, key, does, () => dispatch(heardChosen(heard)))),
      ...(channels > 1
        ? [
            listen('next-channel', 'c', 'Hear the next channel alone, at one loudness', () => soloStep(1)),
            listen('channel-before', 'Shift c', 'Hear the channel before alone', () => soloStep(-1)),
            repair('keep-channel', 'o', 'Only the channel that is heard alone', () => {
              if (solo !== null) actions.tryRepair(selectChannel(solo, channels));
            }),
          ]
        : []),
      listen('before-after', 'q', 'Before or after the repair', () =>
        dispatch(whenChosen(when === 'after' ? 'before' : 'after')),
      ),
      look('zoom-in', '+', 'Zoom in', () => show(zoomed(shown, 0.5, player.state.frame, frames)), repeats),
      look(
        'zoom-out',
        '-',
        'Zoom out',
        () => show(zoomed(shown, 2, (shown.startFrame + shown.endFrame) / 2, frames)),
        repeats,
      ),
      look('whole', '0', 'The whole clip', () => show(whole(frames))),
      look('view-back', '<', 'Move the view back', () => show(moved(shown, -length / 2, frames)), repeats),
      look('view-on', '>', 'Move the view on', () => show(moved(shown, length / 2, frames)), repeats),
      look('height', 'h', 'Height in dB or linear', () =>
        dispatch(heightScaleChosen(scale === 'db' ? 'linear' : 'db')),
      ),
      ...foundPlans(clip).map(({ id, name, finds }) => repair(id, FOUND_KEYS[id], name, () => actions.find(finds))),
      repair('next-plan', '.', 'The next plan', () => actions.step(1)),
      repair('plan-before', ',', 'The plan before', () => actions.step(-1)),
      ...repairChoices(clip).map((choice) =>
        repair(choice.id, choice.key, choice.name, () => actions.tryRepair(choice.repair)),
      ),
      repair(
        'main',
        'Enter',
        'What the main button says: keep, write, go on',
        () => {
          if (!actions.main.isDisabled) actions.main.run();
        },
        { fixed: 'Enter does what the main button says.' },
      ),
      repair('write', 'w', 'Keep what is chosen and write it', actions.write),
      repair('undo', 'z', 'Undo what was tried, then what was kept', actions.undo, { withCtrl: 'z' }),
      repair('redo', 'Shift z', 'Redo', actions.redo, { withCtrl: 'Shift z' }),
      listen('start', 'Home', 'To the start of the clip', () => player.seek(0)),
      listen('end', 'End', 'To its end', () => player.seek(frames - 1)),
      goTo('next-undecided', 'Shift n', 'Next clip that is undecided', actions.goNext),
      goTo('next', 'n', 'Next clip', () => go(1)),
      goTo('before', 'p', 'Clip before', () => go(-1)),
      goTo('lineup', 'u', 'Up to the lineup', () => inBackground(navigate(`/projects/${clip.projectId}`))),
      goTo('keys', '?', 'Show these keys, and change them', () => dispatch(keysToggled())),
    ];
  }, [actions, clip, queue, dispatch, navigate, player, scale, solo, view, when]);
}
