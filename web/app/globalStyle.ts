import { createGlobalStyle, css } from 'styled-components';

// Colours of the day and of the night. `soft` marks are for text of lesser weight; the
// `-wash` colours lie under text.
const day = css`
  color-scheme: light;
  --paper: #F5F2EB; --sheet: #FFFDF8; --line: #DDD6C8; --ink: #24222C; --soft: #645F6F;
  --left: #5A4FCF; --right: #D9772B; --right-text: #A4530F; --mono: #2B7A78; --difference: #B03A6F;
  --fix: #A8321F; --look: #735700; --fine: #3D6228;
  --fix-wash: #F6E0DB; --look-wash: #F3EACB; --fine-wash: #E3ECD9; --chosen: #EEECFA;
  --button: #24222C; --button-text: #FFFDF8;
  --shadow: 0 6px 24px rgb(36 34 44 / 16%);
`;
const night = css`
  color-scheme: dark;
  --paper: #17161C; --sheet: #201E27; --line: #37343F; --ink: #F1EEE6; --soft: #A8A2B5;
  --left: #9A91FF; --right: #F2A15E; --right-text: #F2A15E; --mono: #5FC2BD; --difference: #F07DAE;
  --fix: #FF8F7A; --look: #E3C04F; --fine: #9CCB7B;
  --fix-wash: #3D2421; --look-wash: #352E17; --fine-wash: #24301C; --chosen: #2B2840;
  --button: #F1EEE6; --button-text: #17161C;
  --shadow: 0 6px 24px rgb(0 0 0 / 50%);
`;

export const GlobalStyle = createGlobalStyle`
  :root { ${day} }
  @media (prefers-color-scheme: dark) { :root:not([data-theme='day']) { ${night} } }
  :root[data-theme='night'] { ${night} }

  * { box-sizing: border-box; }
  html, body, #root { height: 100%; margin: 0; }
  body {
    background: var(--paper); color: var(--ink);
    font: 400 14px/1.45 'Instrument Sans Variable', sans-serif;
    font-synthesis: none;
  }
  h1, h2, h3 { font-family: 'Bricolage Grotesque Variable', sans-serif; font-weight: 700; line-height: 1.15; margin: 0; letter-spacing: -0.01em; }
  p, ul, ol, dl, dd { margin: 0; padding: 0; }
  ul, ol { list-style: none; }
  button, input { font: inherit; color: inherit; }
  a { color: inherit; }
  code, kbd, .numeric { font-family: 'Spline Sans Mono Variable', monospace; font-variant-numeric: tabular-nums; }
  :focus-visible, [data-focus-visible] { outline: 2px solid var(--left); outline-offset: 2px; }
  @media (prefers-reduced-motion: reduce) { *, *::before, *::after { transition: none !important; animation: none !important; } }
`;
