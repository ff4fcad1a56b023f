import { useEffect, type RefObject } from 'react';

const STEP_PIXELS = 96;
const REST_MS = 70;

/**
 * Lets React Aria's virtualizer see a scroll only once it has gone some way, and where it comes to rest. The browser itself moves what is
 * drawn, and rows are drawn beyond the edges; drawing anew with every pixel would halve the rate on a slow machine.
 */
export function useScrollSteps(frame: RefObject<HTMLElement | null>): void {
  useEffect(() => {
    let seenTop = 0;
    let rest: ReturnType<typeof setTimeout> | undefined;
    const hold = (event: Event): void => {
      const grid = event.target;
      if (!(grid instanceof HTMLElement) || !frame.current?.contains(grid) || !event.isTrusted) return;
      clearTimeout(rest);
      if (Math.abs(grid.scrollTop - seenTop) < STEP_PIXELS) {
        event.stopImmediatePropagation();
        rest = setTimeout(() => {
          seenTop = grid.scrollTop;
          grid.dispatchEvent(new Event('scroll'));
        }, REST_MS);
      } else {
        seenTop = grid.scrollTop;
      }
    };
    // Before React Aria's own listener, which is on the document.
    window.addEventListener('scroll', hold, true);
    return () => {
      clearTimeout(rest);
      window.removeEventListener('scroll', hold, true);
    };
  }, [frame]);
}
