import { useEffect, useState } from 'react';
import { Checkbox } from 'react-aria-components';
import styled from 'styled-components';
import { planSentence } from '@pocket-twin/core/repair/plan/planSentence.ts';
import type { Recipe, RecipeForecast } from '@pocket-twin/core/schema/recipe.ts';
import { inBackground } from '../../../parts/inBackground.ts';
import { Button } from '../../../parts/Button.tsx';
import { Notice } from '../../../parts/Notice.tsx';
import { PanelButtons } from '../../../parts/Panel.tsx';
import { Soft } from '../../../parts/Screen.tsx';
import { sentenceOf, useForecastRecipeMutation, useUseRecipeMutation } from '../../../state/api.ts';
import { newsCame } from '../../../state/lineupSlice.ts';
import { useAppDispatch } from '../../../state/store.ts';
import { scrolls } from '../../../parts/scrolls.ts';

interface ForecastPartProps {
  projectId: string;
  clipIds: string[];
  recipe: Recipe;
  back: () => void;
  close: () => void;
}

/** What will happen, before anything is kept: who gets it, who does not and why; each of those only on a person's own word. */
export function ForecastPart({ projectId, clipIds, recipe, back, close }: ForecastPartProps) {
  const dispatch = useAppDispatch();
  const [ask, { data: forecast, error }] = useForecastRecipeMutation();
  const [keepRecipe, { isLoading, error: keepError }] = useUseRecipeMutation();
  const [also, setAlso] = useState<string[]>([]);
  useEffect(() => {
    inBackground(ask({ projectId, clipIds, recipe, also: [] }));
  }, [ask, clipIds, projectId, recipe]);
  const count = (forecast?.fits.length ?? 0) + also.length;
  const keep = async (): Promise<void> => {
    const { data } = await keepRecipe({ projectId, clipIds, recipe, also });
    if (!data) return;
    const left = data.left.length === 0 ? '' : ` Left alone: ${data.left.map(({ name }) => name).join(', ')}.`;
    dispatch(
      newsCame(
        data.batch
          ? { kind: 'done', projectId, sentence: `${data.batch.label}.${left}`, wayBack: 'undo' }
          : { kind: 'said', projectId, tone: 'look', sentence: `It was kept on no clip.${left}` },
      ),
    );
    close();
  };
  const trouble = error ?? keepError;
  return (
    <>
      <p>{planSentence(recipe.repair)}</p>
      {trouble !== undefined && <Notice tone="fix">{sentenceOf(trouble)}</Notice>}
      {!forecast && trouble === undefined && <Soft role="status">Looking at the clips ...</Soft>}
      {forecast && <Forecast forecast={forecast} also={also} setAlso={setAlso} />}
      <PanelButtons>
        <Button onPress={back}>Back</Button>
        <Button kind="main" isDisabled={count === 0 || isLoading} onPress={() => inBackground(keep())}>
          {isLoading ? 'Keeping ...' : count === 1 ? 'Keep on 1 clip' : `Keep on ${count} clips`}
        </Button>
      </PanelButtons>
    </>
  );
}

function Forecast({
  forecast: { fits, left },
  also,
  setAlso,
}: {
  forecast: RecipeForecast;
  also: string[];
  setAlso: (ids: string[]) => void;
}) {
  return (
    <>
      <Said $tone="fine">
        {fits.length === 0
          ? 'None of them fits.'
          : `${fits.length === 1 ? '1 clip gets' : `${fits.length} clips get`} it.`}
      </Said>
      {fits.length > 0 && <Names>{fits.map(({ name }) => name).join(', ')}</Names>}
      {left.length > 0 && (
        <>
          <Said $tone="look">{left.length === 1 ? '1 does not fit.' : `${left.length} do not fit.`}</Said>
          <Left>
            {left.map(({ clipId, name, why, canBeForced }) => (
              <li key={clipId}>
                <div>
                  <strong>{name}</strong>
                  <p>{why}</p>
                </div>
                {canBeForced && (
                  <Force
                    isSelected={also.includes(clipId)}
                    onChange={(on) => setAlso(on ? [...also, clipId] : also.filter((id) => id !== clipId))}
                    aria-label={`Use it on ${name} all the same`}
                  >
                    <span aria-hidden="true" />
                    all the same
                  </Force>
                )}
              </li>
            ))}
          </Left>
        </>
      )}
    </>
  );
}

const Said = styled.p<{ $tone: 'fine' | 'look' }>`font-weight: 600; color: ${({ $tone }) => `var(--${$tone})`};`;
const Names = styled.p`font-size: 13px; color: var(--soft); max-height: 84px; ${scrolls}`;
const Left = styled.ul`
  display: flex; flex-direction: column; max-height: 34vh; ${scrolls}
  li { display: flex; gap: 12px; align-items: center; justify-content: space-between; padding: 8px 0; border-bottom: 1px solid var(--line); }
  p { font-size: 13px; color: var(--soft); }
`;
const Force = styled(Checkbox)`
  display: flex; gap: 7px; align-items: center; font-size: 13px; cursor: pointer; white-space: nowrap;
  span { width: 16px; height: 16px; border: 1.5px solid var(--soft); border-radius: 4px; flex: none; }
  &[data-selected] span { background: var(--button); border-color: var(--button); }
  &[data-focus-visible] { outline: 2px solid var(--left); outline-offset: 3px; border-radius: 4px; }
  @media (forced-colors: active) { &[data-selected] span { forced-color-adjust: none; background: Highlight; } }
`;
