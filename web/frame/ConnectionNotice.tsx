import styled from 'styled-components';
import { Notice } from '../parts/Notice.tsx';
import type { Connection } from '../state/connectionSlice.ts';
import { useAppSelector } from '../state/store.ts';

const SENTENCES: Record<Exclude<Connection, 'here'>, string> = {
  'server-away': 'The server does not answer. What you see stays; the page goes on by itself when it is back.',
  'database-away':
    'The database does not answer just now. Nothing is lost; the page goes on by itself when it is back.',
};

/** Says, wherever one is, that nothing can be kept or fetched for the moment. */
export function ConnectionNotice() {
  const is = useAppSelector((state) => state.connection.is);
  return <Place>{is !== 'here' && <Notice tone="look">{SENTENCES[is]}</Notice>}</Place>;
}

const Place = styled.div`
  position: fixed; left: 50%; bottom: 18px; transform: translateX(-50%); z-index: 40; width: max-content; max-width: min(92vw, 100ch);
  > * { border: 1px solid var(--line); box-shadow: 0 6px 24px rgb(0 0 0 / 0.14); }
`;
