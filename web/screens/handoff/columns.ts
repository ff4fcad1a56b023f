import styled from 'styled-components';
import { scrolls } from '../../parts/scrolls.ts';

/** Left the clips, right what is done with them all. */
export const Columns = styled.div`
  flex: 1; min-height: 0; display: grid; grid-template-columns: minmax(0, 1fr) 340px; gap: 16px;
  @media (max-width: 820px) { display: flex; flex-direction: column; flex: none; }
`;
export const Left = styled.div`min-width: 0; min-height: 0; display: flex; flex-direction: column; gap: 12px; ${scrolls}`;
