import type { ReactNode } from 'react';
import { Dialog, Heading, Modal, ModalOverlay } from 'react-aria-components';
import styled from 'styled-components';
import { scrolls } from './scrolls.ts';

interface PanelProps {
  title: string;
  children: (close: () => void) => ReactNode;
  wide?: boolean;
  isOpen?: boolean;
  onOpenChange?: (open: boolean) => void;
}

/** A sheet over the screen, for what needs a few fields; Escape and a press beside it close it. */
export function Panel({ title, children, wide = false, isOpen, onOpenChange }: PanelProps) {
  return (
    <Shade isDismissable isOpen={isOpen} onOpenChange={onOpenChange}>
      <Modal>
        <Card $wide={wide}>
          {({ close }) => (
            <>
              <Heading slot="title" level={2}>
                {title}
              </Heading>
              {children(close)}
            </>
          )}
        </Card>
      </Modal>
    </Shade>
  );
}

export const PanelButtons = styled.div`display: flex; gap: 8px; justify-content: flex-end; margin-top: 6px;`;

const Shade = styled(
  ModalOverlay,
)`position: fixed; inset: 0; background: rgb(23 22 28 / 45%); display: grid; place-items: center; z-index: 10;`;
const Card = styled(Dialog)<{ $wide: boolean }>`
  background: var(--sheet); border-radius: 14px; padding: 22px 26px; width: min(${({ $wide }) => ($wide ? 720 : 460)}px, 92vw); max-height: 86vh; ${scrolls}
  box-shadow: var(--shadow); outline: none; display: flex; flex-direction: column; gap: 14px;
  h2 { font-size: 21px; }
`;
