import styled from 'styled-components';

export const ROW_HEIGHT = 48;

/** The table's own look, by the roles and data attributes that React Aria gives its parts. */
export const TableFrame = styled.div`
  flex: 1; min-height: 160px; background: var(--sheet); border: 1px solid var(--line); border-radius: 12px; overflow: hidden; display: flex;
  > div { flex: 1; min-width: 0; overflow: auto; }
  [role='treegrid'], [role='grid'] { height: 100%; width: 100%; overflow: auto; outline-offset: -3px; scroll-padding-top: 36px; background: var(--sheet); will-change: transform; }

  [role='columnheader'] {
    height: 100%; display: flex; align-items: center; padding: 0 10px; background: var(--paper); border-bottom: 1px solid var(--line); color: var(--soft);
    font-size: 12px; font-weight: 600; outline-offset: -3px; cursor: default;
  }
  .heading { display: flex; gap: 5px; align-items: center; width: 100%; min-width: 0; position: relative; white-space: nowrap; overflow: hidden; }
  .heading > span:first-child { overflow: hidden; text-overflow: ellipsis; }
  .heading.numbers { justify-content: flex-end; padding-right: 6px; }
  .quiet { position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%); }
  .react-aria-ColumnResizer {
    position: absolute; right: -2px; top: -10px; bottom: -10px; width: 9px; cursor: col-resize; touch-action: none;
    &::after { content: ''; position: absolute; left: 4px; top: 8px; bottom: 8px; width: 1px; background: var(--line); }
    &[data-resizing]::after, &[data-focus-visible]::after { background: var(--left); width: 2px; }
  }

  [role='row'] { outline-offset: -3px; cursor: default; }
  [role='rowgroup'] [role='row'] { border-bottom: 1px solid var(--line); height: 100%; width: 100%; }
  [role='row'][data-selected] { background: var(--chosen); }
  [role='row'][data-hovered]:not([data-selected]) { background: color-mix(in srgb, var(--chosen) 45%, var(--sheet)); }
  [role='row'][data-setup] { background: var(--paper); }
  [role='row'][data-setup] > :nth-child(2) { overflow: visible !important; width: calc(100% - 46px) !important; z-index: 1; }
  [role='row'][data-setup] > :nth-child(n + 3) { pointer-events: none; }
  [role='row'][data-setup] .react-aria-Button[slot='chevron'] { align-self: flex-start; margin-left: -4px; }
  [role='row'][data-disabled]:not([data-setup]) { background: color-mix(in srgb, var(--paper) 45%, var(--sheet)); }
  [role='gridcell'], [role='rowheader'] {
    height: 100%; width: 100%; display: flex; flex-direction: column; justify-content: center; padding: 0 10px; min-width: 0; outline-offset: -3px;
    > div { min-width: 0; }
  }
  .numbers { text-align: right; padding-right: 8px; }
  .choose { display: flex; align-items: center; gap: 2px; margin-left: -4px; }
  .react-aria-Checkbox { display: flex; cursor: pointer; color: var(--soft); padding: 4px 2px; border-radius: 6px; &[data-selected], &[data-indeterminate] { color: var(--ink); } &[data-disabled] { visibility: hidden; } }
  .react-aria-Button[slot='chevron'] { border: 0; background: transparent; padding: 3px 1px; display: flex; cursor: pointer; color: var(--soft); border-radius: 6px; transition: transform 120ms; }
  [role='row'][data-expanded] .react-aria-Button[slot='chevron'] { transform: rotate(90deg); }
`;
