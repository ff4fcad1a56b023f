import { useEffect, useRef, useState } from 'react';
import { VisuallyHidden } from 'react-aria';
import type { Lineup } from '../../state/useLineup.ts';
import { useAppSelector } from '../../state/store.ts';

const TOGETHER_MS = 1500;

interface Counted {
  coming: number;
  measuring: number;
  written: number;
}

/** Says to screen readers what comes in, is measured and is written: politely, and what happens within a moment in one sentence. */
export function Announcements({ projectId, lineup }: { projectId: string; lineup: Lineup | undefined }) {
  const coming = useAppSelector(
    (state) =>
      state.uploads.entries.filter((upload) => upload.projectId === projectId && upload.state !== 'failed').length,
  );
  const count = (standing: 'measuring' | 'written'): number =>
    lineup?.all.filter((entry) => entry.standing === standing).length ?? 0;
  const now: Counted = { coming, measuring: count('measuring'), written: count('written') };
  const said = useRef<Counted | null>(null);
  const [sentence, setSentence] = useState('');
  const { measuring, written } = now;
  const known = lineup !== undefined;
  useEffect(() => {
    if (!known) return;
    said.current ??= { coming, measuring, written };
    const timer = setTimeout(() => {
      const next = sentenceFor(said.current!, { coming, measuring, written });
      said.current = { coming, measuring, written };
      if (next) setSentence(next);
    }, TOGETHER_MS);
    return () => clearTimeout(timer);
  }, [known, coming, measuring, written]);
  return (
    <VisuallyHidden>
      <p role="status" aria-live="polite">
        {sentence}
      </p>
    </VisuallyHidden>
  );
}

function sentenceFor(before: Counted, now: Counted): string {
  const clips = (count: number): string => (count === 1 ? '1 clip' : `${count} clips`);
  return [
    now.coming > before.coming && `${now.coming === 1 ? '1 file is' : `${now.coming} files are`} coming in.`,
    before.coming > 0 && now.coming === 0 && 'All files are in.',
    before.measuring > now.measuring &&
      (now.measuring === 0 ? 'All clips are measured.' : `${clips(now.measuring)} still to be measured.`),
    now.written > before.written && `${clips(now.written - before.written)} written.`,
  ]
    .filter(Boolean)
    .join(' ');
}
