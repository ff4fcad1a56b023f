/** Lets something go on that nobody waits for. What breaks in it is told to whoever has the browser's console open, and ends nothing. */
export function inBackground(work: Promise<unknown> | undefined | void): void {
  work?.catch((error: unknown) => console.error(error));
}
