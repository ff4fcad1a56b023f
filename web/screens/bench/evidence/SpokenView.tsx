import styled from 'styled-components';
import type { Spoken } from '@pocket-twin/core/schema/inspection.ts';
import type { PairVerdict } from '@pocket-twin/core/schema/verdict.ts';
import { VERDICTS } from '@pocket-twin/core/diagnose/catalogue/verdicts.ts';

// Twice what a verdict begins with fills the line.
const FULL = 2;

// What is no verdict, but is found in a pair.
const SAYS: Partial<Record<Spoken['says'], string>> = {
  'mid-side': 'middle and side',
  'upside-down': 'one side upside down',
};

/** What was held against where a verdict begins, each with how far it got. */
export function SpokenView({ spoke }: { spoke: readonly Spoken[] }) {
  return (
    <List>
      {spoke.map(({ says, strength, message }) => (
        <li key={message}>
          <span data-speaks={strength >= 1}>
            {strength >= 1 ? 'Speaks for' : 'Does not speak for'}{' '}
            {SAYS[says] ?? VERDICTS[says as PairVerdict].label.toLowerCase()}
          </span>
          <Line aria-hidden="true">
            <i style={{ width: `${(100 * Math.min(FULL, strength)) / FULL}%` }} data-speaks={strength >= 1} />
          </Line>
          <p>{message}</p>
        </li>
      ))}
    </List>
  );
}

const List = styled.ul`
  display: grid; gap: 12px; font-size: 13px;
  li { display: grid; gap: 4px; } p { color: var(--soft); }
  span { font-weight: 600; } span[data-speaks='false'] { font-weight: 400; color: var(--soft); }
`;
const Line = styled.div`
  position: relative; height: 8px; border-radius: 4px; background: var(--paper); border: 1px solid var(--line);
  i { display: block; height: 100%; border-radius: 4px; background: var(--soft); } i[data-speaks='true'] { background: var(--ink); }
  &::after { content: ''; position: absolute; left: 50%; top: -4px; bottom: -4px; width: 2px; background: var(--difference); }
`;
