import { useState } from 'react';
import type { Setup } from '@pocket-twin/core/schema/setup.ts';
import { useMoveClipsMutation } from '../../state/api.ts';
import { useAppDispatch } from '../../state/store.ts';
import { Pick, Words } from '../../parts/Field.tsx';
import { Panel } from '../../parts/Panel.tsx';
import { PanelForm } from '../../frame/PanelForm.tsx';
import { newsCame } from '../../state/lineupSlice.ts';

interface MoveDialogProps {
  projectId: string;
  clipIds: string[];
  setups: Setup[];
  isOpen: boolean;
  onOpenChange: (open: boolean) => void;
}

const NEW = 'new';

/** Puts the chosen clips into another setup, or splits them off into a new one. */
export function MoveDialog({ projectId, clipIds, setups, isOpen, onOpenChange }: MoveDialogProps) {
  const [move, { error }] = useMoveClipsMutation();
  const [to, setTo] = useState(NEW);
  const [name, setName] = useState('');
  const dispatch = useAppDispatch();
  const keep = async (): Promise<boolean> => {
    const { data } = await move({ projectId, clipIds, to: to === NEW ? { newName: name } : to });
    if (data) dispatch(newsCame({ kind: 'done', projectId, sentence: `${data.batch.label}.`, wayBack: 'undo' }));
    return data !== undefined;
  };
  return (
    <Panel
      title={clipIds.length === 1 ? 'Move this clip' : `Move ${clipIds.length} clips`}
      isOpen={isOpen}
      onOpenChange={onOpenChange}
    >
      {(close) => (
        <PanelForm keepLabel="Move" canKeep={to !== NEW || name.trim() !== ''} error={error} keep={keep} close={close}>
          <Pick
            label="Into"
            value={to}
            onChange={setTo}
            options={[
              { value: NEW, label: 'A new setup' },
              ...setups.map(({ id, name: label }) => ({ value: id, label })),
            ]}
          />
          {to === NEW && (
            <Words
              label="Its name"
              value={name}
              onChange={setName}
              autoFocus
              hint="What it was recorded with, in your words. Clips that come later are held against it."
            />
          )}
        </PanelForm>
      )}
    </Panel>
  );
}
