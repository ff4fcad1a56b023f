import { useState } from 'react';
import { ToggleButton } from 'react-aria-components';
import styled from 'styled-components';
import { arranged, arrangementOf, withCable, type Arrangement } from '@pocket-twin/core/repair/plan/edit.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { Pick } from '../../../parts/Field.tsx';
import { NumberInput } from '../../../parts/NumberInput.tsx';
import { Cables } from '../Cables.tsx';
import { outputNames } from '../outputNames.ts';
import { scrolls } from '../../../parts/scrolls.ts';

interface RoutesPartProps {
  repair: Repair;
  onChange: (repair: Repair) => void;
}

// Above this a drawing of cables is a knot: the grid says it better.
const MOST_CABLED = 6;

/** Any input to any output: cables to look at and draw, a grid to press. */
export function RoutesPart({ repair, onChange }: RoutesPartProps) {
  const names = outputNames(repair);
  const routes = repair.outputs.flatMap((output) => output.routes);
  const [at, setAt] = useState<{ output: number; from: number } | null>(null);
  const inputs = Array.from({ length: repair.inputChannels }, (_, i) => i + 1);
  const toggle = (output: number, from: number): void => {
    const isOn = routes[output].some((cable) => cable.from === from);
    setAt(isOn ? null : { output, from });
    onChange(withCable(repair, output, from, isOn ? null : { gainDb: 0, polarity: 'normal' }));
  };
  const chosen = at && routes[at.output]?.find(({ from }) => from === at.from);
  const arrangement = arrangementOf(repair);
  return (
    <>
      <Pick<Arrangement | 'own'>
        label="Written as"
        value={arrangement ?? 'own'}
        onChange={(value) => {
          if (value !== 'own') onChange(arranged(repair, value));
        }}
        options={[
          { value: 'mono', label: 'One mono file' },
          { value: 'stereo', label: 'One stereo file' },
          ...(repair.inputChannels > 2
            ? [{ value: 'same' as const, label: `One file of ${repair.inputChannels} channels` }]
            : []),
          { value: '5.1', label: '5.1 (L R C LFE Ls Rs)' },
          ...(repair.inputChannels > 1 ? [{ value: 'separate' as const, label: 'A mono file each' }] : []),
          ...(arrangement === null ? [{ value: 'own' as const, label: 'As routed' }] : []),
        ]}
      />
      {repair.inputChannels <= MOST_CABLED && routes.length <= MOST_CABLED && (
        <Cables repair={repair} onToggle={toggle} />
      )}
      <Scroll>
        <Grid
          role="group"
          aria-label="Which channel feeds which output"
          style={{ gridTemplateColumns: `auto repeat(${inputs.length}, 30px)` }}
        >
          <span aria-hidden="true" />
          {inputs.map((from) => (
            <Head key={from} aria-hidden="true">
              {from}
            </Head>
          ))}
          {routes.map((route, output) => (
            <Row key={output}>
              <Name aria-hidden="true">{names[output].long}</Name>
              {inputs.map((from) => {
                const cable = route.find((one) => one.from === from);
                return (
                  <Cell
                    key={from}
                    isSelected={cable !== undefined}
                    onChange={() => toggle(output, from)}
                    onFocus={() => setAt({ output, from })}
                    aria-label={`Channel ${from} to ${names[output].long.toLowerCase()}`}
                    $side={from % 2 === 1 ? 'left' : 'right'}
                  >
                    {cable
                      ? cable.gainDb === 0
                        ? cable.polarity === 'inverted'
                          ? '−'
                          : '●'
                        : Math.round(cable.gainDb)
                      : ''}
                  </Cell>
                );
              })}
            </Row>
          ))}
        </Grid>
      </Scroll>
      {at && chosen && (
        <>
          <NumberInput
            label={`Channel ${at.from} to ${names[at.output].long.toLowerCase()}`}
            unit="dB"
            value={chosen.gainDb}
            step={0.5}
            min={-60}
            max={20}
            onChange={(gainDb) => onChange(withCable(repair, at.output, at.from, { ...chosen, gainDb }))}
          />
        </>
      )}
      <Hint>
        A channel that goes to both sides is heard in the middle at the level it had: no pan rule takes anything off.
      </Hint>
    </>
  );
}

const Scroll = styled.div`${scrolls} max-height: 300px;`;
const Grid = styled.div`display: grid; gap: 3px; align-items: center; width: max-content;`;
const Row = styled.div`display: contents;`;
const Head = styled.span`text-align: center; font-size: 12px; font-weight: 600; color: var(--soft);`;
const Name = styled.span`font-size: 12px; padding-right: 8px; white-space: nowrap; position: sticky; left: 0; background: var(--sheet);`;
const Cell = styled(ToggleButton)<{ $side: 'left' | 'right' }>`
  width: 30px; height: 26px; border: 1px solid var(--line); border-radius: 6px; background: var(--paper); cursor: pointer; padding: 0; font: 600 11px 'Spline Sans Mono Variable', monospace; color: var(--soft);
  &[data-selected] { background: ${({ $side }) => `var(--${$side})`}; border-color: transparent; color: var(--sheet); }
  &[data-hovered] { border-color: var(--ink); }
  @media (forced-colors: active) { &[data-selected] { forced-color-adjust: none; background: Highlight; color: HighlightText; } }
`;
const Hint = styled.p`font-size: 12px; color: var(--soft);`;
