import { useEffect, useRef, useState } from 'react';
import { Button } from 'react-aria-components';
import styled from 'styled-components';
import { dbFromAmplitude } from '@pocket-twin/core/signal/decibels.ts';
import { sayNumber } from '@pocket-twin/core/signal/sayDecibels.ts';
import type { LiveReading } from '@pocket-twin/core/measure/live/liveMeter.ts';
import type { Player, PlayerState } from '../../listen/player.ts';

const FLOOR_DBFS = -60;
const TICKS = [-60, -48, -36, -24, -12, 0];
const FALL_DB_PER_SECOND = 24;
const HOLD_MS = 1500;
const LEAST_MS_BETWEEN_NUMBERS = 120;
const FALL_STEP_MS = 30;
const SILENCE: LiveReading = { peaks: [0, 0], clipped: [false, false], correlation: 0 };

interface Held {
  shown: [number, number];
  hold: [number, number];
  heldAt: [number, number];
  at: number;
}

/** Left and right in dBFS with peak hold and a clip mark that stays, and how alike they are. */
export function Meters({ player }: { player: Player }) {
  const bars = useRef<(HTMLDivElement | null)[]>([]);
  const holds = useRef<(HTMLDivElement | null)[]>([]);
  const [numbers, setNumbers] = useState({ levels: [-Infinity, -Infinity], correlation: 0, playing: false });
  const [clipped, setClipped] = useState<[boolean, boolean]>([false, false]);
  useEffect(() => {
    setClipped([false, false]);
    const held: Held = {
      shown: [-Infinity, -Infinity],
      hold: [-Infinity, -Infinity],
      heldAt: [0, 0],
      at: performance.now(),
    };
    let lastNumbers = 0;
    let sounded = false;
    let falling: number | undefined;
    const told = (state: PlayerState): void => {
      window.clearTimeout(falling);
      const now = performance.now();
      follow(held, state, now);
      for (const side of [0, 1] as const) {
        const [bar, hold] = [bars.current[side], holds.current[side]];
        // What is played goes on for a moment after the bench is left.
        if (!bar || !hold) return;
        bar.style.transform = `scaleX(${share(held.shown[side])})`;
        hold.style.left = `${share(held.hold[side]) * 100}%`;
      }
      const { clipped: over } = state.reading;
      if (over[0] || over[1]) setClipped((was) => [was[0] || over[0], was[1] || over[1]]);
      // The first sound is told at once.
      const sounds = held.hold.some((level) => level > FLOOR_DBFS);
      if (now - lastNumbers > LEAST_MS_BETWEEN_NUMBERS || !state.playing || (sounds && !sounded)) {
        lastNumbers = now;
        sounded = sounds;
        setNumbers({ levels: [...held.hold], correlation: state.reading.correlation, playing: state.playing });
      }
      // A player at rest tells nothing more: what is shown falls by itself.
      if (!state.playing && [...held.shown, ...held.hold].some((level) => level > -Infinity))
        falling = window.setTimeout(() => told({ ...state, reading: SILENCE }), FALL_STEP_MS);
    };
    const stop = player.subscribe(told);
    return () => {
      window.clearTimeout(falling);
      stop();
    };
  }, [player]);
  return (
    <Box>
      {(['Left', 'Right'] as const).map((name, side) => (
        <Row key={name}>
          <Track
            role="meter"
            aria-label={`${name}, dBFS`}
            aria-valuemin={FLOOR_DBFS}
            aria-valuemax={0}
            aria-valuenow={Math.round(Math.max(FLOOR_DBFS, numbers.levels[side]) * 10) / 10}
            aria-valuetext={`${sayNumber(numbers.levels[side])} dBFS`}
          >
            <Bar
              ref={(element) => {
                bars.current[side] = element;
              }}
              $colour={side === 0 ? 'left' : 'right'}
            />
            <Hold
              ref={(element) => {
                holds.current[side] = element;
              }}
            />
          </Track>
          <Value className="numeric">{sayNumber(numbers.levels[side])}</Value>
          {clipped[side] ? (
            <Clip
              onPress={() => setClipped((was) => [side === 0 ? false : was[0], side === 1 ? false : was[1]])}
              aria-label={`${name} clipped. Clear the mark`}
            >
              clip
            </Clip>
          ) : (
            <NoClip />
          )}
        </Row>
      ))}
      <Row>
        <Ticks className="numeric" aria-hidden="true">
          {TICKS.map((db) => (
            <span key={db} style={{ left: `${share(db) * 100}%` }}>
              {sayNumber(db, 0)}
            </span>
          ))}
        </Ticks>
        <Value className="numeric">
          <Unit>dBFS</Unit>
        </Value>
        <NoClip />
      </Row>
      <Alike>
        Correlation{' '}
        <span className="numeric" data-testid="correlation">
          {numbers.playing ? sayNumber(numbers.correlation, 2) : '–'}
        </span>
      </Alike>
    </Box>
  );
}

function share(db: number): number {
  return Math.max(0, Math.min(1, 1 - db / FLOOR_DBFS));
}

/** Bars jump up and fall at a steady rate; the hold mark stays a moment. */
function follow(held: Held, { reading }: PlayerState, now: number): void {
  const fall = ((now - held.at) / 1000) * FALL_DB_PER_SECOND;
  held.at = now;
  for (const side of [0, 1] as const) {
    const level = dbFromAmplitude(reading.peaks[side]);
    held.shown[side] = Math.max(level, held.shown[side] - fall);
    if (held.shown[side] < FLOOR_DBFS - 40) held.shown[side] = -Infinity;
    if (level >= held.hold[side] || now - held.heldAt[side] > HOLD_MS) {
      held.hold[side] = held.shown[side];
      held.heldAt[side] = now;
    }
  }
}

const Box = styled.div`flex: 1 1 250px; min-width: 0; display: grid; gap: 3px; position: relative;`;
const Row = styled.div`display: grid; grid-template-columns: 1fr 46px 34px; gap: 8px; align-items: center;`;
const Track = styled.div`position: relative; height: 9px; border-radius: 3px; background: var(--line); overflow: hidden;`;
const Bar = styled.div<{
  $colour: string;
}>`position: absolute; inset: 0; transform: scaleX(0); transform-origin: left; background: ${({ $colour }) => `var(--${$colour})`};`;
const Hold = styled.div`position: absolute; top: 0; bottom: 0; width: 2px; background: var(--ink); left: 0; margin-left: -2px;`;
const Value = styled.span`font-size: 12px; text-align: right;`;
const Unit = styled.span`font-size: 10px; color: var(--soft);`;
const Ticks = styled.div`position: relative; height: 12px; font-size: 10px; line-height: 12px; color: var(--soft); span { position: absolute; transform: translateX(-50%); } span:first-child { transform: none; } span:last-child { transform: translateX(-100%); }`;
const Clip = styled(
  Button,
)`border: 0; border-radius: 4px; background: var(--fix); color: var(--sheet); font-size: 11px; padding: 0 4px; cursor: pointer;`;
const NoClip = styled.span``;
const Alike = styled.p`font-size: 11px; color: var(--soft);`;
