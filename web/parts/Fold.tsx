import { ChevronDown } from 'lucide-react';
import type { ReactNode } from 'react';
import { Button, Disclosure, DisclosurePanel, Heading } from 'react-aria-components';
import styled from 'styled-components';

interface FoldProps {
  title: string;
  /** What it holds, said while it is folded too; null where it holds nothing but what was. */
  says: string | null;
  open: boolean;
  onOpenChange: (open: boolean) => void;
  children: ReactNode;
}

/** A part of a panel that is folded away until it is wanted. */
export function Fold({ title, says, open, onOpenChange, children }: FoldProps) {
  return (
    <Box isExpanded={open} onExpandedChange={onOpenChange}>
      <Heading level={3}>
        <Trigger slot="trigger">
          <ChevronDown size={15} aria-hidden="true" data-open={open} />
          <span>{title}</span>
          <Says $set={says !== null}>{says ?? 'as it is'}</Says>
        </Trigger>
      </Heading>
      <DisclosurePanel>{open && <Content>{children}</Content>}</DisclosurePanel>
    </Box>
  );
}

const Box = styled(
  Disclosure,
)`border-top: 1px solid var(--line); &:last-of-type { border-bottom: 1px solid var(--line); }`;
const Trigger = styled(Button)`
  display: flex; gap: 7px; align-items: center; width: 100%; padding: 9px 2px; border: 0; background: none; cursor: pointer; text-align: left; min-width: 0;
  font: 600 13.5px/1.3 'Instrument Sans Variable', sans-serif; letter-spacing: 0;
  svg { flex: none; color: var(--soft); transition: transform 120ms; transform: rotate(-90deg); } svg[data-open='true'] { transform: none; }
`;
const Says = styled.span<{ $set: boolean }>`
  margin-left: auto; min-width: 0; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; font-size: 12.5px; font-weight: ${({ $set }) => ($set ? 600 : 400)};
  color: ${({ $set }) => ($set ? 'var(--ink)' : 'var(--soft)')};
`;
const Content = styled.div`padding: 2px 2px 14px; display: flex; flex-direction: column; gap: 10px;`;
