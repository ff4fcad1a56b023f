import { useState } from 'react';
import styled from 'styled-components';
import { sayBytes } from '@pocket-twin/core/pcm/sayBytes.ts';
import type { HandoffBits, HandoffForecast, HandoffFormat, HandoffWanted } from '@pocket-twin/core/schema/handoff.ts';
import { useHandoffFoldersQuery, useLineupQuery } from '../../state/api.ts';
import { Button } from '../../parts/Button.tsx';
import { Choice } from '../../parts/Choice.tsx';
import { Pick, Words } from '../../parts/Field.tsx';
import { Fold } from '../../parts/Fold.tsx';
import { NumberInput } from '../../parts/NumberInput.tsx';
import { Soft } from '../../parts/Screen.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { EditPart } from './EditPart.tsx';
import { ALL, CHOSEN, type Which } from './which.ts';
import { scrolls } from '../../parts/scrolls.ts';

type Order = Omit<HandoffWanted, 'clipIds'>;

interface OrderPanelProps {
  projectId: string;
  order: Order;
  setOrder: (order: Order) => void;
  which: Which;
  setWhich: (which: Which) => void;
  /** How many clips are chosen in the lineup. */
  chosen: number;
  forecast: HandoffForecast | undefined;
  begin: (() => void) | null;
  isBusy: boolean;
}

const FORMATS: Record<HandoffFormat, string> = {
  same: 'As each source is, picture and all',
  wav: 'WAV, the sound alone',
  flac: 'FLAC, the sound alone',
  aiff: 'AIFF, the sound alone',
};
const BITS: Record<HandoffBits, string> = {
  same: 'As the source',
  '16': '16 bit',
  '24': '24 bit',
  '32': '32 bit',
  '32f': '32 bit float',
};
const TRACKS = {
  usual: { label: 'As the old file, for films and what the edit uses', says: 'as usual' },
  same: { label: 'As the old file, always', says: 'as the old file' },
  repaired: { label: 'As repaired: the edit gets parallel tracks', says: 'as repaired' },
} as const;
/** By how much a program lowers mono in the middle. */
const MONO_GAINS = {
  0: 'Level as it is',
  3: 'Raise by 3 dB: the program lowers mono by 3 dB',
  4.5: 'Raise by 4.5 dB: the program lowers mono by 4.5 dB',
  6: 'Raise by 6 dB: the program lowers mono by 6 dB',
};
const TOKENS = ['name', 'setup', 'scene', 'take', 'role', 'channel', 'date'] as const;

/** Which clips, where to, called how, as what. */
export function OrderPanel({
  projectId,
  order,
  setOrder,
  which,
  setWhich,
  chosen,
  forecast,
  begin,
  isBusy,
}: OrderPanelProps) {
  const { data: folders = [] } = useHandoffFoldersQuery();
  const { data: lineup } = useLineupQuery(projectId);
  const [open, setOpen] = useState<string[]>([]);
  const change = (more: Partial<Order>): void => setOrder({ ...order, ...more });
  const fold = (title: string): { title: string; open: boolean; onOpenChange: (on: boolean) => void } => ({
    title,
    open: open.includes(title),
    onOpenChange: (on) => setOpen([...open.filter((one) => one !== title), ...(on ? [title] : [])]),
  });
  const total = Object.keys(lineup?.entries ?? {}).length;
  const { place } = order;
  const count = forecast?.files.length ?? 0;
  const example = forecast?.files.find(({ paths }) => paths.length > 0);
  return (
    <Panel aria-label="What to hand off">
      <Scrolled>
        <Pick
          label="Which"
          value={which}
          onChange={setWhich}
          options={[
            { value: ALL, label: `All clips of the project (${total})` },
            ...(chosen > 0
              ? [{ value: CHOSEN, label: chosen === 1 ? 'The chosen clip' : `The ${chosen} chosen clips` }]
              : []),
            ...(lineup?.setups ?? []).map(({ id, name, clips }) => ({ value: id, label: `${name} (${clips})` })),
          ]}
        />
        <Tick isSelected={order.untouched} onChange={(untouched) => change({ untouched })}>
          Clips that need nothing come along, so that the folder is complete
        </Tick>
        <Pick
          label="Where"
          value={place.kind === 'folder' ? String(place.root) : place.kind}
          onChange={(value) =>
            change({
              place:
                value === 'beside' || value === 'download'
                  ? { kind: value }
                  : { kind: 'folder', root: Number(value), path: place.kind === 'folder' ? place.path : '' },
            })
          }
          options={[
            ...folders.map(({ index, path }) => ({ value: String(index), label: path })),
            { value: 'beside', label: 'Beside the originals' },
            { value: 'download', label: 'One archive, to download' },
          ]}
        />
        {place.kind === 'folder' && (
          <Words
            label="Folder within, if wanted"
            value={place.path}
            onChange={(path) => change({ place: { ...place, path } })}
          />
        )}
        <Words label="Name" value={order.name} onChange={(name) => change({ name })} />
        <Soft>
          {forecast?.folder && <code>{forecast.folder}</code>}
          {forecast && (
            <span>
              Up to {sayBytes(forecast.bytes)}
              {forecast.roomBytes === null ? '' : `; ${sayBytes(forecast.roomBytes)} are free`}.
              {forecast.replaces > 0 && ` ${forecast.replaces} files of an earlier handoff there give way.`}
            </span>
          )}
        </Soft>
        <div>
          <Fold {...fold('Names')} says={order.pattern === null ? 'the same' : order.pattern}>
            <Choice
              small
              label="Names"
              value={order.pattern === null ? 'same' : 'pattern'}
              onChange={(value) => change({ pattern: value === 'same' ? null : '{name}' })}
              options={[
                { value: 'same', label: 'The same' },
                { value: 'pattern', label: 'By a pattern' },
              ]}
            />
            {order.pattern === null ? (
              <Soft>The new file takes the place of the old one in the edit.</Soft>
            ) : (
              <>
                <Words label="Pattern" value={order.pattern} onChange={(pattern) => change({ pattern })} />
                <Tokens>
                  {TOKENS.map((token) => (
                    <Button key={token} onPress={() => change({ pattern: withToken(order.pattern!, token) })}>
                      {`{${token}}`}
                    </Button>
                  ))}
                </Tokens>
                {example && (
                  <Soft>
                    {example.name} becomes <b>{example.paths[0]}</b>
                  </Soft>
                )}
              </>
            )}
          </Fold>
          <Fold
            {...fold('Format')}
            says={
              order.format === 'same' && order.bits === 'same'
                ? 'as the source'
                : [
                    order.format === 'same' ? '' : order.format.toUpperCase(),
                    order.bits === 'same' ? '' : BITS[order.bits],
                  ]
                    .filter(Boolean)
                    .join(', ')
            }
          >
            <Pick
              label="Files"
              value={order.format}
              onChange={(format) => change({ format })}
              options={(Object.keys(FORMATS) as HandoffFormat[]).map((value) => ({ value, label: FORMATS[value] }))}
            />
            <Pick
              label="Depth of the sound"
              value={order.bits}
              onChange={(bits) => change({ bits })}
              options={(Object.keys(BITS) as HandoffBits[]).map((value) => ({ value, label: BITS[value] }))}
            />
            {order.format === 'same' && (
              <NumberInput
                label="Coded sound (MP4, WebM), a channel"
                unit="kbit/s"
                value={order.codedKbits}
                step={16}
                min={48}
                max={256}
                decimals={0}
                onChange={(codedKbits) => change({ codedKbits })}
              />
            )}
            <Soft>Where words get shorter or are calculated there is dither; nowhere else.</Soft>
          </Fold>
          <Fold {...fold('Tracks')} says={TRACKS[order.tracks ?? 'usual'].says}>
            <Pick
              label="Streams and channels"
              value={order.tracks ?? 'usual'}
              onChange={(value) => change({ tracks: value === 'usual' ? null : value })}
              options={(Object.keys(TRACKS) as (keyof typeof TRACKS)[]).map((value) => ({
                value,
                label: TRACKS[value].label,
              }))}
            />
            <Pick
              label="What becomes mono"
              value={String(order.monoGainDb)}
              onChange={(value) => change({ monoGainDb: Number(value) as Order['monoGainDb'] })}
              options={Object.entries(MONO_GAINS).map(([value, label]) => ({ value, label }))}
            />
            <Tick isSelected={order.keepsTimes} onChange={(keepsTimes) => change({ keepsTimes })}>
              New files keep the dates of the old ones
            </Tick>
          </Fold>
          <EditPart
            projectId={projectId}
            edit={lineup?.edit ?? null}
            order={order}
            change={change}
            fold={fold('The edit')}
          />
        </div>
      </Scrolled>
      <Button kind="main" wide shortcut="main" isDisabled={begin === null} onPress={() => begin?.()}>
        {isBusy ? 'Beginning ...' : count === 1 ? 'Hand off 1 clip' : `Hand off ${count} clips`}
      </Button>
    </Panel>
  );
}

/** Apart from what stands there already. */
function withToken(pattern: string, token: string): string {
  return `${pattern}${/[\p{L}\p{N}}]$/u.test(pattern) ? ' ' : ''}{${token}}`;
}

const Panel = styled.section`
  display: flex; flex-direction: column; gap: 12px; min-height: 0; padding: 16px; background: var(--sheet); border: 1px solid var(--line); border-radius: 12px;
  code { display: block; font-size: 12px; overflow-wrap: anywhere; } p { font-size: 12.5px; } p b { overflow-wrap: anywhere; color: var(--ink); font-weight: 600; }
`;
const Scrolled = styled.div`flex: 1; min-height: 0; ${scrolls} display: flex; flex-direction: column; gap: 12px; margin: -3px; padding: 3px; > * { flex: none; }`;
const Tokens = styled.div`display: flex; flex-wrap: wrap; gap: 5px; button { min-height: 26px; padding: 1px 8px; font-size: 12px; font-weight: 500; }`;
