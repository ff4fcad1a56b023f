import { describeParts } from '@pocket-twin/core/repair/plan/planSentence.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Player } from '../../../listen/player.ts';
import { Fold } from '../../../parts/Fold.tsx';
import { inTimeChosen, partFolded, type PlanPart } from '../../../state/benchSlice.ts';
import { useAppDispatch, useAppSelector } from '../../../state/store.ts';
import type { BenchActions } from '../benchActions.ts';
import { LevelPart } from './LevelPart.tsx';
import { RoutesPart } from './RoutesPart.tsx';
import { TimePart } from './TimePart.tsx';
import { TrimPart } from './TrimPart.tsx';

const TITLES: Record<PlanPart, string> = { routes: 'Routes', trim: 'Trim', time: 'Time', level: 'Level' };

/** What of a plan can be adjusted: folded away until it is wanted. */
export function PlanParts({ clip, actions, player }: { clip: Clip; actions: BenchActions; player: Player }) {
  const dispatch = useAppDispatch();
  const open = useAppSelector((state) => state.bench.open);
  const chosen = useAppSelector((state) => state.bench.chosenInTime);
  const { repair, tryRepair } = actions;
  const says = describeParts(repair);
  const parts: Record<PlanPart, () => React.ReactNode> = {
    routes: () => <RoutesPart repair={repair} onChange={tryRepair} />,
    trim: () => <TrimPart clip={clip} player={player} repair={repair} onChange={tryRepair} />,
    time: () => (
      <TimePart
        clip={clip}
        repair={repair}
        player={player}
        chosen={chosen}
        onChoose={(index) => dispatch(inTimeChosen(index))}
        onChange={tryRepair}
        find={actions.find}
        isFinding={actions.isFinding}
      />
    ),
    level: () => <LevelPart clip={clip} repair={repair} onChange={tryRepair} />,
  };
  return (
    <div>
      {(Object.keys(TITLES) as PlanPart[]).map((part) => (
        <Fold
          key={part}
          title={TITLES[part]}
          says={says[part]}
          open={open.includes(part)}
          onOpenChange={(isOpen) => dispatch(partFolded({ part, open: isOpen }))}
        >
          {parts[part]()}
        </Fold>
      ))}
    </div>
  );
}
