import { css } from 'styled-components';

/**
 * Scrolls what does not fit. What is hidden from sight but not from a screen reader or the keyboard, as the inputs of radios are, is placed
 * absolutely: it has to belong to what scrolls, or it makes the page itself longer, and its focus is followed to where it is not.
 */
export const scrolls = css`overflow: auto; position: relative;`;
