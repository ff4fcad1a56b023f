import { ChevronDown, CircleHelp } from 'lucide-react';
import { useId, useState, type ReactNode } from 'react';
import { Button, Disclosure, DisclosurePanel, Heading } from 'react-aria-components';
import styled from 'styled-components';

interface EvidenceCardProps {
  title: string;
  /** How to read the view, in a few short sentences. */
  how: string;
  open: boolean;
  onOpenChange: (open: boolean) => void;
  children: ReactNode;
}

/** One view of the evidence: folded or open, with its reading instructions one press away. */
export function EvidenceCard({ title, how, open, onOpenChange, children }: EvidenceCardProps) {
  const [explained, setExplained] = useState(false);
  const howId = useId();
  return (
    <Card isExpanded={open} onExpandedChange={onOpenChange}>
      {({ isExpanded }) => (
        <>
          <Top>
            <Heading level={3}>
              <Trigger slot="trigger">
                <ChevronDown size={15} aria-hidden="true" data-open={isExpanded} />
                {title}
              </Trigger>
            </Heading>
            {isExpanded && (
              <Help
                aria-label={`How to read: ${title}`}
                aria-expanded={explained}
                aria-controls={howId}
                onPress={() => setExplained(!explained)}
              >
                <CircleHelp size={15} aria-hidden="true" />
              </Help>
            )}
          </Top>
          <DisclosurePanel>
            {isExpanded && (
              <Content>
                {explained && <How id={howId}>{how}</How>}
                {children}
              </Content>
            )}
          </DisclosurePanel>
        </>
      )}
    </Card>
  );
}

const Card = styled(
  Disclosure,
)`background: var(--sheet); border: 1px solid var(--line); border-radius: 10px; min-width: 0;`;
const Top = styled.div`display: flex; align-items: center; h3 { flex: 1; min-width: 0; }`;
const Trigger = styled(Button)`
  display: flex; gap: 7px; align-items: center; width: 100%; padding: 9px 12px; border: 0; background: none; cursor: pointer; text-align: left;
  font: 600 13.5px/1.3 'Instrument Sans Variable', sans-serif; letter-spacing: 0;
  svg { flex: none; color: var(--soft); transition: transform 120ms; transform: rotate(-90deg); } svg[data-open='true'] { transform: none; }
  &[data-focus-visible] { outline-offset: -3px; border-radius: 10px; }
`;
const Help = styled(Button)`
  border: 0; background: none; padding: 8px 12px; cursor: pointer; color: var(--soft); &[data-hovered] { color: var(--ink); }
  &[data-focus-visible] { outline-offset: -3px; border-radius: 10px; }
`;
const Content = styled.div`padding: 0 12px 12px; display: flex; flex-direction: column; gap: 8px;`;
const How = styled.p`font-size: 12.5px; color: var(--soft); background: var(--paper); border-radius: 8px; padding: 8px 10px;`;
