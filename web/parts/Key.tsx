import { useContext } from 'react';
import styled from 'styled-components';
import { KeysShown } from './keys.ts';

/** The key of the keyboard that does it on this screen, as a person has it. Named by its control already, so hidden from screen readers. */
export function Key({ of }: { of: string }) {
  const shown = useContext(KeysShown)[of];
  return shown ? <Cap aria-hidden="true">{shown}</Cap> : null;
}

const Cap = styled.kbd`
  font-size: 11px; line-height: 1; padding: 3px 5px; border: 1px solid currentColor; border-radius: 5px; white-space: nowrap;
`;
