import { useVirtualizer } from '@tanstack/react-virtual';
import { Check } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { Link } from 'react-router';
import styled from 'styled-components';
import { isUndecided } from '@pocket-twin/core/lineup/standing.ts';
import { standingWords, verdictWords } from '@pocket-twin/core/lineup/words.ts';
import type { LineupEntry } from '@pocket-twin/core/schema/lineup.ts';
import { FileName } from '../../parts/FileName.tsx';
import { TwinGlyph } from '../../parts/TwinGlyph.tsx';
import type { BenchQueue } from './useBenchQueue.ts';

interface ClipQueueProps {
  projectId: string;
  queue: BenchQueue;
  currentId: string;
}

const ROW_HEIGHT = 52;

/** The clips to go through, so that the next one is a key away. */
export function ClipQueue({ projectId, queue: { order, entries, left }, currentId }: ClipQueueProps) {
  const list = useRef<HTMLDivElement>(null);
  const virtualizer = useVirtualizer({
    count: order.length,
    getScrollElement: () => list.current,
    estimateSize: () => ROW_HEIGHT,
    getItemKey: (i) => order[i],
    overscan: 6,
    useFlushSync: false,
  });
  const at = order.indexOf(currentId);
  useEffect(() => {
    if (at >= 0) virtualizer.scrollToIndex(at, { align: 'auto' });
  }, [at, virtualizer]);
  return (
    <Aside aria-label="Clips">
      <Head>
        {order.length === 0 ? '' : left === 0 ? 'Nothing left to do' : `${left} of ${order.length} left to do`}
      </Head>
      <div ref={list} className="list">
        <ul aria-label="Clips to go through" style={{ height: virtualizer.getTotalSize() }}>
          {virtualizer.getVirtualItems().map(({ index, start, key }) => (
            <li
              key={key}
              style={{ transform: `translateY(${start}px)` }}
              aria-setsize={order.length}
              aria-posinset={index + 1}
            >
              <Entry projectId={projectId} entry={entries[order[index]]} isCurrent={order[index] === currentId} />
            </li>
          ))}
        </ul>
      </div>
    </Aside>
  );
}

function Entry({
  projectId,
  entry: { id, name, verdict, side, channels, standing },
  isCurrent,
}: {
  projectId: string;
  entry: LineupEntry;
  isCurrent: boolean;
}) {
  return (
    <Line
      to={`/projects/${projectId}/bench/${id}`}
      aria-current={isCurrent ? 'true' : undefined}
      tabIndex={isCurrent ? 0 : -1}
      title={name}
    >
      {verdict ? <TwinGlyph verdict={verdict} side={side} channels={channels ?? 0} /> : <span />}
      <span>
        <Name>
          <FileName name={name} />
        </Name>
        <Fact>{isUndecided(standing) && verdict ? verdictWords(verdict, side) : standingWords(standing)}</Fact>
      </span>
      {isUndecided(standing) ? (
        <Dot aria-hidden="true" />
      ) : (
        (standing === 'kept' || standing === 'written') && <Check size={15} color="var(--fine)" aria-hidden="true" />
      )}
    </Line>
  );
}

const Aside = styled.aside`
  display: flex; flex-direction: column; min-height: 0; border-right: 1px solid var(--line); padding: 10px 0 0; background: var(--paper);
  .list { flex: 1; min-height: 0; overflow: auto; }
  ul { position: relative; }
  li { position: absolute; top: 0; left: 0; right: 0; height: ${ROW_HEIGHT}px; }
`;
const Head = styled.p`padding: 2px 16px 8px; font-size: 12px; font-weight: 600; color: var(--soft); min-height: 28px;`;
const Line = styled(Link)`
  display: grid; grid-template-columns: 36px minmax(0, 1fr) auto; gap: 10px; align-items: center; padding: 7px 12px 7px 13px; height: 100%;
  text-decoration: none; border-left: 3px solid transparent; outline-offset: -3px;
  &:hover { background: var(--chosen); }
  &[aria-current] { background: var(--sheet); border-left-color: var(--ink); }
`;
const Name = styled.span`display: block; font-weight: 600; font-size: 13.5px;`;
const Fact = styled.span`display: block; font-size: 12px; color: var(--soft); overflow: hidden; text-overflow: ellipsis; white-space: nowrap;`;
const Dot = styled.i`width: 7px; height: 7px; border-radius: 50%; background: var(--soft);`;
