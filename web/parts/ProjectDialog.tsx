import { useState } from 'react';
import { ProjectChange, type Project } from '@pocket-twin/core/schema/project.ts';
import type { Intake } from '@pocket-twin/core/schema/setup.ts';
import { sentenceOf, useChangeProjectMutation } from '../api/api.ts';
import { Button } from './Button.tsx';
import { Pick, Words } from './Field.tsx';
import { FRAME_RATES, frameRateId } from './frameRates.ts';
import { INTAKES } from './intakeWords.ts';
import { Notice } from './Notice.tsx';
import { Panel, PanelButtons } from './Panel.tsx';

interface ProjectDialogProps {
  project: Project;
  isOpen?: boolean;
  onOpenChange?: (open: boolean) => void;
}

/** What holds for a whole project: its name, how the edit takes its material, its frame rate. */
export function ProjectDialog({ project, isOpen, onOpenChange }: ProjectDialogProps) {
  return <Panel title="Project" isOpen={isOpen} onOpenChange={onOpenChange}>{(close) => <ProjectForm project={project} close={close} />}</Panel>;
}

const UNDECIDED = 'undecided';

function ProjectForm({ project, close }: { project: Project; close: () => void }) {
  const [change, { error }] = useChangeProjectMutation();
  const [name, setName] = useState(project.name);
  const [intake, setIntake] = useState<Intake | typeof UNDECIDED>(project.intake ?? UNDECIDED);
  const [frames, setFrames] = useState(frameRateId(project.frameRate) ?? UNDECIDED);
  const wanted = ProjectChange.safeParse({
    name, intake: intake === UNDECIDED ? null : intake, frameRate: FRAME_RATES.find(({ id }) => id === frames)?.rate ?? null,
  });
  const keep = async (): Promise<void> => {
    if (!wanted.success) return;
    const changed = await change({ projectId: project.id, ...wanted.data });
    if (!('error' in changed && changed.error)) close();
  };
  return (
    <form onSubmit={(event) => { event.preventDefault(); void keep(); }} style={{ display: 'contents' }}>
      <Words label="Name" value={name} onChange={setName} autoFocus complaint={wanted.success ? undefined : wanted.error.issues[0].message} />
      <Pick
        label="The edit takes its clips as" value={intake} onChange={setIntake}
        options={[{ value: UNDECIDED, label: 'What the sound of each setup shows' }, ...(Object.keys(INTAKES) as Intake[]).map((value) => ({ value, label: INTAKES[value] }))]}
      />
      <Pick
        label="Frames a second, where a file does not say" value={frames} onChange={setFrames}
        options={[{ value: UNDECIDED, label: 'Not known' }, ...FRAME_RATES.map(({ id, label }) => ({ value: id, label }))]}
      />
      {error && <Notice tone="fix">{sentenceOf(error)}</Notice>}
      <PanelButtons>
        <Button onPress={close}>Cancel</Button>
        <Button kind="main" type="submit">Keep</Button>
      </PanelButtons>
    </form>
  );
}
