import { useState } from 'react';
import type { Setup } from '@pocket-twin/core/schema/setup.ts';
import { sentenceOf, useMoveClipsMutation } from '../../api/api.ts';
import { Button } from '../../parts/Button.tsx';
import { Pick, Words } from '../../parts/Field.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Panel, PanelButtons } from '../../parts/Panel.tsx';

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
  const run = async (close: () => void): Promise<void> => {
    if (to === NEW && name.trim() === '') return;
    const moved = await move({ projectId, clipIds, to: to === NEW ? { newName: name } : to });
    if (!('error' in moved && moved.error)) close();
  };
  return (
    <Panel title={clipIds.length === 1 ? 'Move this clip' : `Move ${clipIds.length} clips`} isOpen={isOpen} onOpenChange={onOpenChange}>
      {(close) => (
        <>
          <Pick label="Into" value={to} onChange={setTo} options={[{ value: NEW, label: 'A new setup' }, ...setups.map(({ id, name: label }) => ({ value: id, label }))]} />
          {to === NEW && <Words label="Its name" value={name} onChange={setName} autoFocus hint="What it was recorded with, in your words. Clips that come later are held against it." />}
          {error && <Notice tone="fix">{sentenceOf(error)}</Notice>}
          <PanelButtons>
            <Button onPress={close}>Cancel</Button>
            <Button kind="main" isDisabled={to === NEW && name.trim() === ''} onPress={() => void run(close)}>Move</Button>
          </PanelButtons>
        </>
      )}
    </Panel>
  );
}
