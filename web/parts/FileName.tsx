import { VisuallyHidden } from 'react-aria';
import styled from 'styled-components';
import { stem } from '@pocket-twin/core/setups/namePattern.ts';

// A number at the end of a series' names, with a letter before it.
const TAIL_LETTERS = 4;

/** A name that may be too long for its place: its end stays in sight, as names differ in their numbers and some in their endings alone. */
export function FileName({ name }: { name: string }) {
  const start = stem(name).slice(0, -TAIL_LETTERS);
  // Two boxes would be read as two words.
  return (
    <>
      <VisuallyHidden elementType="span">{name}</VisuallyHidden>
      <Line aria-hidden="true">
        <span>{start}</span>
        {name.slice(start.length)}
      </Line>
    </>
  );
}

const Line = styled.span`display: flex; white-space: nowrap; min-width: 0; > span { overflow: hidden; text-overflow: ellipsis; }`;
