import { Check } from 'lucide-react';
import { useEffect, useMemo, useRef } from 'react';
import { GridList, GridListItem, ListLayout, Virtualizer } from 'react-aria-components';
import styled from 'styled-components';
import { TwinGlyph } from '../../parts/TwinGlyph.tsx';
import { verdictWords } from '../../parts/verdictWords.ts';
import { useRow, useRowFetched } from '../lineup/useRow.ts';

interface ClipQueueProps {
  projectId: string;
  queue: string[];
  /** Clips of the project that need a repair and have none; undefined while that is not known. */
  left: number | undefined;
  currentId: string;
}

const ROW_HEIGHT = 52;

/** The clips to go through, so that the next one is a key away. */
export function ClipQueue({ projectId, queue, left, currentId }: ClipQueueProps) {
  const list = useRef<HTMLDivElement>(null);
  const items = useMemo(() => queue.map((id) => ({ id })), [queue]);
  useEffect(() => {
    const element = list.current;
    const top = queue.indexOf(currentId) * ROW_HEIGHT;
    if (element && (top < element.scrollTop || top + ROW_HEIGHT > element.scrollTop + element.clientHeight)) element.scrollTop = top - element.clientHeight / 2;
  }, [currentId, queue]);
  return (
    <Aside aria-label="Clips">
      <Head>{left === undefined ? '' : left === 0 ? 'Nothing left to do' : `${left} left to do`}</Head>
      <Virtualizer layout={ListLayout} layoutOptions={{ rowHeight: ROW_HEIGHT }}>
        <GridList ref={list} aria-label="Clips to go through" items={items} dependencies={[currentId]}>
          {({ id }) => (
            <GridListItem id={id} textValue="" href={`/projects/${projectId}/bench/${id}`} data-current={id === currentId || undefined}>
              <Entry projectId={projectId} id={id} isCurrent={id === currentId} />
            </GridListItem>
          )}
        </GridList>
      </Virtualizer>
    </Aside>
  );
}

function Entry({ projectId, id, isCurrent }: { projectId: string; id: string; isCurrent: boolean }) {
  useRowFetched(projectId, id);
  const row = useRow(id);
  if (!row) return <Line />;
  return (
    <Line aria-current={isCurrent ? 'true' : undefined}>
      {row.summary ? <TwinGlyph verdict={row.summary.verdict} side={row.summary.side} channels={row.summary.channels.length} /> : <span />}
      <span>
        <Name title={row.name}>{row.name.replace(/\.[^.]+$/, '')}</Name>
        <Fact>{row.summary ? verdictWords(row.summary.verdict, row.summary.side) : row.state === 'failed' ? 'Not readable' : 'Being measured'}</Fact>
      </span>
      {row.kept && <Check size={15} color="var(--fine)" aria-label="Repair kept" />}
    </Line>
  );
}

const Aside = styled.aside`
  display: flex; flex-direction: column; min-height: 0; border-right: 1px solid var(--line); padding: 10px 0 0; background: var(--paper);
  [role='grid'] { flex: 1; min-height: 0; overflow: auto; outline-offset: -3px; }
  [role='row'] { height: 100%; border-left: 3px solid transparent; cursor: pointer; outline-offset: -3px; }
  [role='row'][data-hovered] { background: var(--chosen); }
  [role='row'][data-current] { background: var(--sheet); border-left-color: var(--ink); }
  [role='gridcell'] { height: 100%; }
`;
const Head = styled.p`padding: 2px 16px 8px; font-size: 12px; font-weight: 600; color: var(--soft); min-height: 28px;`;
const Line = styled.div`display: grid; grid-template-columns: 36px minmax(0, 1fr) auto; gap: 12px; align-items: center; padding: 7px 14px 7px 13px; height: 100%;`;
const Name = styled.div`font-weight: 600; overflow: hidden; text-overflow: ellipsis; white-space: nowrap;`;
const Fact = styled.div`font-size: 12px; color: var(--soft);`;
