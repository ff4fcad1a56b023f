import { startTransition, useEffect, useState, type ReactNode } from 'react';

/** What may come a moment later than the rest of its screen, in small steps: nobody waits for it. */
export function AfterFirst({ children, meanwhile = null }: { children: () => ReactNode; meanwhile?: ReactNode }) {
  const [isTime, setIsTime] = useState(false);
  useEffect(() => {
    // Two frames: what was drawn first is on the screen then.
    let frame = requestAnimationFrame(() => {
      frame = requestAnimationFrame(() => startTransition(() => setIsTime(true)));
    });
    return () => cancelAnimationFrame(frame);
  }, []);
  return isTime ? children() : meanwhile;
}
