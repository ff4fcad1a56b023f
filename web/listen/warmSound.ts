// Long enough after the page has come for what it shows first to be on the screen.
const AFTER_MS = 1500;

/**
 * A page's first audio context keeps the browser for a tenth of a second, later ones for no time worth telling. It is made while nobody
 * waits, so that neither the first clip on the bench nor the first press of play does.
 */
export function warmSound(): void {
  setTimeout(
    () =>
      requestIdleCallback(() => {
        // A browser without sound output says so when somebody wants to hear something.
        try {
          new AudioContext().close().catch(() => undefined);
        } catch {
          /* As above. */
        }
      }),
    AFTER_MS,
  );
}
