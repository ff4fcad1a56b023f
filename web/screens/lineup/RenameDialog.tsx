import { useState } from 'react';
import { ClipRename } from '@pocket-twin/core/schema/clip.ts';
import type { LineupRow } from '@pocket-twin/core/schema/lineup.ts';
import { sentenceOf, useRenameClipMutation } from '../../api/api.ts';
import { Button } from '../../parts/Button.tsx';
import { Words } from '../../parts/Field.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Panel, PanelButtons } from '../../parts/Panel.tsx';

interface RenameDialogProps {
  row: LineupRow;
  isOpen: boolean;
  onOpenChange: (open: boolean) => void;
}

/** What a clip is called on screen; its file keeps its name. */
export function RenameDialog({ row, isOpen, onOpenChange }: RenameDialogProps) {
  return (
    <Panel title="Rename" isOpen={isOpen} onOpenChange={onOpenChange}>
      {(close) => <RenameForm row={row} close={close} />}
    </Panel>
  );
}

function RenameForm({ row, close }: { row: LineupRow; close: () => void }) {
  const [rename, { error }] = useRenameClipMutation();
  const [name, setName] = useState(row.name);
  const wanted = ClipRename.safeParse({ name });
  const keep = async (): Promise<void> => {
    if (!wanted.success) return;
    const renamed = await rename({ clipId: row.id, name: wanted.data.name });
    if (!('error' in renamed && renamed.error)) close();
  };
  return (
    <form onSubmit={(event) => { event.preventDefault(); void keep(); }} style={{ display: 'contents' }}>
      <Words label="Called" value={name} onChange={setName} autoFocus hint={`The file stays ${row.fileName}.`} complaint={wanted.success ? undefined : wanted.error.issues[0].message} />
      {error && <Notice tone="fix">{sentenceOf(error)}</Notice>}
      <PanelButtons>
        <Button onPress={close}>Cancel</Button>
        <Button kind="main" type="submit">Keep</Button>
      </PanelButtons>
    </form>
  );
}
