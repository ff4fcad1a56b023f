import type { Page } from 'playwright-core';

const SECONDS = 5;

export interface Scrolled {
  /** Frames the browser drew, and how often the page itself got to run, of the frames that the screen had in that time. */
  drawn: number;
  answered: number;
  /** How many of the drawn frames showed a stretch without rows, at most. */
  bare: number;
}

interface Frame {
  at: number;
  top: number;
  /** Pixels that are drawn below what is in sight. */
  below: number;
}

/** Scrolls the lineup by wheel, as a person does: the browser moves what is drawn at once, and the page draws what comes next. @param screenRate frames a second at rest */
export async function scrollByWheel(page: Page, pixelsASecond: number, screenRate: number): Promise<Scrolled> {
  const devtools = await page.context().newCDPSession(page);
  const box = (await page.getByRole('treegrid').boundingBox())!;
  let drawn = 0;
  devtools.on('Tracing.dataCollected', ({ value }) => {
    drawn += value.filter((event) => (event as { name?: string }).name === 'DrawFrame').length;
  });
  await devtools.send('Tracing.start', {
    transferMode: 'ReportEvents',
    traceConfig: { includedCategories: ['disabled-by-default-devtools.timeline.frame'] },
  });
  const watching = watchFrames(page);
  await devtools.send('Input.synthesizeScrollGesture', {
    x: box.x + box.width / 2,
    y: box.y + box.height / 2,
    yDistance: -pixelsASecond * SECONDS,
    speed: pixelsASecond,
    gestureSourceType: 'mouse',
    preventFling: true,
  });
  const frames = await watching;
  const ended = new Promise((resolve) => {
    devtools.once('Tracing.tracingComplete', resolve);
  });
  await devtools.send('Tracing.end');
  await ended;
  await devtools.detach();
  const due = (screenRate * (frames.at(-1)!.at - frames[0].at)) / 1000;
  let bare = 0;
  for (let i = 1; i < frames.length; i++) {
    const way = frames[i].top - frames[i - 1].top;
    // What was drawn ran out when this share of the time until the page's next turn had gone by.
    if (way > frames[i - 1].below)
      bare += ((1 - frames[i - 1].below / way) * screenRate * (frames[i].at - frames[i - 1].at)) / 1000;
  }
  return { drawn: drawn / due, answered: frames.length / due, bare: bare / due };
}

/** Each turn of the page while the list moves. */
function watchFrames(page: Page): Promise<Frame[]> {
  return page.evaluate(async () => {
    const grid = document.querySelector('[role=treegrid]')!;
    const first = grid.scrollTop;
    const frames: { at: number; top: number; below: number }[] = [];
    let stillFor = 0;
    while (stillFor < 30) {
      await new Promise(requestAnimationFrame);
      // After the page's own turn, when the rows are what will be drawn.
      await new Promise((resolve) => {
        setTimeout(resolve);
      });
      const top = grid.scrollTop;
      stillFor = top === frames.at(-1)?.top ? stillFor + 1 : 0;
      if (top === first) {
        stillFor = 0;
        continue;
      }
      const drawnTo = Math.max(
        ...[...grid.querySelectorAll('[role=rowgroup]:last-child [role=row]')].map(
          (row) => row.getBoundingClientRect().bottom,
        ),
      );
      frames.push({ at: performance.now(), top, below: drawnTo - grid.getBoundingClientRect().bottom });
    }
    return frames.slice(0, -30);
  });
}

/** Frames a second of a page at rest. */
export function screenRate(page: Page): Promise<number> {
  return page.evaluate(async () => {
    const start = performance.now();
    let frames = 0;
    while (performance.now() - start < 2000) {
      await new Promise(requestAnimationFrame);
      frames++;
    }
    return (1000 * frames) / (performance.now() - start);
  });
}
