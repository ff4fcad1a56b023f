/** Runs `stop` once when the process is told to end, then ends it. */
export function onStop(stop: () => Promise<void>): void {
  let stopping = false;
  const end = (): void => {
    if (stopping) return;
    stopping = true;
    const leave = (): never => process.exit(0);
    stop().then(leave, leave);
  };
  process.on('SIGINT', end);
  process.on('SIGTERM', end);
  // The start command is gone (its channel closed): nobody is left to stop this process.
  process.on('disconnect', end);
}
