import { SingleBar } from 'cli-progress';

/** A bar on standard error where that is a terminal; nothing where it is not. */
export function progressBar(label: string): { show: (share: number) => void; done: () => void } {
  if (!process.stderr.isTTY) return { show: () => undefined, done: () => undefined };
  const bar = new SingleBar({
    stream: process.stderr, format: `${label} {bar} {percentage} %`, clearOnComplete: true, hideCursor: true,
  });
  bar.start(1, 0);
  return { show: (share) => bar.update(share), done: () => bar.stop() };
}
