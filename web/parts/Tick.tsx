import type { ReactNode } from 'react';
import { Checkbox } from 'react-aria-components';
import styled from 'styled-components';

interface TickProps {
  children: ReactNode;
  isSelected: boolean;
  onChange: (on: boolean) => void;
  isDisabled?: boolean;
}

/** Something that is wanted or not, in words. */
export function Tick({ children, ...rest }: TickProps) {
  return (
    <Box {...rest}>
      <i aria-hidden="true" />
      <span>{children}</span>
    </Box>
  );
}

const Box = styled(Checkbox)`
  display: flex; gap: 8px; align-items: flex-start; font-size: 13px; cursor: pointer;
  i { position: relative; flex: none; width: 16px; height: 16px; margin-top: 2px; border: 1.5px solid var(--soft); border-radius: 4px; background: var(--paper); }
  &[data-selected] i { background: var(--button); border-color: var(--button); }
  &[data-selected] i::after { content: ''; position: absolute; left: 4px; top: 0.5px; width: 4px; height: 8px; border: solid var(--button-text); border-width: 0 2px 2px 0; transform: rotate(45deg); }
  &[data-disabled] { color: var(--soft); cursor: default; }
  &[data-focus-visible] { outline: 2px solid var(--left); outline-offset: 3px; border-radius: 4px; }
  @media (forced-colors: active) { &[data-selected] i { forced-color-adjust: none; background: Highlight; } }
`;
