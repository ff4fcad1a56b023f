import type { ReactNode } from 'react';
import { Button as AriaButton, type ButtonProps as AriaButtonProps } from 'react-aria-components';
import styled from 'styled-components';
import { Key } from './Key.tsx';
import { OWN_KEY } from './keys.ts';

interface ButtonProps extends Omit<AriaButtonProps, 'children' | 'style' | 'className'> {
  children: ReactNode;
  /** main: the one thing to press on a screen. */
  kind?: 'main' | 'plain' | 'quiet';
  /** What the key that does the same is kept under (ScreenKey.id). */
  shortcut?: string;
  wide?: boolean;
}

export function Button({ children, kind = 'plain', shortcut, wide = false, ...rest }: ButtonProps) {
  return (
    <Pressable {...rest} {...(shortcut && { [OWN_KEY]: '' })} $kind={kind} $wide={wide}>
      {children}
      {shortcut && <Key of={shortcut} />}
    </Pressable>
  );
}

const Pressable = styled(AriaButton)<{ $kind: NonNullable<ButtonProps['kind']>; $wide: boolean }>`
  display: inline-flex; align-items: center; justify-content: center; gap: 8px;
  width: ${({ $wide }) => ($wide ? '100%' : 'auto')};
  min-height: 36px; padding: 6px 14px; border-radius: 9px; cursor: pointer; white-space: ${({ $wide }) => ($wide ? 'normal' : 'nowrap')};
  font-weight: 600;
  border: 1px solid ${({ $kind }) => ($kind === 'quiet' ? 'transparent' : $kind === 'main' ? 'var(--button)' : 'var(--line)')};
  background: ${({ $kind }) => ($kind === 'main' ? 'var(--button)' : $kind === 'plain' ? 'var(--sheet)' : 'transparent')};
  color: ${({ $kind }) => ($kind === 'main' ? 'var(--button-text)' : 'var(--ink)')};
  transition: background 120ms, border-color 120ms;
  &[data-hovered] { border-color: var(--ink); }
  &[data-pressed] { transform: translateY(1px); }
  &[data-disabled] { opacity: 0.45; cursor: default; border-color: transparent; }
`;
