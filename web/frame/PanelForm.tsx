import type { ReactNode } from 'react';
import { inBackground } from '../parts/inBackground.ts';
import { sentenceOf } from '../state/api.ts';
import { Button } from '../parts/Button.tsx';
import { Notice } from '../parts/Notice.tsx';
import { PanelButtons } from '../parts/Panel.tsx';

interface PanelFormProps {
  children: ReactNode;
  /** Says what its button does. */
  keepLabel?: string;
  canKeep?: boolean;
  /** What went wrong the last time. */
  error?: unknown;
  /** Has done what was wanted where it answers true; then the panel closes. */
  keep: () => Promise<boolean>;
  close: () => void;
}

/** The fields of a panel with what closes it: Enter keeps, as its main button does. */
export function PanelForm({ children, keepLabel = 'Keep', canKeep = true, error, keep, close }: PanelFormProps) {
  const submit = async (): Promise<void> => {
    if (canKeep && (await keep())) close();
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        inBackground(submit());
      }}
      style={{ display: 'contents' }}
    >
      {children}
      {error !== undefined && <Notice tone="fix">{sentenceOf(error)}</Notice>}
      <PanelButtons>
        <Button onPress={close}>Cancel</Button>
        <Button kind="main" type="submit" isDisabled={!canKeep}>
          {keepLabel}
        </Button>
      </PanelButtons>
    </form>
  );
}

/** Whether a mutation went well. */
export function wentWell(answer: { error?: unknown }): boolean {
  return answer.error === undefined;
}
