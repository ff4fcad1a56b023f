import { useState } from 'react';
import styled from 'styled-components';
import { SetupChange, type Intake, type Setup } from '@pocket-twin/core/schema/setup.ts';
import { useChangeSetupMutation, useListRecipesQuery, useMergeSetupsMutation } from '../../state/api.ts';
import { useAppDispatch } from '../../state/store.ts';
import { channelLabel } from '../../parts/channelWords.ts';
import { Pick, Words } from '../../parts/Field.tsx';
import { Panel } from '../../parts/Panel.tsx';
import { PanelForm } from '../../frame/PanelForm.tsx';
import { newsCame } from '../../state/lineupSlice.ts';
import { Soft } from '../../parts/Screen.tsx';
import { INTAKES } from '../../parts/intakeWords.ts';

interface SetupDialogProps {
  projectId: string;
  setup: Setup;
  others: Setup[];
  isOpen?: boolean;
  onOpenChange?: (open: boolean) => void;
}

/** What a person can say of a setup: its name, what each channel carries, how the edit takes it, and that it is another one. */
export function SetupDialog({ projectId, setup, others, isOpen, onOpenChange }: SetupDialogProps) {
  return (
    <Panel title="Setup" isOpen={isOpen} onOpenChange={onOpenChange}>
      {(close) => <SetupForm projectId={projectId} setup={setup} others={others} close={close} />}
    </Panel>
  );
}

const PROPOSED = 'proposed';
const ITS_OWN = 'its-own';
const NO_RECIPE = 'none';

function SetupForm({ projectId, setup, others, close }: SetupDialogProps & { close: () => void }) {
  const [change, { error }] = useChangeSetupMutation();
  const [merge, { error: mergeError }] = useMergeSetupsMutation();
  const [name, setName] = useState(setup.name);
  const [roles, setRoles] = useState(setup.roles);
  const [intake, setIntake] = useState<Intake | typeof PROPOSED>(setup.intakeDecided ? setup.intake : PROPOSED);
  const [into, setInto] = useState(ITS_OWN);
  const { data: recipes = [] } = useListRecipesQuery();
  const [recipeId, setRecipeId] = useState(setup.recipe?.id ?? NO_RECIPE);
  const wanted = SetupChange.safeParse({
    ...(name !== setup.name && { name }),
    ...(JSON.stringify(roles) !== JSON.stringify(setup.roles) && { roles }),
    ...(recipeId !== (setup.recipe?.id ?? NO_RECIPE) && { recipeId: recipeId === NO_RECIPE ? null : recipeId }),
    ...(intake !== (setup.intakeDecided ? setup.intake : PROPOSED) && { intake: intake === PROPOSED ? null : intake }),
  });
  const dispatch = useAppDispatch();
  const keep = async (): Promise<boolean> => {
    if (into === ITS_OWN && wanted.success && Object.keys(wanted.data).length === 0) return true;
    if (!wanted.success) return false;
    // A name that was just typed is meant, whichever setup the clips end in.
    const { data } =
      into === ITS_OWN
        ? await change({ projectId, setupId: setup.id, ...wanted.data })
        : await merge({ projectId, from: setup.id, into, name: wanted.data.name });
    if (data) dispatch(newsCame({ kind: 'done', projectId, sentence: `${data.label}.`, wayBack: 'undo' }));
    return data !== undefined;
  };
  return (
    <PanelForm
      keepLabel={into !== ITS_OWN ? `Merge into ${others.find(({ id }) => id === into)?.name}` : 'Keep'}
      canKeep={wanted.success}
      error={error ?? mergeError}
      keep={keep}
      close={close}
    >
      <Soft>{setup.explanation}</Soft>
      <Words
        label="Name"
        value={name}
        onChange={setName}
        complaint={wanted.success ? undefined : wanted.error.issues[0].message}
        autoFocus
      />
      <Roles>
        {roles.map((role, c) => (
          <Words
            key={c}
            label={`${channelLabel(c + 1, roles.length)} carries`}
            value={role ?? ''}
            onChange={(value) =>
              setRoles(roles.map((other, o) => (o === c ? (value.trim() === '' ? null : value) : other)))
            }
          />
        ))}
      </Roles>
      <Pick
        label="Taken in as"
        value={intake}
        onChange={setIntake}
        options={[
          { value: PROPOSED, label: `What the sound shows${setup.intakeDecided ? '' : ` (${INTAKES[setup.intake]})`}` },
          ...(Object.keys(INTAKES) as Intake[]).map((value) => ({ value, label: INTAKES[value] })),
        ]}
      />
      <Pick
        label="Clips that come in with it get"
        value={recipeId}
        onChange={setRecipeId}
        options={[
          { value: NO_RECIPE, label: recipes.length === 0 ? 'No recipe (save one on the bench)' : 'No recipe' },
          ...recipes.map(({ id, recipe }) => ({ value: id, label: `“${recipe.name}”, where it fits` })),
        ]}
      />
      {others.length > 0 && (
        <Pick
          label="The same setup as"
          value={into}
          onChange={setInto}
          options={[
            { value: ITS_OWN, label: 'A setup of its own' },
            ...others.map(({ id, name: other }) => ({ value: id, label: other })),
          ]}
        />
      )}
    </PanelForm>
  );
}

const Roles = styled.div`display: grid; grid-template-columns: 1fr 1fr; gap: 10px;`;
