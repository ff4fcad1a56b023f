import { Download, Trash2, Upload } from 'lucide-react';
import { useState } from 'react';
import { FileTrigger } from 'react-aria-components';
import styled from 'styled-components';
import { needsInWords, savedRecipe } from '@pocket-twin/core/repair/plan/recipes.ts';
import { planSentence } from '@pocket-twin/core/repair/plan/planSentence.ts';
import type { Recipe, SavedRecipe } from '@pocket-twin/core/schema/recipe.ts';
import {
  sentenceOf,
  useDeleteRecipeMutation,
  useListRecipesQuery,
  useRenameRecipeMutation,
  useSaveRecipeMutation,
} from '../../../state/api.ts';
import { inBackground } from '../../../parts/inBackground.ts';
import { Button } from '../../../parts/Button.tsx';
import { Words } from '../../../parts/Field.tsx';
import { Notice } from '../../../parts/Notice.tsx';
import { Panel } from '../../../parts/Panel.tsx';
import { Soft } from '../../../parts/Screen.tsx';
import { ForecastPart } from './ForecastPart.tsx';
import { scrolls } from '../../../parts/scrolls.ts';

interface RecipesDialogProps {
  projectId: string;
  /** The clips it is for. */
  clipIds: string[];
  isOpen: boolean;
  onOpenChange: (open: boolean) => void;
}

/** The saved recipes; one of them on the chosen clips, with a forecast first. */
export function RecipesDialog({ projectId, clipIds, isOpen, onOpenChange }: RecipesDialogProps) {
  const [recipe, setRecipe] = useState<Recipe | null>(null);
  return (
    <Panel
      wide
      title={recipe ? `“${recipe.name}” on ${clipIds.length === 1 ? '1 clip' : `${clipIds.length} clips`}` : 'Recipes'}
      isOpen={isOpen}
      onOpenChange={(open) => {
        if (!open) setRecipe(null);
        onOpenChange(open);
      }}
    >
      {(close) =>
        recipe ? (
          <ForecastPart
            projectId={projectId}
            clipIds={clipIds}
            recipe={recipe}
            back={() => setRecipe(null)}
            close={close}
          />
        ) : (
          <List choose={setRecipe} />
        )
      }
    </Panel>
  );
}

function List({ choose }: { choose: (recipe: Recipe) => void }) {
  const { data: recipes } = useListRecipesQuery();
  const [save] = useSaveRecipeMutation();
  const [trouble, setTrouble] = useState<string | null>(null);
  const take = async (files: FileList | null): Promise<void> => {
    setTrouble(null);
    for (const file of files ?? []) {
      const recipe = await readRecipe(file);
      if (!recipe) setTrouble(`${file.name} is no recipe. Export one here, or save one on the bench.`);
      else {
        const { error } = await save(recipe);
        if (error !== undefined) setTrouble(sentenceOf(error));
      }
    }
  };
  return (
    <>
      {trouble && <Notice tone="fix">{trouble}</Notice>}
      {recipes?.length === 0 && (
        <Soft>
          None yet. On the bench, save what you have done to one clip as a recipe; then it is used on others here.
        </Soft>
      )}
      <Entries>
        {recipes?.map((saved) => (
          <Entry key={saved.id} saved={saved} use={() => choose(saved.recipe)} />
        ))}
      </Entries>
      <FileTrigger
        allowsMultiple
        acceptedFileTypes={['application/json', '.json']}
        onSelect={(files) => inBackground(take(files))}
      >
        <Button>
          <Upload size={15} aria-hidden="true" />
          Import a recipe ...
        </Button>
      </FileTrigger>
    </>
  );
}

function Entry({ saved: { id, recipe }, use }: { saved: SavedRecipe; use: () => void }) {
  const [rename] = useRenameRecipeMutation();
  const [remove] = useDeleteRecipeMutation();
  const [name, setName] = useState<string | null>(null);
  return (
    <Row>
      <div>
        {name === null ? (
          <Name onClick={() => setName(recipe.name)} title="Rename">
            {recipe.name}
          </Name>
        ) : (
          <Words
            label="Name"
            value={name}
            onChange={setName}
            autoFocus
            onBlur={() => {
              if (name.trim() !== '' && name !== recipe.name) inBackground(rename({ recipeId: id, name }));
              setName(null);
            }}
          />
        )}
        <p>{planSentence(recipe.repair)}</p>
        <Soft>For {needsInWords(recipe.needs)}.</Soft>
      </div>
      <Button kind="quiet" aria-label={`Export ${recipe.name}`} onPress={() => download(recipe)}>
        <Download size={15} aria-hidden="true" />
      </Button>
      <Button kind="quiet" aria-label={`Delete ${recipe.name}`} onPress={() => inBackground(remove(id))}>
        <Trash2 size={15} aria-hidden="true" />
      </Button>
      <Button onPress={use} aria-label={`Use ${recipe.name} ...`}>
        Use ...
      </Button>
    </Row>
  );
}

/** null where the file is none. */
async function readRecipe(file: File): Promise<Recipe | null> {
  try {
    return savedRecipe(JSON.parse(await file.text()));
  } catch {
    return null;
  }
}

/** The same file as --recipe takes. */
function download(recipe: Recipe): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([`${JSON.stringify(recipe, null, 2)}\n`], { type: 'application/json' }));
  link.download = `${recipe.name.replace(/[^\p{L}\p{N} _-]+/gu, ' ').trim() || 'recipe'}.json`;
  link.click();
  URL.revokeObjectURL(link.href);
}

const Entries = styled.ul`display: flex; flex-direction: column; gap: 4px; max-height: 50vh; ${scrolls}`;
const Row = styled.li`
  display: grid; grid-template-columns: 1fr auto auto auto; gap: 6px; align-items: center; padding: 10px 0; border-bottom: 1px solid var(--line);
  p { font-size: 13px; }
`;
const Name = styled.button`border: 0; background: none; padding: 0; font: inherit; font-weight: 600; cursor: text; color: var(--ink); text-align: left;`;
