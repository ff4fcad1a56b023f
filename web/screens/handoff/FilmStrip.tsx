import styled from 'styled-components';
import { EVENT_STATES } from '@pocket-twin/core/edit/proofSentence.ts';
import type { ForecastEvent } from '@pocket-twin/core/schema/handoff.ts';
import { sayTime } from '@pocket-twin/core/time/sayTime.ts';
import { lanesOf, type Lane } from './filmLanes.ts';

// More tracks than this are not told apart by eye.
const MOST_LANES = 24;

/** The film from left to right, a lane a track, events in the colour of what happens to them; new parallel tracks under the old ones. */
export function FilmStrip({ events }: { events: readonly ForecastEvent[] }) {
  const { lanes, startSeconds, endSeconds } = lanesOf(events);
  if (lanes.length === 0) return null;
  const share = (seconds: number): string => `${(100 * (seconds - startSeconds)) / (endSeconds - startSeconds)}%`;
  const states = [...new Set(events.map(({ state }) => state))];
  const told = `${events.length} events on ${lanes.length} tracks, from ${sayTime(startSeconds)} to ${sayTime(endSeconds)}`;
  return (
    <Figure>
      <Strip role="img" aria-label={told}>
        {lanes.slice(0, MOST_LANES).map((lane, i) => (
          <LaneRow key={i} data-new={lane.isNew}>
            <b title={lane.name}>{lane.isNew ? `+ ${lane.name}` : lane.name}</b>
            <div>
              {lane.events.map((event, k) => (
                <i
                  key={k}
                  data-state={event.state}
                  title={`${event.name}: ${EVENT_STATES[event.state]}`}
                  style={{ left: share(event.startSeconds), width: widthOf(event, startSeconds, endSeconds) }}
                />
              ))}
            </div>
          </LaneRow>
        ))}
      </Strip>
      <Legend>
        {states.map((state) => (
          <span key={state}>
            <i data-state={state} aria-hidden="true" />
            {EVENT_STATES[state]}
          </span>
        ))}
        {lanes.some(({ isNew }) => isNew) && <span>+ a track that is added</span>}
        <time>
          {sayTime(startSeconds)} to {sayTime(endSeconds)}
        </time>
      </Legend>
    </Figure>
  );
}

function widthOf({ startSeconds, endSeconds }: Lane['events'][number], from: number, to: number): string {
  return `max(2px, ${(100 * (endSeconds - startSeconds)) / (to - from)}% - 1px)`;
}

// Each state has a pattern of its own: colour only helps.
const MARKS = `
  i { background: var(--line); border-radius: 3px; }
  i[data-state='same'] { background: color-mix(in srgb, var(--mono) 45%, var(--sheet)); }
  i[data-state='repaired'] { background: var(--mono); }
  i[data-state='relaid'] { background: repeating-linear-gradient(90deg, var(--mono) 0 5px, color-mix(in srgb, var(--mono) 45%, var(--sheet)) 5px 8px); }
  i[data-state='loses'] { background: repeating-linear-gradient(45deg, var(--fix) 0 4px, var(--sheet) 4px 6px); }
  i[data-state='waits'] { background: none; border: 1.5px dashed var(--look); }
  i[data-state='missing'], i[data-state='ambiguous'] { background: none; border: 1.5px dotted var(--look); }
  i[data-state='picture'] { background: none; border: 1.5px solid var(--soft); }
`;
const Figure = styled.figure`margin: 0;`;
const Strip = styled.div`display: flex; flex-direction: column; gap: 3px; ${MARKS}`;
const LaneRow = styled.div`
  display: grid; grid-template-columns: 112px minmax(0, 1fr); gap: 10px; align-items: center;
  b { font-size: 12px; font-weight: 500; color: var(--soft); overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  &[data-new='true'] b { color: var(--ink); font-weight: 600; }
  > div { position: relative; height: 16px; background: color-mix(in srgb, var(--line) 35%, transparent); border-radius: 4px; }
  i { position: absolute; top: 0; bottom: 0; }
`;
const Legend = styled.figcaption`
  display: flex; flex-wrap: wrap; gap: 4px 14px; margin-top: 6px; font-size: 12px; color: var(--soft);
  span { display: inline-flex; align-items: center; gap: 6px; } i { width: 18px; height: 10px; display: inline-block; } time { margin-left: auto; font-variant-numeric: tabular-nums; } ${MARKS}
`;
