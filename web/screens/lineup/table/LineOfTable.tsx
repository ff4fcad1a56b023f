import { ChevronRight, Square, SquareCheck } from 'lucide-react';
import { memo, type MouseEvent } from 'react';
import type { LineupEntry } from '@pocket-twin/core/schema/lineup.ts';
import type { Setup } from '@pocket-twin/core/schema/setup.ts';
import { standingWords } from '@pocket-twin/core/lineup/words.ts';
import { channelLabel } from '../../../parts/channelWords.ts';
import { useRow, useRowFetched } from '../../../state/useRow.ts';
import { ChannelRowContent } from './cells.tsx';
import { COLUMNS } from './columns.tsx';
import { SetupRowContent, type GatheredClips } from './SetupRowContent.tsx';
import type { ColumnId } from '../../../state/shownColumns.ts';
import { ON_THEIR_OWN, WITHOUT_SETUP, type TableLine } from './tableLines.ts';

export interface LineContext {
  projectId: string;
  setups: Map<string, Setup>;
  columns: { id: ColumnId; pixels: number }[];
  template: string;
  /** What is fetched together with a clip's row. */
  around: (id: string) => readonly string[];
  press: (line: TableLine, event: MouseEvent) => void;
  open: (line: TableLine) => void;
  fold: (line: TableLine) => void;
  toggle: (line: TableLine) => void;
}

interface LineProps {
  line: TableLine;
  index: number;
  top: number;
  isCurrent: boolean;
  isChosen: boolean;
  /** Of the clip that the line is about. */
  entry: LineupEntry | undefined;
  context: LineContext;
}

/** What stands together without being one setup. */
const GATHERED: Record<string, GatheredClips> = {
  [ON_THEIR_OWN]: { name: 'On their own', explanation: 'Nothing else here was recorded the same way.' },
  [WITHOUT_SETUP]: { name: 'In no setup', explanation: 'Still being looked at, or not readable.' },
};

/** One line of the table, as long as nothing about it changes drawn once. */
export const LineOfTable = memo(function LineOfTable({
  line,
  index,
  top,
  isCurrent,
  isChosen,
  entry,
  context,
}: LineProps) {
  const common = {
    role: 'row',
    'data-line': line.key,
    'aria-level': line.level,
    'aria-rowindex': index + 2,
    tabIndex: isCurrent ? 0 : -1,
    style: { transform: `translateY(${top}px)`, gridTemplateColumns: context.template },
    onClick: (event: MouseEvent) => context.press(line, event),
    onDoubleClick: () => context.open(line),
  };
  if (line.kind === 'setup') return <SetupLine line={line} common={common} isCurrent={isCurrent} context={context} />;
  if (line.kind === 'clip')
    return <ClipLine line={line} common={common} isChosen={isChosen} entry={entry} context={context} />;
  return <ChannelLine line={line} common={common} entry={entry} />;
}, isSameLine);

/** Lines are made anew whenever anything about the list changes; most of them say the same. */
function isSameLine(before: LineProps, now: LineProps): boolean {
  const { line: lineBefore, ...restBefore } = before;
  const { line, ...rest } = now;
  const same = (a: object, b: object): boolean =>
    Object.keys(a).every((key) => Object.is(a[key as never], b[key as never]));
  if (!same(restBefore, rest)) return false;
  if (line.kind !== 'setup' || lineBefore.kind !== 'setup') return same(lineBefore, line);
  return (
    line.key === lineBefore.key &&
    line.open === lineBefore.open &&
    line.clipIds.length === lineBefore.clipIds.length &&
    line.clipIds.every((id, i) => id === lineBefore.clipIds[i])
  );
}

type Of<Kind extends TableLine['kind']> = Extract<TableLine, { kind: Kind }>;
type Common = React.HTMLAttributes<HTMLDivElement>;

function SetupLine({
  line,
  common,
  isCurrent,
  context,
}: {
  line: Of<'setup'>;
  common: Common;
  isCurrent: boolean;
  context: LineContext;
}) {
  const setup = context.setups.get(line.key) ?? GATHERED[line.key];
  const name = setup?.name ?? '';
  return (
    <div
      {...common}
      aria-expanded={line.open}
      aria-label={`${name}, ${line.clipIds.length === 1 ? '1 clip' : `${line.clipIds.length} clips`}`}
      data-setup={name}
    >
      <div role="gridcell">
        <Chevron name={name} open={line.open} onClick={() => context.fold(line)} />
      </div>
      <div role="gridcell" className="across">
        {setup && (
          <SetupRowContent
            projectId={context.projectId}
            setup={setup}
            setups={context.setups}
            clipIds={line.clipIds}
            inTabOrder={isCurrent}
          />
        )}
      </div>
    </div>
  );
}

function ClipLine({
  line,
  common,
  isChosen,
  entry,
  context,
}: {
  line: Of<'clip'>;
  common: Common;
  isChosen: boolean;
  entry: LineupEntry | undefined;
  context: LineContext;
}) {
  const { clipId } = line;
  const { projectId, setups, columns, around } = context;
  useRowFetched(projectId, clipId, around);
  const row = useRow(clipId);
  if (!entry) return null;
  const setup = entry.setupId === null ? undefined : setups.get(entry.setupId);
  const canUnfold = entry.channels !== null;
  // Why it could not be read, and the way out, take the place of all that is not known of it.
  const shown =
    entry.standing === 'unreadable'
      ? columns.slice(0, columns.findIndex(({ id }) => id === 'what') + 1 || columns.length)
      : columns;
  return (
    <div
      {...common}
      data-clip-id={clipId}
      aria-selected={isChosen}
      aria-expanded={canUnfold ? line.open : undefined}
      aria-label={spoken(entry)}
    >
      <div role="gridcell" className="choosing">
        <button
          type="button"
          role="checkbox"
          className="choose"
          aria-checked={isChosen}
          aria-label={`Choose ${entry.name}`}
          tabIndex={-1}
          onClick={() => context.toggle(line)}
        >
          {isChosen ? <SquareCheck size={17} /> : <Square size={17} />}
        </button>
        {canUnfold && (
          <Chevron name={`channels of ${entry.name}`} open={line.open} onClick={() => context.fold(line)} />
        )}
      </div>
      {shown.map(({ id }, i) => (
        <div
          key={id}
          style={i === shown.length - 1 && shown !== columns ? { gridColumn: `${i + 2} / -1` } : undefined}
          role={id === 'name' ? 'rowheader' : 'gridcell'}
          className={COLUMNS[id].numeric ? 'numbers' : undefined}
          data-clip={id === 'name' ? entry.name : undefined}
        >
          {COLUMNS[id].cell({ projectId, entry, row, setup })}
        </div>
      ))}
    </div>
  );
}

/** "crossing-A001.wav, Only the left side carries speech. Fill right from left, kept" */
function spoken({ name, headline, error, standing, suggestion, kept }: LineupEntry): string {
  const what = headline ?? error ?? standingWords(standing);
  return `${name}, ${what} ${kept ? `${kept}, ${standingWords(standing).toLowerCase()}` : (suggestion ?? standingWords(standing))}`;
}

function ChannelLine({ line, common, entry }: { line: Of<'channel'>; common: Common; entry: LineupEntry | undefined }) {
  const row = useRow(line.clipId);
  const label = channelLabel(line.channel, entry?.channels ?? 0, row?.channelNames[line.channel - 1]);
  return (
    <div {...common} aria-label={`${label} of ${entry?.name}`} data-channel={line.channel}>
      <div role="gridcell" />
      <div role="gridcell" className="across">
        {row && <ChannelRowContent row={row} channel={line.channel} />}
      </div>
    </div>
  );
}

function Chevron({ name, open, onClick }: { name: string; open: boolean; onClick: () => void }) {
  return (
    <button
      type="button"
      className="chevron"
      tabIndex={-1}
      aria-label={`${open ? 'Hide' : 'Show'} ${name}`}
      data-open={open || undefined}
      onClick={onClick}
    >
      <ChevronRight size={15} aria-hidden="true" />
    </button>
  );
}
