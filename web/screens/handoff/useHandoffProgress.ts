import { useEffect, useRef, useState } from 'react';
import type { HandoffDetail } from '@pocket-twin/core/schema/handoff.ts';
import { sayDuration } from '@pocket-twin/core/time/sayTime.ts';
import { useAppSelector } from '../../state/store.ts';

// So much must have been seen before a guess is worth saying.
const LEAST_SEEN_SECONDS = 3;
const LEAST_SEEN_SHARE = 0.02;
const SAID_EVERY_MS = 1000;

/** How far a handoff is, and how long it will take from what was seen since the page was opened. */
export function useHandoffProgress({ list, state }: HandoffDetail): { share: number; leftWords: string } {
  const progress = useAppSelector((all) => all.progress);
  const share =
    list.reduce(
      (sum, { id, state: one }) =>
        sum + (one === 'waiting' ? 0 : one === 'writing' ? (progress[id]?.share ?? 0) * WRITTEN_SHARE : 1),
      0,
    ) / Math.max(1, list.length);
  const seen = useRef<{ atMs: number; share: number } | null>(null);
  const [leftSeconds, setLeftSeconds] = useState<number | null>(null);
  const now = useRef(share);
  now.current = share;
  useEffect(() => {
    seen.current = null;
    setLeftSeconds(null);
    if (state !== 'running') return;
    const timer = setInterval(() => {
      seen.current ??= { atMs: Date.now(), share: now.current };
      const seconds = (Date.now() - seen.current.atMs) / 1000;
      const gained = now.current - seen.current.share;
      setLeftSeconds(
        seconds < LEAST_SEEN_SECONDS || gained < LEAST_SEEN_SHARE ? null : ((1 - now.current) * seconds) / gained,
      );
    }, SAID_EVERY_MS);
    return () => clearInterval(timer);
  }, [state]);
  const leftWords =
    state === 'paused'
      ? 'Paused. Files that were being written are finished.'
      : state === 'finishing'
        ? 'Receipts, checksums and the edit are being written.'
        : state === 'held'
          ? 'It waits.'
          : leftSeconds === null
            ? 'It goes on when this page is closed.'
            : `About ${sayDuration(Math.max(1, Math.round(leftSeconds)))} left. It goes on when this page is closed.`;
  return { share, leftWords };
}

// What comes after writing: reading back and comparing.
const WRITTEN_SHARE = 0.7;
