import { microphonesOf } from '@pocket-twin/core/repair/propose/microphones.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { NOTHING_TO_FIND, type Finds } from '@pocket-twin/core/schema/proposal.ts';

/** A plan that must be looked for on the clip first. */
export interface FoundPlan {
  /** What its key is kept under. */
  id: keyof typeof FOUND_KEYS;
  name: string;
  finds: Finds;
  /** What the diagnosis calls for, where moving whole channels is not enough. */
  suggested: boolean;
  /** It is looked for when the clip is opened; else when a person asks for it. */
  comesByItself: boolean;
  /** Stands in the list of plans; what does not is a step of a plan, and stands where that is adjusted. */
  isPlan: boolean;
  isInForce: (repair: Repair) => boolean;
}

/** The key of each plan that can be looked for, on clips where it can. */
export const FOUND_KEYS = { sections: 'f', turns: 't', 'line-up': 'a', even: 'e' } as const;

/** What can be looked for on a clip. */
export function foundPlans(clip: Clip): FoundPlan[] {
  const { format, verdict, suggestion } = clip.inspection!;
  const plans: FoundPlan[] = [];
  if (format.channels === 2)
    plans.push({
      id: 'sections',
      name: 'Mend what changes, by sections',
      finds: { ...NOTHING_TO_FIND, sections: true },
      suggested: verdict === 'changing' && suggestion.action === 'review',
      comesByItself: true,
      isPlan: true,
      isInForce: ({ sections }) => sections !== null,
    });
  if (microphonesOf(clip.inspection!).length >= 2)
    plans.push({
      id: 'turns',
      name: 'Microphones in turns, one mix',
      finds: { ...NOTHING_TO_FIND, turns: 'centred' },
      // Two people on two microphones: each open while its own talks. It takes a look at all of the clip, and there is another way: two files.
      suggested: clip.inspection!.pairs.some(({ talkers }) => talkers === 2),
      comesByItself: false,
      isPlan: true,
      isInForce: ({ turns }) => turns !== null,
    });
  const step = { suggested: false, comesByItself: false, isPlan: false, isInForce: () => false };
  if (format.channels >= 2)
    plans.push(
      { id: 'line-up', name: 'Line up left and right', finds: { ...NOTHING_TO_FIND, lineUp: [1, 2] }, ...step },
      { id: 'even', name: 'Bring the sides to one loudness', finds: { ...NOTHING_TO_FIND, balance: true }, ...step },
    );
  return plans;
}
