import { useState } from 'react';
import { ProjectChange, type Project } from '@pocket-twin/core/schema/project.ts';
import type { Intake } from '@pocket-twin/core/schema/setup.ts';
import { useChangeProjectMutation } from '../state/api.ts';
import { Pick, Words } from '../parts/Field.tsx';
import { FRAME_RATES, frameRateId } from '@pocket-twin/core/time/frameRates.ts';
import { INTAKES } from '../parts/intakeWords.ts';
import { Panel } from '../parts/Panel.tsx';
import { PanelForm, wentWell } from './PanelForm.tsx';

interface ProjectDialogProps {
  project: Project;
  isOpen?: boolean;
  onOpenChange?: (open: boolean) => void;
}

/** What holds for a whole project: its name, how the edit takes its material, its frame rate. */
export function ProjectDialog({ project, isOpen, onOpenChange }: ProjectDialogProps) {
  return (
    <Panel title="Project" isOpen={isOpen} onOpenChange={onOpenChange}>
      {(close) => <ProjectForm project={project} close={close} />}
    </Panel>
  );
}

const UNDECIDED = 'undecided';

function ProjectForm({ project, close }: { project: Project; close: () => void }) {
  const [change, { error }] = useChangeProjectMutation();
  const [name, setName] = useState(project.name);
  const [intake, setIntake] = useState<Intake | typeof UNDECIDED>(project.intake ?? UNDECIDED);
  const [frames, setFrames] = useState(frameRateId(project.frameRate) ?? UNDECIDED);
  const wanted = ProjectChange.safeParse({
    name,
    intake: intake === UNDECIDED ? null : intake,
    frameRate: FRAME_RATES.find(({ id }) => id === frames)?.rate ?? null,
  });
  const keep = async (): Promise<boolean> =>
    wanted.success && wentWell(await change({ projectId: project.id, ...wanted.data }));
  return (
    <PanelForm canKeep={wanted.success} error={error} keep={keep} close={close}>
      <Words
        label="Name"
        value={name}
        onChange={setName}
        autoFocus
        complaint={wanted.success ? undefined : wanted.error.issues[0].message}
      />
      <Pick
        label="The edit takes its clips as"
        value={intake}
        onChange={setIntake}
        options={[
          { value: UNDECIDED, label: 'What the sound of each setup shows' },
          ...(Object.keys(INTAKES) as Intake[]).map((value) => ({ value, label: INTAKES[value] })),
        ]}
      />
      <Pick
        label="Frames a second, where a file does not say"
        value={frames}
        onChange={setFrames}
        options={[
          { value: UNDECIDED, label: 'Not known' },
          ...FRAME_RATES.map(({ id, label }) => ({ value: id, label })),
        ]}
      />
    </PanelForm>
  );
}
