import { useState } from 'react';
import styled from 'styled-components';
import { needsInWords, recipeOf } from '@pocket-twin/core/repair/plan/recipes.ts';
import { repairName } from '@pocket-twin/core/repair/plan/describe.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { inBackground } from '../../../parts/inBackground.ts';
import { Button } from '../../../parts/Button.tsx';
import { Words } from '../../../parts/Field.tsx';
import { sentenceOf, useSaveRecipeMutation } from '../../../state/api.ts';

/** Saves the plan for other clips, with what must be on their channels for it to fit. */
export function SaveRecipe({ clip, repair }: { clip: Clip; repair: Repair }) {
  const [name, setName] = useState<string | null>(null);
  const [said, setSaid] = useState<string | null>(null);
  const [save, { isLoading }] = useSaveRecipeMutation();
  const keep = async (): Promise<void> => {
    const recipe = recipeOf(name!.trim(), repair, clip.inspection!);
    const { error } = await save(recipe);
    setSaid(
      error === undefined
        ? `Saved for ${needsInWords(recipe.needs)}. Choose clips in the lineup to use it on them.`
        : sentenceOf(error),
    );
    if (error === undefined) setName(null);
  };
  return (
    <Box>
      {name === null ? (
        <Button
          kind="quiet"
          onPress={() => {
            setSaid(null);
            setName(repairName(repair).split(':')[0]);
          }}
        >
          Save as a recipe for others ...
        </Button>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            if (name.trim() !== '') inBackground(keep());
          }}
        >
          <Words label="Recipe" value={name} onChange={setName} autoFocus />
          <div>
            <Button onPress={() => setName(null)}>Cancel</Button>
            <Button type="submit" isDisabled={isLoading || name.trim() === ''}>
              Save
            </Button>
          </div>
        </form>
      )}
      <p role="status">{said}</p>
    </Box>
  );
}

const Box = styled.div`
  font-size: 12.5px; p { color: var(--soft); &:empty { display: none; } }
  form { display: flex; flex-direction: column; gap: 8px; } form > div:last-child { display: flex; gap: 6px; button { flex: 1; min-height: 30px; } }
`;
