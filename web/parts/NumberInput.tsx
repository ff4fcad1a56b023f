import { Minus, Plus } from 'lucide-react';
import { useRef } from 'react';
import { useMove } from 'react-aria';
import { Button, Group, Input, Label, NumberField } from 'react-aria-components';
import styled from 'styled-components';

interface NumberInputProps {
  label: string;
  unit: string;
  value: number;
  step: number;
  min: number;
  max: number;
  /** Digits after the point at most. */
  decimals?: number;
  onChange: (value: number) => void;
  /** Only for who does not see it: its row says it already. */
  hideLabel?: boolean;
}

// So far a pointer goes for one step.
const PIXELS_A_STEP = 4;

/** A number with its unit: typed, stepped by arrow keys or its two buttons, dragged sideways by its unit. */
export function NumberInput({
  label,
  unit,
  value,
  step,
  min,
  max,
  decimals = 1,
  onChange,
  hideLabel,
}: NumberInputProps) {
  const dragged = useRef({ from: value, pixels: 0 });
  const { moveProps } = useMove({
    onMoveStart: () => {
      dragged.current = { from: value, pixels: 0 };
    },
    onMove: ({ deltaX }) => {
      const drag = dragged.current;
      drag.pixels += deltaX;
      const next = drag.from + step * Math.round(drag.pixels / PIXELS_A_STEP);
      const within = Math.round(Math.max(min, Math.min(max, next)) * 10 ** decimals) / 10 ** decimals;
      if (within !== value) onChange(within);
    },
  });
  return (
    <Box
      aria-label={hideLabel ? `${label}, ${unit}` : undefined}
      value={value}
      step={step}
      minValue={min}
      maxValue={max}
      formatOptions={{ maximumFractionDigits: decimals, useGrouping: false }}
      onChange={(next) => {
        if (Number.isFinite(next)) onChange(next);
      }}
    >
      {!hideLabel && <Label>{label}</Label>}
      <Line>
        <Button slot="decrement" aria-label={`Less: ${label}`}>
          <Minus size={12} aria-hidden="true" />
        </Button>
        <Input className="numeric" />
        <Unit {...moveProps} title="Drag sideways to change">
          {unit}
        </Unit>
        <Button slot="increment" aria-label={`More: ${label}`}>
          <Plus size={12} aria-hidden="true" />
        </Button>
      </Line>
    </Box>
  );
}

const Box = styled(
  NumberField,
)`display: flex; align-items: center; justify-content: space-between; gap: 8px; font-size: 12.5px; min-width: 0;`;
const Line = styled(Group)`
  display: inline-flex; align-items: center; border: 1px solid var(--soft); border-radius: 8px; background: var(--paper); overflow: hidden;
  &[data-focus-within] { outline: 2px solid var(--left); outline-offset: 1px; }
  input { width: 58px; padding: 4px 2px 4px 6px; border: 0; background: none; text-align: right; font-size: 12.5px; outline: none; }
  button { border: 0; background: none; padding: 6px; cursor: pointer; color: var(--soft); display: grid; &[data-hovered] { color: var(--ink); } &[data-disabled] { opacity: 0.35; } }
`;
const Unit = styled.span`color: var(--soft); font-size: 11.5px; padding: 4px 0 4px 4px; cursor: ew-resize; touch-action: none; user-select: none;`;
