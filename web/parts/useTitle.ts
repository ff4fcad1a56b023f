import { useEffect } from 'react';

/** The window's title while a screen is open. */
export function useTitle(title: string | undefined): void {
  useEffect(() => {
    document.title = title ? `${title} · Pocket Twin` : 'Pocket Twin';
  }, [title]);
}
