import type { ReactNode } from 'react';
import styled from 'styled-components';

/** A sentence that must not be overlooked. */
export function Notice({ tone, children }: { tone: 'fix' | 'look' | 'fine'; children: ReactNode }) {
  return (
    <Box $tone={tone} role={tone === 'fix' ? 'alert' : 'status'}>
      {children}
    </Box>
  );
}

const Box = styled.div<{ $tone: 'fix' | 'look' | 'fine' }>`
  padding: 8px 12px; border-radius: 9px; color: ${({ $tone }) => `var(--${$tone})`}; background: ${({ $tone }) => `var(--${$tone}-wash)`};
  font-weight: 500;
`;
