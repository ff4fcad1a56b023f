import styled from 'styled-components';
import { scrolls } from './scrolls.ts';

/** A screen under the top bar that fills the window and scrolls inside. */
export const Screen = styled.div`height: 100%; display: flex; flex-direction: column; `;

/** The usual body of a screen. */
export const Body = styled.main`flex: 1; min-height: 0; ${scrolls} padding: 20px 24px; display: flex; flex-direction: column; gap: 12px;`;

export const Sheet = styled.section`background: var(--sheet); border: 1px solid var(--line); border-radius: 12px;`;

export const Soft = styled.p`color: var(--soft);`;
