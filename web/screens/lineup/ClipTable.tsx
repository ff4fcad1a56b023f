import { Check, Trash2 } from 'lucide-react';
import { Cell, Column, Row, Table, TableBody, TableHeader } from 'react-aria-components';
import styled from 'styled-components';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import { sayNumber } from '@pocket-twin/core/signal/sayDecibels.ts';
import { useRemoveClipMutation } from '../../api/api.ts';
import { useAppSelector } from '../../app/store.ts';
import { Button } from '../../parts/Button.tsx';
import { channelWords } from '../../parts/channelWords.ts';
import { ProgressLine } from '../../parts/ProgressLine.tsx';
import { sayBytes, sayTime } from '../../parts/sayTime.ts';
import { TwinGlyph } from '../../parts/TwinGlyph.tsx';
import { repairWords } from './lineupWords.ts';
import { SmallRibbon } from './SmallRibbon.tsx';

/** All clips of a project, a row each; opening a row goes to the bench. */
export function ClipTable({ clips, projectId }: { clips: Clip[]; projectId: string }) {
  return (
    <Grid aria-label="Clips">
      <TableHeader>
        <Column width={52}><Hidden>Verdict</Hidden></Column>
        <Column isRowHeader>Clip</Column>
        <Column>Left above, right below</Column>
        <Column>What is on it</Column>
        <Column>Left, LUFS</Column>
        <Column>Right, LUFS</Column>
        <Column>Repair</Column>
        <Column><Hidden>Remove</Hidden></Column>
      </TableHeader>
      <TableBody items={clips}>
        {(clip) => (
          <Row
            href={clip.state === 'ready' ? `/projects/${projectId}/bench/${clip.id}` : undefined}
            textValue={clip.name} data-clip={clip.name} data-state={clip.state}
          >
            <Cell>{clip.inspection && (
              <TwinGlyph verdict={clip.inspection.verdict} side={clip.inspection.pairs[0]?.side} channels={clip.inspection.format.channels} />
            )}</Cell>
            <Cell><NameCell clip={clip} /></Cell>
            <Cell>{clip.sketch && <SmallRibbon sketch={clip.sketch} />}</Cell>
            <Cell><WhatIsOnIt clip={clip} /></Cell>
            <Cell><Level clip={clip} index={0} /></Cell>
            <Cell><Level clip={clip} index={1} /></Cell>
            <Cell><RepairCell clip={clip} /></Cell>
            <Cell><RemoveButton clip={clip} /></Cell>
          </Row>
        )}
      </TableBody>
    </Grid>
  );
}

function NameCell({ clip }: { clip: Clip }) {
  const facts = clip.inspection ? `${sayTime(clip.inspection.format.durationSeconds)} · ${channelWords(clip)}` : sayBytes(clip.bytes);
  return <><Name title={clip.name}>{clip.name}</Name><Fact>{facts}</Fact></>;
}

function WhatIsOnIt({ clip }: { clip: Clip }) {
  const share = useAppSelector((state) => state.progress[clip.id]);
  if (clip.state === 'failed') return <Failed>{clip.error}</Failed>;
  if (clip.state === 'waiting') return <Fact>Waiting to be measured</Fact>;
  if (clip.state === 'reading' || !clip.inspection) return <ProgressLine label={`Measuring ${clip.name}`} share={share} />;
  const { headline, detail, format } = clip.inspection;
  return (
    <>
      <Name>{headline.replace(/\.$/, '')}</Name>
      {format.warning ? <Warned>{format.warning}</Warned> : <Fact>{detail.split('. ')[0].replace(/\.$/, '')}</Fact>}
    </>
  );
}

function Level({ clip, index }: { clip: Clip; index: number }) {
  const channel = clip.inspection?.channels[index];
  return channel ? <span className="numeric">{sayNumber(channel.loudnessLufs)}</span> : null;
}

function RepairCell({ clip }: { clip: Clip }) {
  const { words, tone } = repairWords(clip);
  return <RepairText $tone={tone}>{tone === 'kept' && <Check size={14} aria-label="Kept:" />}{words}</RepairText>;
}

function RemoveButton({ clip }: { clip: Clip }) {
  const [remove] = useRemoveClipMutation();
  return (
    <Button kind="quiet" aria-label={`Remove ${clip.name} from the project`} onPress={() => void remove(clip.id)}>
      <Trash2 size={15} aria-hidden="true" />
    </Button>
  );
}

const Grid = styled(Table)`
  width: 100%; border-collapse: collapse; text-align: left; table-layout: auto;
  th { font-size: 12px; font-weight: 600; color: var(--soft); padding: 10px 12px; border-bottom: 1px solid var(--line); white-space: nowrap; }
  td { padding: 5px 12px; border-bottom: 1px solid var(--line); vertical-align: middle; height: 50px; }
  th:first-child, td:first-child { padding-left: 18px; width: 60px; }
  td:last-child { width: 50px; padding: 0 8px 0 0; }
  tbody tr { cursor: pointer; outline-offset: -3px; }
  tbody tr[data-hovered] { background: var(--chosen); }
  tbody tr[data-state='failed'], tbody tr[data-state='waiting'] { cursor: default; }
  tbody tr:last-child td { border-bottom: 0; }
`;
const Name = styled.div`font-weight: 600; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; max-width: 34ch;`;
const Fact = styled.div`font-size: 12.5px; color: var(--soft); max-width: 46ch;`;
const Failed = styled.div`color: var(--fix); max-width: 52ch;`;
const Warned = styled.div`font-size: 12.5px; color: var(--look); max-width: 52ch;`;
const RepairText = styled.div<{ $tone: string }>`
  display: flex; gap: 5px; align-items: center; white-space: nowrap;
  color: ${({ $tone }) => ({ kept: 'var(--fine)', look: 'var(--look)', none: 'var(--soft)', suggested: 'var(--ink)' })[$tone]};
  font-weight: ${({ $tone }) => ($tone === 'none' ? 400 : 600)};
`;
const Hidden = styled.span`position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%);`;
