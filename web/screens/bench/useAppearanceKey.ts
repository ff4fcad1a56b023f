import { useSyncExternalStore } from 'react';
import { useAppSelector } from '../../state/store.ts';

const darkSystem = window.matchMedia('(prefers-color-scheme: dark)');

function subscribe(changed: () => void): () => void {
  darkSystem.addEventListener('change', changed);
  return () => darkSystem.removeEventListener('change', changed);
}

/** Changes whenever the colours on the page do: canvases must be drawn again then. */
export function useAppearanceKey(): string {
  const chosen = useAppSelector((state) => state.appearance.chosen);
  const dark = useSyncExternalStore(subscribe, () => darkSystem.matches);
  return `${chosen}-${dark}`;
}
