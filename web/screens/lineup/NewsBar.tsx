import { Redo2, Undo2, X } from 'lucide-react';
import styled from 'styled-components';
import { useAppDispatch, useAppSelector } from '../../state/store.ts';
import { Button } from '../../parts/Button.tsx';
import { newsGone, type LineupNews } from '../../state/lineupSlice.ts';
import { useProjectHistory } from './useProjectHistory.ts';
import { scrolls } from '../../parts/scrolls.ts';

const MOST_NAMED = 3;

/** What was just done, what was left alone and why, and the way back. */
export function NewsBar({ projectId }: { projectId: string }) {
  const dispatch = useAppDispatch();
  const news = useAppSelector((state) => state.lineup.news);
  const { undo, redo } = useProjectHistory(projectId);
  // Always there, so that screen readers hear what comes into it.
  const shown = news?.projectId === projectId ? news : null;
  const tone = shown?.kind === 'said' ? shown.tone : 'fine';
  const wayBack =
    shown?.kind === 'suggestion' ? (shown.used.batch ? 'undo' : null) : shown?.kind === 'done' ? shown.wayBack : null;
  return (
    <Live role={tone === 'fix' ? 'alert' : 'status'}>
      {shown && (
        <Bar $tone={tone}>
          <div>
            <p>{sentence(shown)}</p>
            {shown.kind === 'suggestion' && shown.used.left.length > 0 && <LeftAlone left={shown.used.left} />}
          </div>
          {wayBack === 'undo' && (
            <Button onPress={undo} shortcut="undo">
              <Undo2 size={15} aria-hidden="true" />
              Undo
            </Button>
          )}
          {wayBack === 'redo' && (
            <Button onPress={redo} shortcut="redo">
              <Redo2 size={15} aria-hidden="true" />
              Redo
            </Button>
          )}
          <Button kind="quiet" aria-label="Close this message" onPress={() => dispatch(newsGone())}>
            <X size={15} aria-hidden="true" />
          </Button>
        </Bar>
      )}
    </Live>
  );
}

type Left = Extract<LineupNews, { kind: 'suggestion' }>['used']['left'];

function LeftAlone({ left }: { left: Left }) {
  const named = left
    .slice(0, MOST_NAMED)
    .map(({ name, why }) => `${name} ${why}`)
    .join('; ');
  if (left.length <= MOST_NAMED) return <p>Left alone: {named}.</p>;
  return (
    <details>
      <summary>
        Left alone: {named}; and {left.length - MOST_NAMED} more
      </summary>
      <ul>
        {left.slice(MOST_NAMED).map(({ clipId, name, why }) => (
          <li key={clipId}>
            {name} {why}
          </li>
        ))}
      </ul>
    </details>
  );
}

function sentence(news: LineupNews): string {
  if (news.kind !== 'suggestion') return news.sentence;
  const { batch } = news.used;
  if (batch) return `${batch.label}.`;
  return news.suggestion === null
    ? 'None of the chosen clips has a suggestion left to use.'
    : `None of the chosen clips takes “${news.suggestion}”.`;
}

const Live = styled.div`flex: none; &:empty { position: absolute; }`;
const Bar = styled.div<{ $tone: 'fix' | 'look' | 'fine' }>`
  display: flex; align-items: center; gap: 10px; padding: 7px 8px 7px 16px; border-radius: 12px; background: ${({ $tone }) => `var(--${$tone}-wash)`}; flex: none;
  > div { flex: 1; min-width: 0; }
  p:first-child { font-weight: 600; }
  p + p, summary { font-size: 13px; color: var(--ink); cursor: default; }
  summary { cursor: pointer; }
  ul { max-height: 120px; ${scrolls} font-size: 13px; padding-left: 14px; }
  button { min-height: 30px; }
`;
