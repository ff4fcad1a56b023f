import styled from 'styled-components';

export const LINE_PIXELS = 48;
export const HEAD_PIXELS = 36;

/** The table's own look, by the roles and attributes of its parts. */
export const TableFrame = styled.div`
  flex: 1; min-height: 160px; @media (max-width: 900px) { flex: 1 0 340px; } background: var(--sheet); border: 1px solid var(--line); border-radius: 12px; overflow: hidden; display: flex;
  .scroller { flex: 1; min-width: 0; overflow: auto; outline-offset: -3px; background: var(--sheet); scroll-padding-top: ${HEAD_PIXELS}px; }
  .scroller > [role='presentation'] { position: relative; min-height: 100%; }

  .head { position: sticky; top: 0; z-index: 2; background: var(--paper); }
  .head [role='row'] { display: grid; height: ${HEAD_PIXELS}px; border-bottom: 1px solid var(--line); }
  [role='columnheader'] { position: relative; display: flex; align-items: center; padding: 0 10px; color: var(--soft); font-size: 12px; font-weight: 600; min-width: 0; }
  .heading { display: flex; gap: 5px; align-items: center; min-width: 0; white-space: nowrap; overflow: hidden; }
  .heading > span:first-child { overflow: hidden; text-overflow: ellipsis; }
  button.heading { border: 0; background: transparent; padding: 8px 0; font: inherit; color: inherit; cursor: pointer; width: 100%; &:hover { color: var(--ink); } }
  .numbers .heading { justify-content: flex-end; padding-right: 6px; }
  .quiet { position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%); }
  .edge {
    position: absolute; right: -4px; top: 0; bottom: 0; width: 9px; cursor: col-resize; touch-action: none; z-index: 1;
    &::after { content: ''; position: absolute; left: 4px; top: 9px; bottom: 9px; width: 1px; background: var(--line); }
    &:focus-visible { outline: none; &::after { background: var(--left); width: 3px; top: 2px; bottom: 2px; } }
  }

  [role='rowgroup']:not(.head) [role='row'] {
    position: absolute; top: 0; left: 0; right: 0; height: ${LINE_PIXELS}px; display: grid; border-bottom: 1px solid var(--line); outline-offset: -3px; cursor: default; contain: layout paint style;
    &:hover { background: color-mix(in srgb, var(--chosen) 45%, var(--sheet)); }
    &[aria-selected='true'] { background: var(--chosen); }
    &[data-setup] { background: var(--paper); }
    &[data-channel] { background: color-mix(in srgb, var(--paper) 45%, var(--sheet)); }
  }
  [role='gridcell'], [role='rowheader'] { display: flex; flex-direction: column; justify-content: center; padding: 0 10px; min-width: 0; > div { min-width: 0; } }
  .across { grid-column: 2 / -1; padding: 0 10px 0 0; }
  [role='gridcell'].numbers { text-align: right; padding-right: 18px; }
  .choosing { flex-direction: row; align-items: center; justify-content: flex-start; gap: 2px; padding: 0 0 0 8px; }
  .choose, .chevron { border: 0; background: transparent; padding: 4px 2px; display: flex; cursor: pointer; color: var(--soft); border-radius: 6px; &:hover { color: var(--ink); } }
  .choose[aria-checked='true'], .choose[aria-checked='mixed'] { color: var(--ink); }
  .chevron { align-self: center; transition: transform 120ms; &[data-open] { transform: rotate(90deg); } }
  @media (forced-colors: active) {
    [role='row'][aria-selected='true'] { outline: 2px solid Highlight; outline-offset: -4px; forced-color-adjust: none; background: Canvas; color: CanvasText; }
  }
`;
