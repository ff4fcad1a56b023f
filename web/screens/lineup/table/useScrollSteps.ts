import { useEffect, type RefObject } from 'react';

// From this speed on (pixels a millisecond) steps are this long: at each, a row or several are drawn at once, and all others are looked at.
const STEPS = [{ speed: 1.4, pixels: 192 }, { speed: 0.7, pixels: 96 }, { speed: 0, pixels: 48 }];
const REST_MS = 70;

/**
 * Lets React Aria's virtualizer see a scroll only once it has gone some way, and where it comes to rest. The browser itself moves what is
 * drawn, and rows are drawn beyond the edges; drawing anew with every pixel would halve the rate on a slow machine.
 */
export function useScrollSteps(frame: RefObject<HTMLElement | null>): void {
  useEffect(() => {
    let seenTop = 0;
    let seenAt = 0;
    let rest: ReturnType<typeof setTimeout> | undefined;
    const hold = (event: Event): void => {
      const grid = event.target;
      if (!(grid instanceof HTMLElement) || !frame.current?.contains(grid) || !event.isTrusted) return;
      clearTimeout(rest);
      const way = Math.abs(grid.scrollTop - seenTop);
      const speed = way / Math.max(1, event.timeStamp - seenAt);
      if (way < STEPS.find((step) => speed >= step.speed)!.pixels) {
        event.stopImmediatePropagation();
        rest = setTimeout(() => {
          seenTop = grid.scrollTop;
          grid.dispatchEvent(new Event('scroll'));
        }, REST_MS);
      } else {
        seenTop = grid.scrollTop;
        seenAt = event.timeStamp;
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
