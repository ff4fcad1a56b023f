import { useState } from 'react';
import { ClipRename } from '@pocket-twin/core/schema/clip.ts';
import type { LineupEntry } from '@pocket-twin/core/schema/lineup.ts';
import { useRenameClipMutation } from '../../state/api.ts';
import { Words } from '../../parts/Field.tsx';
import { Panel } from '../../parts/Panel.tsx';
import { PanelForm, wentWell } from '../../frame/PanelForm.tsx';

interface RenameDialogProps {
  clip: LineupEntry;
  isOpen: boolean;
  onOpenChange: (open: boolean) => void;
}

/** What a clip is called on screen; its file keeps its name. */
export function RenameDialog({ clip, isOpen, onOpenChange }: RenameDialogProps) {
  return (
    <Panel title="Rename" isOpen={isOpen} onOpenChange={onOpenChange}>
      {(close) => <RenameForm clip={clip} close={close} />}
    </Panel>
  );
}

function RenameForm({ clip, close }: { clip: LineupEntry; close: () => void }) {
  const [rename, { error }] = useRenameClipMutation();
  const [name, setName] = useState(clip.name);
  const wanted = ClipRename.safeParse({ name });
  const keep = async (): Promise<boolean> =>
    wanted.success && wentWell(await rename({ clipId: clip.id, name: wanted.data.name }));
  return (
    <PanelForm canKeep={wanted.success} error={error} keep={keep} close={close}>
      <Words
        label="Called"
        value={name}
        onChange={setName}
        autoFocus
        hint={`The file stays ${clip.fileName}.`}
        complaint={wanted.success ? undefined : wanted.error.issues[0].message}
      />
    </PanelForm>
  );
}
