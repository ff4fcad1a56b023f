import { format } from 'date-fns';
import { Plus } from 'lucide-react';
import { Link } from 'react-aria-components';
import styled from 'styled-components';
import type { Handoff } from '@pocket-twin/core/schema/handoff.ts';
import { handoffStateWords } from './handoffWords.ts';
import { scrolls } from '../../parts/scrolls.ts';

interface HandoffStripProps {
  projectId: string;
  handoffs: Handoff[];
  currentId: string | undefined;
}

/** The handoffs made so far, newest first, and the way to a new one. */
export function HandoffStrip({ projectId, handoffs, currentId }: HandoffStripProps) {
  if (handoffs.length === 0) return null;
  const at = `/projects/${projectId}/handoff`;
  return (
    <nav aria-label="Handoffs">
      <Strip>
        <li>
          <Way href={at} aria-current={currentId === undefined ? 'page' : undefined}>
            <Plus size={14} aria-hidden="true" />
            New
          </Way>
        </li>
        {handoffs.map((handoff) => (
          <li key={handoff.id}>
            <Way href={`${at}/${handoff.id}`} aria-current={handoff.id === currentId ? 'page' : undefined}>
              {handoff.name}
              {handoffs.some(({ id, name }) => id !== handoff.id && name === handoff.name) && (
                <small>{format(handoff.createdAt, 'd MMM, HH:mm')}</small>
              )}
              <small data-state={handoff.state}>{handoffStateWords(handoff)}</small>
            </Way>
          </li>
        ))}
      </Strip>
    </nav>
  );
}

const Strip = styled.ul`display: flex; gap: 6px; ${scrolls} padding: 2px; flex: none;`;
const Way = styled(Link)`
  display: inline-flex; gap: 8px; align-items: center; height: 32px; padding: 0 12px; border: 1px solid var(--line); border-radius: 99px; background: var(--sheet);
  font-weight: 600; font-size: 13px; white-space: nowrap; text-decoration: none;
  small { font-weight: 500; font-size: 12px; color: var(--soft); }
  small[data-state='held'] { color: var(--fix); }
  &[data-hovered] { border-color: var(--ink); }
  &[aria-current='page'] { background: var(--button); color: var(--button-text); border-color: var(--button); small { color: inherit; } }
`;
