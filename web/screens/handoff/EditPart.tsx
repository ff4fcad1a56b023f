import { FileTrigger } from 'react-aria-components';
import { useState } from 'react';
import styled from 'styled-components';
import type { ProjectEdit } from '@pocket-twin/core/schema/edit.ts';
import type { HandoffWanted } from '@pocket-twin/core/schema/handoff.ts';
import { inBackground } from '../../parts/inBackground.ts';
import { sentenceOf, useForgetEditMutation, useReadEditMutation } from '../../state/api.ts';
import { Button } from '../../parts/Button.tsx';
import { Fold } from '../../parts/Fold.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { NumberInput } from '../../parts/NumberInput.tsx';
import { Soft } from '../../parts/Screen.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { scrolls } from '../../parts/scrolls.ts';

type EditOrder = Pick<HandoffWanted, 'withEdit' | 'handlesSeconds' | 'markers'>;

interface EditPartProps {
  projectId: string;
  edit: ProjectEdit | null;
  order: EditOrder;
  change: (more: Partial<EditOrder>) => void;
  fold: { title: string; open: boolean; onOpenChange: (open: boolean) => void };
}

const USUAL_HANDLES_SECONDS = 2;
const MOST_HANDLES_SECONDS = 3600;

/** What comes up below what the panel shows; once, so that it stays where a person scrolls to. */
function intoView(come: HTMLElement | null): void {
  come?.scrollIntoView({ block: 'nearest' });
}

/** The cut film: what it uses of these clips, and that it comes along, pointing to the new files. */
export function EditPart({ projectId, edit, order, change, fold }: EditPartProps) {
  const [forget] = useForgetEditMutation();
  const used = Object.keys(edit?.usedSeconds ?? {}).length;
  return (
    <Fold {...fold} says={edit ? `${edit.name}: ${edit.matched} of ${edit.events}` : 'none read'}>
      {edit && (
        <>
          <Soft>
            {edit.matched} of {edit.events} stretches are of {used === 1 ? '1 clip' : `${used} clips`} of this project.
          </Soft>
          <Unmatched edit={edit} />
          <Tick isSelected={order.withEdit} onChange={(withEdit) => change({ withEdit })}>
            Write it again, pointing to the new files; every time stays
          </Tick>
          {order.withEdit && (
            <Tick isSelected={order.markers} onChange={(markers) => change({ markers })}>
              Mark findings and repairs on its clips, and in markers.csv
            </Tick>
          )}
          <Tick
            isSelected={order.handlesSeconds !== null}
            onChange={(on) => change({ handlesSeconds: on ? USUAL_HANDLES_SECONDS : null })}
          >
            Only what it uses
          </Tick>
          {order.handlesSeconds !== null && (
            <div ref={intoView}>
              <NumberInput
                label="Before and after"
                unit="s"
                value={order.handlesSeconds}
                step={1}
                min={0}
                max={MOST_HANDLES_SECONDS}
                onChange={(handlesSeconds) => change({ handlesSeconds })}
              />
            </div>
          )}
        </>
      )}
      {!edit && <Soft>Files that are cut already can take the place of the old ones in the edit itself.</Soft>}
      <Row>
        <ReadEdit projectId={projectId} again={edit !== null} />
        {edit && (
          <Button kind="quiet" onPress={() => inBackground(forget(projectId))}>
            Remove the edit
          </Button>
        )}
      </Row>
    </Fold>
  );
}

/** What nothing was found for, and what could be several clips: each named. */
function Unmatched({ edit: { missing, ambiguous } }: { edit: ProjectEdit }) {
  if (missing.length + ambiguous.length === 0) return null;
  return (
    <Names aria-label="Not matched">
      {missing.map((name) => (
        <li key={name}>
          <b>{name}</b> is not in this project.
        </li>
      ))}
      {ambiguous.map(({ name, clips }) => (
        <li key={name}>
          <b>{name}</b> could be {clips.join(' or ')}: it stays as it is.
        </li>
      ))}
    </Names>
  );
}

function ReadEdit({ projectId, again }: { projectId: string; again: boolean }) {
  const [read, { error, isLoading }] = useReadEditMutation();
  const [unreadable, setUnreadable] = useState<string | null>(null);
  const take = async (file: File): Promise<void> => {
    setUnreadable(null);
    const text = await file.text().catch(() => null);
    if (text === null) return setUnreadable(`${file.name} can’t be read: check who may read it.`);
    await read({ projectId, fileName: file.name, text });
  };
  const complaint = unreadable ?? (error === undefined ? null : sentenceOf(error));
  return (
    <>
      <FileTrigger
        acceptedFileTypes={['.otio', '.edl']}
        onSelect={(files) => files?.[0] && inBackground(take(files[0]))}
      >
        <Button isDisabled={isLoading}>
          {isLoading ? 'Reading ...' : again ? 'Read another ...' : 'Read the edit ...'}
        </Button>
      </FileTrigger>
      {complaint !== null && <Notice tone="fix">{complaint}</Notice>}
    </>
  );
}

const Row = styled.div`display: flex; flex-wrap: wrap; gap: 6px; button { min-height: 32px; }`;
const Names = styled.ul`font-size: 12.5px; max-height: 96px; ${scrolls} color: var(--look); b { font-weight: 600; overflow-wrap: anywhere; }`;
