import styled from 'styled-components';

/** A key of the keyboard. Named by its control already, so hidden from screen readers. */
export function Key({ children }: { children: string }) {
  return <Cap aria-hidden="true">{children}</Cap>;
}

const Cap = styled.kbd`
  font-size: 11px; line-height: 1; padding: 3px 5px; border: 1px solid currentColor; border-radius: 5px;
`;
