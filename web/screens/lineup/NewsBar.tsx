import { Undo2, X } from 'lucide-react';
import styled from 'styled-components';
import { sentenceOf, useRestoreClipsMutation, useUndoBatchMutation } from '../../api/api.ts';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { Button } from '../../parts/Button.tsx';
import { newsCame, newsGone, type LineupNews } from './lineupSlice.ts';

const MOST_NAMED = 3;

/** What was just done to many clips, what was left alone and why, and the way back. */
export function NewsBar({ projectId }: { projectId: string }) {
  const dispatch = useAppDispatch();
  const news = useAppSelector((state) => state.lineup.news);
  const undo = useUndo(news);
  if (!news || news.projectId !== projectId) return null;
  const tone = news.kind === 'said' ? news.tone : 'fine';
  return (
    <Bar $tone={tone} role={tone === 'fix' ? 'alert' : 'status'}>
      <div>
        <p>{sentence(news)}</p>
        {news.kind === 'suggestion' && news.used.left.length > 0 && <LeftAlone left={news.used.left} />}
      </div>
      {undo && <Button onPress={undo} shortcut="Z"><Undo2 size={15} aria-hidden="true" />Undo</Button>}
      <Button kind="quiet" aria-label="Close this message" onPress={() => dispatch(newsGone())}><X size={15} aria-hidden="true" /></Button>
    </Bar>
  );
}

type Left = Extract<LineupNews, { kind: 'suggestion' }>['used']['left'];

function LeftAlone({ left }: { left: Left }) {
  const named = left.slice(0, MOST_NAMED).map(({ name, why }) => `${name} ${why}`).join('; ');
  if (left.length <= MOST_NAMED) return <p>Left alone: {named}.</p>;
  return (
    <details>
      <summary>Left alone: {named}; and {left.length - MOST_NAMED} more</summary>
      <ul>{left.slice(MOST_NAMED).map(({ clipId, name, why }) => <li key={clipId}>{name} {why}</li>)}</ul>
    </details>
  );
}

function sentence(news: LineupNews): string {
  switch (news.kind) {
    case 'said': return news.sentence;
    case 'removed': return news.clipIds.length === 1 ? `${news.name} is out of the project. The file stays where it is.` : `${news.clipIds.length} clips are out of the project. Their files stay where they are.`;
    case 'suggestion': {
      const { batch } = news.used;
      if (!batch) return `None of the chosen clips takes “${news.suggestion}”.`;
      return batch.undone ? `“${batch.label}” taken back on ${clips(batch.clips)}.` : `“${batch.label}” kept on ${clips(batch.clips)}.`;
    }
  }
}

const clips = (count: number): string => (count === 1 ? '1 clip' : `${count} clips`);

/** The way back from what the news say; null where there is none. */
export function useUndo(news: LineupNews | null): (() => void) | null {
  const dispatch = useAppDispatch();
  const [undoBatch] = useUndoBatchMutation();
  const [restore] = useRestoreClipsMutation();
  const failed = (error: unknown): void => {
    if (news) dispatch(newsCame({ kind: 'said', projectId: news.projectId, tone: 'fix', sentence: sentenceOf(error) }));
  };
  if (news?.kind === 'suggestion' && news.used.batch && !news.used.batch.undone) {
    const { projectId, used: { batch }, suggestion } = news;
    return () => void undoBatch({ projectId, batchId: batch!.id }).unwrap()
      .then((undone) => dispatch(newsCame({ kind: 'suggestion', projectId, used: { batch: undone, left: [] }, suggestion })), failed);
  }
  if (news?.kind === 'removed') {
    return () => void restore({ projectId: news.projectId, clipIds: news.clipIds }).unwrap().then(() => dispatch(newsGone()), failed);
  }
  return null;
}

const Bar = styled.div<{ $tone: 'fix' | 'fine' }>`
  display: flex; align-items: center; gap: 10px; padding: 7px 8px 7px 16px; border-radius: 12px; background: ${({ $tone }) => `var(--${$tone}-wash)`}; flex: none;
  > div { flex: 1; min-width: 0; }
  p:first-child { font-weight: 600; }
  p + p, summary { font-size: 13px; color: var(--ink); cursor: default; }
  summary { cursor: pointer; }
  ul { max-height: 120px; overflow: auto; font-size: 13px; padding-left: 14px; }
  button { min-height: 30px; }
`;
