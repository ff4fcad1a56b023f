import { useMemo, useState } from 'react';
import styled from 'styled-components';
import { layoutWords } from '@pocket-twin/core/edit/layoutWords.ts';
import { EVENT_STATES } from '@pocket-twin/core/edit/proofSentence.ts';
import type { ForecastEvent, HandoffForecast } from '@pocket-twin/core/schema/handoff.ts';
import { sayTime } from '@pocket-twin/core/time/sayTime.ts';
import { Fold } from '../../parts/Fold.tsx';
import { Sheet } from '../../parts/Screen.tsx';
import { scrolls } from '../../parts/scrolls.ts';
import { FilmStrip } from './FilmStrip.tsx';
import { forecastEditSentence } from './handoffWords.ts';

// What a person should look at before pressing the button.
const TO_LOOK_AT: ForecastEvent['state'][] = ['loses', 'ambiguous', 'missing', 'waits'];

/** What the edit that comes along will play: a film strip, then event by event, the doubtful first. */
export function EditForecast({ edit }: { edit: NonNullable<HandoffForecast['edit']> }) {
  const [open, setOpen] = useState(false);
  const { events, name } = edit;
  const doubtful = useMemo(() => events.filter(({ state }) => TO_LOOK_AT.includes(state)), [events]);
  return (
    <Sheet as="section" aria-label={`The edit ${name}`}>
      <Body>
        <Sentence data-tone={events.some(({ state }) => state === 'loses') ? 'fix' : 'plain'}>
          {forecastEditSentence(edit)}
        </Sentence>
        <FilmStrip events={events} />
        {doubtful.length > 0 && <EventTable events={doubtful} label="Events to look at" />}
        <p>
          The edit that is open in your program keeps playing the old files. Open <b>{name}</b> from the handoff
          instead.
        </p>
        <Fold title="Every event" says={`${events.length}`} open={open} onOpenChange={setOpen}>
          <EventTable events={events} label="Every event" />
        </Fold>
      </Body>
    </Sheet>
  );
}

/** Old media, new media, channel by channel. */
function EventTable({ events, label }: { events: readonly ForecastEvent[]; label: string }) {
  return (
    <Box>
      <table aria-label={label}>
        <thead>
          <tr>
            <th scope="col">Film</th>
            <th scope="col">Old media</th>
            <th scope="col">New media, channel from channel</th>
            <th scope="col">What happens</th>
          </tr>
        </thead>
        <tbody>
          {events.map((event, i) => (
            <tr key={i} data-state={event.state}>
              <td>{event.recordStartSeconds === null ? '' : sayTime(event.recordStartSeconds, 1)}</td>
              <td>
                {event.name}
                {event.streams.length > 0 && <small>{layoutWords(event.streams)}</small>}
              </td>
              <td>
                {event.files.map(({ path, streams }) => (
                  <span key={path}>
                    {path.slice(path.lastIndexOf('/') + 1)} <small>{channelWords(streams)}</small>
                  </span>
                ))}
                {event.files.length === 0 && <small>stays as it is</small>}
              </td>
              <td>
                {EVENT_STATES[event.state]}
                {event.lost.length > 0 && <small>channel {event.lost.join(', ')} is left out</small>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Box>
  );
}

function channelWords(streams: readonly number[][][]): string {
  return streams
    .flat()
    .map((from, i) => `${i + 1} from ${from.length === 0 ? 'silence' : from.join(' + ')}`)
    .join(', ');
}

const Body = styled.div`padding: 12px 14px; display: flex; flex-direction: column; gap: 10px; p { font-size: 13px; color: var(--soft); b { color: var(--ink); overflow-wrap: anywhere; } }`;
const Sentence = styled.h2`font-size: 15px; font-weight: 600; font-family: inherit; &[data-tone='fix'] { color: var(--fix); }`;
const Box = styled.div`
  max-height: 240px; ${scrolls}
  table { width: 100%; border-collapse: collapse; font-size: 12.5px; table-layout: fixed; }
  th, td { text-align: left; vertical-align: top; padding: 4px 10px 4px 0; font-weight: 400; overflow-wrap: anywhere; }
  thead th { color: var(--soft); font-size: 12px; font-weight: 600; position: sticky; top: 0; background: var(--sheet); }
  thead th:first-child { width: 96px; } thead th:last-child { width: 22%; }
  tbody tr { border-top: 1px solid var(--line); content-visibility: auto; contain-intrinsic-size: auto 26px; }
  td:first-child { white-space: nowrap; font-family: var(--mono-type, monospace); font-variant-numeric: tabular-nums; } span { display: block; } small { color: var(--soft); font-size: 12px; display: block; }
  tr[data-state='loses'] td:last-child { color: var(--fix); font-weight: 600; } tr[data-state='missing'] td:last-child, tr[data-state='ambiguous'] td:last-child, tr[data-state='waits'] td:last-child { color: var(--look); font-weight: 600; }
`;
