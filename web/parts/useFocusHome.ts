import { useEffect, useRef } from 'react';

/**
 * Keeps the focus where a person goes on: when a screen comes up, and when what had the focus is gone (a button that did its work, a list that
 * went away), it goes to the screen's home instead of falling to the page.
 */
export function useFocusHome(home: () => HTMLElement | null): void {
  const find = useRef(home);
  find.current = home;
  useEffect(() => {
    let last: Element | null = document.activeElement === document.body ? null : document.activeElement;
    const noted = ({ target }: FocusEvent): void => {
      last = target as Element;
    };
    const look = (): void => {
      if (document.activeElement !== document.body || last?.isConnected) return;
      find.current()?.focus({ preventScroll: true });
    };
    const watcher = new MutationObserver(look);
    document.addEventListener('focusin', noted);
    watcher.observe(document.body, { childList: true, subtree: true });
    look();
    return () => {
      document.removeEventListener('focusin', noted);
      watcher.disconnect();
    };
  }, []);
}
