/** The stretch of a clip that the ribbon shows, in frames; `end` is not shown any more. */
export interface View {
  start: number;
  end: number;
}

/** No zoom goes further in than this. */
const FEWEST_FRAMES = 24;

/** Shows `factor` times as much, with the frame under the pointer staying under it. */
export function zoomed(view: View, factor: number, aroundFrame: number, frames: number): View {
  const length = Math.min(frames, Math.max(FEWEST_FRAMES, (view.end - view.start) * factor));
  const share = (aroundFrame - view.start) / (view.end - view.start);
  return moved({ start: aroundFrame - share * length, end: aroundFrame + (1 - share) * length }, 0, frames);
}

/** The same length, elsewhere, inside the clip. */
export function moved(view: View, byFrames: number, frames: number): View {
  const length = Math.min(frames, view.end - view.start);
  const start = Math.max(0, Math.min(frames - length, view.start + byFrames));
  return { start, end: start + length };
}

export function whole(frames: number): View {
  return { start: 0, end: frames };
}
