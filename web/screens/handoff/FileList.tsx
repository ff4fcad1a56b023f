import { Check, ChevronDown, Clock, LoaderCircle, TriangleAlert, X } from 'lucide-react';
import { useState } from 'react';
import { Button as AriaButton, Link } from 'react-aria-components';
import styled from 'styled-components';
import { REASONS } from '@pocket-twin/core/handoff/conformReasons.ts';
import { conformSentence } from '@pocket-twin/core/handoff/conformSentence.ts';
import type { HandoffDetail, HandoffFile } from '@pocket-twin/core/schema/handoff.ts';
import { sayDecibels } from '@pocket-twin/core/signal/sayDecibels.ts';
import { SmallRibbon } from '../../ribbon/SmallRibbon.tsx';
import { sentenceOf, useHandoffFileQuery } from '../../state/api.ts';
import { useAppSelector } from '../../state/store.ts';
import { Notice } from '../../parts/Notice.tsx';
import { ProgressLine } from '../../parts/ProgressLine.tsx';
import { Sheet, Soft } from '../../parts/Screen.tsx';
import { FILE_STATES } from './handoffWords.ts';

const ICONS = { waiting: Clock, writing: LoaderCircle, done: Check, failed: TriangleAlert, cancelled: X };

/** The files of a handoff, each with how it stands; a proven one opens to its two ribbons and old against new. */
export function FileList({ handoff: { list, projectId } }: { handoff: HandoffDetail }) {
  const [open, setOpen] = useState<string[]>([]);
  return (
    <Sheet as="div">
      <List aria-label="Files">
        {list.map((file) => (
          <FileLine
            key={file.id}
            file={file}
            projectId={projectId}
            isOpen={open.includes(file.id)}
            onOpen={(on) => setOpen([...open.filter((id) => id !== file.id), ...(on ? [file.id] : [])])}
          />
        ))}
      </List>
    </Sheet>
  );
}

interface FileLineProps {
  file: HandoffFile;
  projectId: string;
  isOpen: boolean;
  onOpen: (open: boolean) => void;
}

function FileLine({ file, projectId, isOpen, onOpen }: FileLineProps) {
  const progress = useAppSelector((state) => state.progress[file.id]);
  const { state, name, what, paths, error, conform, clipId } = file;
  const Icon = ICONS[state];
  return (
    <li data-state={state}>
      <Line>
        <Icon size={15} aria-hidden="true" />
        <div>
          <strong>{name}</strong>
          <span>{what}</span>
        </div>
        <div>
          {state === 'writing' ? (
            <ProgressLine label={`Writing ${name}`} share={progress?.share} />
          ) : state === 'done' ? (
            <>
              <span title={paths.join('\n')}>
                {paths.length === 1 ? paths[0] : `${paths[0]} and ${paths.length - 1} more`}
              </span>
              <small>{conformSentence(conform)}</small>
            </>
          ) : (
            <span>{FILE_STATES[state]}</span>
          )}
          {error !== null && <em>{error}</em>}
          {error !== null && clipId !== null && <Link href={`/projects/${projectId}/bench/${clipId}`}>Open it</Link>}
        </div>
        {state === 'done' ? (
          <Opener
            aria-expanded={isOpen}
            aria-label={`${isOpen ? 'Close' : 'Open'} the receipt of ${name}`}
            onPress={() => onOpen(!isOpen)}
          >
            <ChevronDown size={15} aria-hidden="true" />
          </Opener>
        ) : (
          <i />
        )}
      </Line>
      {isOpen && <Opened fileId={file.id} file={file} />}
    </li>
  );
}

/** Before above after, what was proven, and old against new line by line. */
function Opened({ fileId, file }: { fileId: string; file: HandoffFile }) {
  const { data, error } = useHandoffFileQuery(fileId);
  if (error !== undefined) return <Notice tone="fix">{sentenceOf(error)}</Notice>;
  if (!data) return <Soft role="status">Fetching the receipt ...</Soft>;
  const { before, files, sketch } = data.receipt;
  const levels = (channels: typeof before.channels): string =>
    channels.map(({ loudnessLufs }) => sayDecibels(loudnessLufs, 'LUFS')).join(', ');
  return (
    <Receipt>
      <div>
        <figure>
          <figcaption>Before: {levels(before.channels)}</figcaption>
          {sketch && <SmallRibbon sketch={sketch} />}
        </figure>
        {files.map(({ name, after, sketch: now }) => (
          <figure key={name + after.format.channels}>
            <figcaption>
              {files.length > 1 ? `${name}: ` : 'After: '}
              {levels(after.channels)}
            </figcaption>
            {now && <SmallRibbon sketch={now} />}
          </figure>
        ))}
        <p>
          Proven: {file.proof}; {files[0].proof.comparedFrames.toLocaleString('en')} frames compared.
        </p>
      </div>
      <table>
        <thead>
          <tr>
            <th scope="col">Old against new</th>
            <th scope="col">Old</th>
            <th scope="col">New</th>
          </tr>
        </thead>
        <tbody>
          {file.conform.map(({ what, old, new: now, equal, why }) => (
            <tr key={what} data-equal={equal}>
              <th scope="row">{what}</th>
              <td>{short(old)}</td>
              <td>
                {equal ? 'equal' : short(now)}
                {why && <small>{REASONS[why]}</small>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Receipt>
  );
}

/** A hash is known by its beginning. */
function short(value: string | number | null): string {
  if (value === null) return 'none';
  return String(value).length > 40 ? `${String(value).slice(0, 12)}…` : String(value);
}

const List = styled.ul`
  display: flex; flex-direction: column; font-size: 13px;
  li { content-visibility: auto; contain-intrinsic-size: auto 46px; } li + li { border-top: 1px solid var(--line); }
  li[data-state='done'] > div > svg { color: var(--fine); } li[data-state='failed'] > div > svg { color: var(--fix); } li[data-state='waiting'] > div > svg { color: var(--soft); }
`;
const Line = styled.div`
  display: grid; grid-template-columns: 18px minmax(0, 0.8fr) minmax(0, 1fr) 30px; gap: 12px; align-items: center; padding: 6px 8px 6px 14px; min-height: 46px;
  > div { display: flex; flex-direction: column; min-width: 0; }
  strong { overflow: hidden; text-overflow: ellipsis; white-space: nowrap; } span { color: var(--soft); overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  > div + div > span { color: var(--ink); } small { color: var(--soft); font-size: 12px; } em { color: var(--fix); font-style: normal; } a { font-weight: 600; }
`;
const Opener = styled(
  AriaButton,
)`border: 0; background: none; padding: 6px; cursor: pointer; color: var(--soft); border-radius: 7px; display: grid; &[data-hovered] { color: var(--ink); } &[aria-expanded='true'] svg { transform: rotate(180deg); }`;
const Receipt = styled.div`
  display: grid; grid-template-columns: minmax(0, 1fr) minmax(0, 1fr); gap: 20px; padding: 4px 20px 16px 44px;
  @media (max-width: 1100px) { grid-template-columns: minmax(0, 1fr); }
  figure { margin: 0 0 6px; } figcaption { color: var(--soft); font-size: 12px; } p { font-size: 12.5px; }
  table { border-collapse: collapse; font-size: 12px; align-self: start; } th, td { text-align: left; font-weight: 400; padding: 2px 12px 2px 0; overflow-wrap: anywhere; }
  thead th { color: var(--soft); } tr[data-equal='true'] td:last-child { color: var(--fine); } tr[data-equal='false'] td:last-child { color: var(--look); font-weight: 600; }
`;
