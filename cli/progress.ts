import { SingleBar } from 'cli-progress';

export interface ProgressBar {
  show: (share: number) => void;
  /** Prints something else while the bar stands. */
  aside: (print: () => void) => void;
  done: () => void;
}

/** A bar on standard error where that is a terminal; nothing where it is not. */
export function progressBar(label: string): ProgressBar {
  if (!process.stderr.isTTY) return { show: () => undefined, aside: (print) => print(), done: () => undefined };
  const bar = new SingleBar({
    stream: process.stderr,
    format: `${label} {bar} {percentage} %`,
    clearOnComplete: true,
    hideCursor: true,
  });
  let share = 0;
  bar.start(1, 0);
  return {
    show: (reached) => bar.update((share = reached)),
    aside: (print) => {
      bar.stop();
      print();
      bar.start(1, share);
    },
    done: () => bar.stop(),
  };
}
