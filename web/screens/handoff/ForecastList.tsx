import { ArrowRight } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Link } from 'react-aria-components';
import styled from 'styled-components';
import type { HandoffForecast } from '@pocket-twin/core/schema/handoff.ts';
import { useLineupQuery } from '../../state/api.ts';
import { useSuggestions } from '../../state/useSuggestions.ts';
import { Button } from '../../parts/Button.tsx';
import { Fold } from '../../parts/Fold.tsx';
import { Sheet } from '../../parts/Screen.tsx';
import { EditForecast } from './EditForecast.tsx';
import { scrolls } from '../../parts/scrolls.ts';

/** Every clip with what it becomes; before them those that wait for a person. */
export function ForecastList({ projectId, forecast }: { projectId: string; forecast: HandoffForecast }) {
  const { undecided, files, leftOut } = forecast;
  const [open, setOpen] = useState(false);
  return (
    <>
      {forecast.edit && <EditForecast edit={forecast.edit} />}
      {undecided.length > 0 && <Undecided projectId={projectId} undecided={undecided} />}
      {files.length > 0 && (
        <Sheet as="div">
          <Table aria-label="Files">
            <thead>
              <tr>
                <th scope="col">Clip</th>
                <th scope="col">What is done</th>
                <th scope="col">Becomes</th>
              </tr>
            </thead>
            <tbody>
              {files.map(({ clipId, name, what, paths, notes }) => (
                <tr key={clipId}>
                  <th scope="row">
                    <Link href={`/projects/${projectId}/bench/${clipId}`}>{name}</Link>
                  </th>
                  <td data-plain={what === 'As it is' || undefined}>{what}</td>
                  <td>
                    {paths.map((path) => (
                      <Path key={path}>{path}</Path>
                    ))}
                    {notes.map((note) => (
                      <small key={note}>{note}</small>
                    ))}
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </Sheet>
      )}
      {leftOut.length > 0 && (
        <Fold title="Stays out" says={`${leftOut.length}`} open={open} onOpenChange={setOpen}>
          <Waiting>
            {leftOut.map(({ clipId, name, why }) => (
              <li key={clipId}>
                <strong>{name}</strong>
                <span>{why}</span>
              </li>
            ))}
          </Waiting>
        </Fold>
      )}
    </>
  );
}

/** They are left out until somebody has decided: one press keeps what is suggested, a link leads to each. */
function Undecided({ projectId, undecided }: { projectId: string; undecided: HandoffForecast['undecided'] }) {
  const { keepOn, isBusy } = useSuggestions(projectId);
  const { data: lineup } = useLineupQuery(projectId);
  const suggested = useMemo(
    () => undecided.filter(({ clipId }) => lineup?.entries[clipId]?.standing === 'open').map(({ clipId }) => clipId),
    [lineup, undecided],
  );
  return (
    <Box aria-label="Waiting for you">
      <div>
        <strong>{undecided.length === 1 ? '1 clip waits for you.' : `${undecided.length} clips wait for you.`}</strong>
        <span>They stay out until it is decided what is done to them.</span>
        {suggested.length > 0 && (
          <Button isDisabled={isBusy} onPress={() => keepOn(suggested, null)}>
            Use each one’s own suggestion on {suggested.length}
          </Button>
        )}
      </div>
      <Waiting>
        {undecided.map(({ clipId, name, why }) => (
          <li key={clipId}>
            <Link href={`/projects/${projectId}/bench/${clipId}`} aria-label={`Decide about ${name}`}>
              {name}
              <ArrowRight size={13} aria-hidden="true" />
            </Link>
            <span>{why}</span>
          </li>
        ))}
      </Waiting>
    </Box>
  );
}

/** A path whose last part, the name, is what people look for. */
function Path({ children: path }: { children: string }) {
  const at = path.lastIndexOf('/') + 1;
  return (
    <span title={path}>
      {path.slice(0, at)}
      <b>{path.slice(at)}</b>
    </span>
  );
}

const Box = styled.section`
  border-radius: 12px; background: var(--look-wash); padding: 10px 14px; display: flex; flex-direction: column; gap: 6px; flex: none;
  > div { display: flex; flex-wrap: wrap; gap: 4px 12px; align-items: center; > span { flex: 1; min-width: 200px; font-size: 13px; } }
  button { min-height: 30px; padding: 3px 11px; }
`;
const Waiting = styled.ul`
  display: flex; flex-direction: column; max-height: 132px; ${scrolls} font-size: 13px;
  li { display: grid; grid-template-columns: minmax(120px, 190px) minmax(0, 1fr); gap: 12px; padding: 3px 0; }
  a { display: inline-flex; align-items: center; gap: 4px; font-weight: 600; overflow-wrap: anywhere; }
  span { color: var(--ink); }
`;
const Table = styled.table`
  width: 100%; border-collapse: collapse; font-size: 13px; table-layout: fixed;
  th, td { text-align: left; padding: 7px 12px; vertical-align: top; font-weight: 400; overflow-wrap: anywhere; }
  thead th { color: var(--soft); font-size: 12px; font-weight: 600; border-bottom: 1px solid var(--line); position: sticky; top: 0; background: var(--sheet); border-radius: 12px 12px 0 0; }
  thead th:nth-child(1) { width: 26%; } thead th:nth-child(2) { width: 30%; }
  tbody tr + tr { border-top: 1px solid var(--line); }
  tbody tr { content-visibility: auto; contain-intrinsic-size: auto 34px; }
  tbody th a { font-weight: 600; text-decoration: none; &[data-hovered] { text-decoration: underline; text-underline-offset: 3px; } }
  td[data-plain] { color: var(--soft); }
  td span { display: block; color: var(--soft); b { color: var(--ink); font-weight: 500; } }
  small { display: block; color: var(--look); font-size: 12px; }
`;
