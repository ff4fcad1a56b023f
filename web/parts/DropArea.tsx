import { useRef, type ReactNode } from 'react';
import { useDrop, type DropItem } from 'react-aria';
import styled from 'styled-components';

interface DropAreaProps {
  onItems: (items: DropItem[]) => void;
  children: ReactNode;
}

/** A part of the screen that files and folders can be dropped on. By keyboard they come in by the buttons beside it: there is nothing here to stop at. */
export function DropArea({ onItems, children }: DropAreaProps) {
  const ref = useRef<HTMLDivElement>(null);
  const { dropProps, isDropTarget } = useDrop({
    ref,
    onDrop: ({ items }) => onItems(items),
    getDropOperation: () => 'copy',
  });
  return (
    <Area {...dropProps} ref={ref} role={undefined} tabIndex={undefined} data-drop-target={isDropTarget || undefined}>
      {children}
    </Area>
  );
}

const Area = styled.div`
  flex: 1; min-height: 0; display: flex; flex-direction: column;
  &[data-drop-target] { outline: 3px dashed var(--left); outline-offset: -10px; background: var(--chosen); }
`;
