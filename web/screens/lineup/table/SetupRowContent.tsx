import { Settings2, Split } from 'lucide-react';
import { DialogTrigger } from 'react-aria-components';
import styled from 'styled-components';
import type { Setup } from '@pocket-twin/core/schema/setup.ts';
import { sentenceOf, useSplitSetupMutation } from '../../../state/api.ts';
import { useAppDispatch, useAppSelector } from '../../../state/store.ts';
import { Button } from '../../../parts/Button.tsx';
import { TwinGlyph } from '../../../parts/TwinGlyph.tsx';
import { chosen, newsCame } from '../../../state/lineupSlice.ts';
import { intakeWords } from '../../../parts/intakeWords.ts';
import { SetupDialog } from '../SetupDialog.tsx';
import { Fact, Strong } from './cells.tsx';

/** Clips that stand together without being one setup. */
export interface GatheredClips {
  name: string;
  explanation: string;
}

interface SetupRowContentProps {
  projectId: string;
  setup: Setup | GatheredClips;
  setups: Map<string, Setup>;
  clipIds: string[];
  /** Its buttons are reached by Tab from its own line only. */
  inTabOrder: boolean;
}

/** What a setup is, why its clips stand together, and what can be done with all of it. */
export function SetupRowContent({ projectId, setup, setups, clipIds, inTabOrder }: SetupRowContentProps) {
  const [split] = useSplitSetupMutation();
  const dispatch = useAppDispatch();
  const already = useAppSelector((state) => state.lineup.chosen[projectId]);
  const { name, explanation } = setup;
  const choose = (): void => {
    dispatch(chosen({ projectId, ids: [...new Set([...(already ?? []), ...clipIds])] }));
  };
  const splitIt = (): void => {
    split({ projectId, setupId: (setup as Setup).id })
      .unwrap()
      .then(
        ({ label }) => dispatch(newsCame({ kind: 'done', projectId, sentence: `${label}.`, wayBack: 'undo' })),
        (error: unknown) => dispatch(newsCame({ kind: 'said', projectId, tone: 'fix', sentence: sentenceOf(error) })),
      );
  };
  return (
    <Line>
      {isSetup(setup) && setup.verdict ? <TwinGlyph verdict={setup.verdict} side={setup.side} size={30} /> : <span />}
      <div>
        <Strong title={name}>
          {name}
          <Count>{counted(isSetup(setup) ? setup.clips : clipIds.length)}</Count>
          {isSetup(setup) && setup.mixed && <Odd>mixed</Odd>}
          {isSetup(setup) && setup.differing > 0 && (
            <Odd>
              {setup.differing} {setup.differing === 1 ? 'differs' : 'differ'}
            </Odd>
          )}
        </Strong>
        <Fact title={explanation}>
          {explanation}
          {isSetup(setup) && ` · ${intakeWords(setup)}`}
          {isSetup(setup) && setup.recipe && ` · newcomers get “${setup.recipe.name}”`}
        </Fact>
      </div>
      {isSetup(setup) && setup.mixed ? (
        <Button kind="quiet" excludeFromTabOrder={!inTabOrder} onPress={splitIt}>
          <Split size={15} aria-hidden="true" />
          Split by what they carry
        </Button>
      ) : (
        <span />
      )}
      <Button
        kind="quiet"
        excludeFromTabOrder={!inTabOrder}
        aria-label={`Choose all clips of ${name}`}
        onPress={choose}
      >
        Choose {clipIds.length === 1 ? 'it' : `all ${clipIds.length}`}
      </Button>
      {isSetup(setup) && (
        <DialogTrigger>
          <Button kind="quiet" excludeFromTabOrder={!inTabOrder} aria-label={`Setup ${name}`}>
            <Settings2 size={15} aria-hidden="true" />
            Setup
          </Button>
          <SetupDialog
            projectId={projectId}
            setup={setup}
            others={[...setups.values()].filter(({ id }) => id !== setup.id)}
          />
        </DialogTrigger>
      )}
    </Line>
  );
}

function isSetup(setup: Setup | GatheredClips): setup is Setup {
  return 'id' in setup;
}

function counted(clips: number): string {
  return clips === 1 ? '1 clip' : `${clips} clips`;
}

const Line = styled.div`
  display: grid; grid-template-columns: 34px minmax(0, 1fr) auto auto auto; gap: 10px; align-items: center;
  button { min-height: 28px; padding: 3px 9px; font-size: 13px; }
`;
const Count = styled.span`margin-left: 9px; font-weight: 500; font-size: 12.5px; color: var(--soft);`;
const Odd = styled.span`margin-left: 9px; padding: 1px 7px; border-radius: 99px; font-size: 11.5px; color: var(--look); background: var(--look-wash);`;
