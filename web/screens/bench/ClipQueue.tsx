import { Check } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { Link } from 'react-aria-components';
import styled from 'styled-components';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import { worstSeverity } from '../../parts/severity.ts';
import { TwinGlyph } from '../../parts/TwinGlyph.tsx';
import { verdictWords } from '../../parts/verdictWords.ts';

interface ClipQueueProps {
  clips: Clip[];
  currentId: string;
}

/** The clips of the project, so that the next one is a key away. */
export function ClipQueue({ clips, currentId }: ClipQueueProps) {
  const count = (severity: string): number => clips.filter((clip) => worstSeverity(clip) === severity && !clip.repair).length;
  const current = useRef<HTMLLIElement>(null);
  useEffect(() => current.current?.scrollIntoView({ block: 'nearest' }), [currentId]);
  const [fixes, looks] = [count('fix'), count('look')];
  return (
    <Aside aria-label="Clips">
      <Head>{fixes + looks === 0 ? 'Nothing left to do' : [fixes > 0 && `${fixes} to fix`, looks > 0 && `${looks} to look at`].filter(Boolean).join(' · ')}</Head>
      <ul>
        {clips.map((clip) => {
          const { verdict, pairs, format } = clip.inspection!;
          const isCurrent = clip.id === currentId;
          return (
            <li key={clip.id} ref={isCurrent ? current : undefined}>
              <Entry href={`/projects/${clip.projectId}/bench/${clip.id}`} aria-current={isCurrent ? 'true' : undefined}>
                <TwinGlyph verdict={verdict} side={pairs[0]?.side} channels={format.channels} />
                <span>
                  <Name title={clip.name}>{clip.name.replace(/\.[^.]+$/, '')}</Name>
                  <Fact>{verdictWords(verdict, pairs[0]?.side)}</Fact>
                </span>
                {clip.repair && <Check size={15} color="var(--fine)" aria-label="Repair kept" />}
              </Entry>
            </li>
          );
        })}
      </ul>
    </Aside>
  );
}

const Aside = styled.aside`overflow: auto; border-right: 1px solid var(--line); padding: 10px 0; background: var(--paper);`;
const Head = styled.p`padding: 2px 16px 8px; font-size: 12px; font-weight: 600; color: var(--soft);`;
const Entry = styled(Link)`
  display: grid; grid-template-columns: 36px minmax(0, 1fr) auto; gap: 12px; align-items: center; padding: 7px 14px 7px 13px; text-decoration: none; border-left: 3px solid transparent;
  &[data-hovered] { background: var(--chosen); }
  &[aria-current='true'] { background: var(--sheet); border-left-color: var(--ink); }
  &[data-focus-visible] { outline-offset: -3px; }
`;
const Name = styled.div`font-weight: 600; overflow: hidden; text-overflow: ellipsis; white-space: nowrap;`;
const Fact = styled.div`font-size: 12px; color: var(--soft);`;
