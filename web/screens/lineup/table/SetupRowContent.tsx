import { Settings2 } from 'lucide-react';
import { DialogTrigger } from 'react-aria-components';
import styled from 'styled-components';
import type { Setup } from '@pocket-twin/core/schema/setup.ts';
import { useAppDispatch, useAppSelector } from '../../../app/store.ts';
import { Button } from '../../../parts/Button.tsx';
import { TwinGlyph } from '../../../parts/TwinGlyph.tsx';
import { chosen } from '../lineupSlice.ts';
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
}

/** What a setup is, why its clips stand together, and what can be done with all of it. */
export function SetupRowContent({ projectId, setup, setups, clipIds }: SetupRowContentProps) {
  const dispatch = useAppDispatch();
  const already = useAppSelector((state) => state.lineup.chosen[projectId]);
  const { name, explanation } = setup;
  const choose = (): void => { dispatch(chosen({ projectId, ids: [...new Set([...already ?? [], ...clipIds])] })); };
  return (
    <Line>
      {isSetup(setup) && setup.verdict ? <TwinGlyph verdict={setup.verdict} side={setup.side} size={30} /> : <span />}
      <div>
        <Strong title={name}>
          {name}
          <Count>{counted(isSetup(setup) ? setup.clips : clipIds.length)}</Count>
          {isSetup(setup) && setup.differing > 0 && <Odd>{setup.differing} {setup.differing === 1 ? 'differs' : 'differ'}</Odd>}
        </Strong>
        <Fact title={explanation}>{explanation}{isSetup(setup) && ` · ${intakeWords(setup)}`}</Fact>
      </div>
      <Button kind="quiet" aria-label={`Choose all clips of ${name}`} onPress={choose}>Choose {clipIds.length === 1 ? 'it' : `all ${clipIds.length}`}</Button>
      {isSetup(setup) && (
        <DialogTrigger>
          <Button kind="quiet" aria-label={`Setup ${name}`}><Settings2 size={15} aria-hidden="true" />Setup</Button>
          <SetupDialog projectId={projectId} setup={setup} others={[...setups.values()].filter(({ id }) => id !== setup.id)} />
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
  display: grid; grid-template-columns: 34px minmax(0, 1fr) auto auto; gap: 10px; align-items: center;
  button { min-height: 28px; padding: 3px 9px; font-size: 13px; }
`;
const Count = styled.span`margin-left: 9px; font-weight: 500; font-size: 12.5px; color: var(--soft);`;
const Odd = styled.span`margin-left: 9px; padding: 1px 7px; border-radius: 99px; font-size: 11.5px; color: var(--look); background: var(--look-wash);`;
