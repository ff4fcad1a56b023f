import { useEffect, useMemo, useRef, useState } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { skipToken } from '@reduxjs/toolkit/query/react';
import styled from 'styled-components';
import { orderSentence } from '@pocket-twin/core/handoff/orderSentence.ts';
import type { Project } from '@pocket-twin/core/schema/project.ts';
import { HandoffWanted } from '@pocket-twin/core/schema/handoff.ts';
import { inBackground } from '../../parts/inBackground.ts';
import { useLater } from '../../parts/useLater.ts';
import { sentenceOf, useForecastHandoffQuery, useHandOffMutation, useLineupQuery } from '../../state/api.ts';
import { useAppSelector } from '../../state/store.ts';
import { Notice } from '../../parts/Notice.tsx';
import { Soft } from '../../parts/Screen.tsx';
import { Columns, Left } from './columns.ts';
import { ForecastList } from './ForecastList.tsx';
import { OrderPanel } from './OrderPanel.tsx';
import { ALL, CHOSEN, type Which } from './which.ts';

const NONE: string[] = [];
// What is typed is asked for when the hand rests.
const TYPED_MS = 250;
const DECIDED_MS = 500;

interface NewHandoffProps {
  project: Project;
  /** Told what the main button does. */
  onMain: (main: { run: (() => void) | null }) => void;
}

/** A handoff in preparation: left what each clip becomes, right where, names and format. Nothing is written before it is asked for. */
export function NewHandoff({ project, onMain }: NewHandoffProps) {
  const navigate = useNavigate();
  const state = useLocation().state as { which?: Which } | null;
  const projectId = project.id;
  const { data: lineup } = useLineupQuery(projectId);
  const chosen = useAppSelector((all) => all.lineup.chosen[projectId] ?? NONE);
  const [which, setWhich] = useState<Which>(state?.which === CHOSEN && chosen.length > 0 ? CHOSEN : ALL);
  const [order, setOrder] = useState<Omit<HandoffWanted, 'clipIds'>>(() => ({
    ...HandoffWanted.parse({ name: `${project.name} for the edit`, place: { kind: 'folder', root: 0 } }),
  }));
  const clipIds = useMemo(() => {
    if (which === ALL) return null;
    if (which === CHOSEN) return chosen;
    return Object.values(lineup?.entries ?? {})
      .filter(({ setupId }) => setupId === which)
      .map(({ id }) => id);
  }, [chosen, lineup, which]);
  const hasEdit = (lineup?.edit ?? null) !== null;
  const wanted = useMemo(
    (): HandoffWanted => ({
      ...order,
      clipIds,
      withEdit: order.withEdit && hasEdit,
      handlesSeconds: hasEdit ? order.handlesSeconds : null,
    }),
    [clipIds, hasEdit, order],
  );
  const asked = useLater(wanted, TYPED_MS);
  const checked = HandoffWanted.safeParse(asked);
  const {
    data: forecast,
    error,
    isFetching,
    refetch,
  } = useForecastHandoffQuery(lineup && checked.success ? { projectId, ...checked.data } : skipToken);
  // What is decided elsewhere, and what comes in, changes what would be handed off.
  const stands = useLater(
    Object.values(lineup?.entries ?? {})
      .map(({ standing, kept }) => `${standing}${kept}`)
      .join(),
    DECIDED_MS,
  );
  const seen = useRef(stands);
  useEffect(() => {
    if (seen.current !== stands && forecast) inBackground(refetch());
    seen.current = stands;
  }, [forecast, refetch, stands]);
  const [handOff, { isLoading, error: beginError }] = useHandOffMutation();
  const complaint = checked.success
    ? error === undefined
      ? null
      : sentenceOf(error)
    : checked.error.issues[0].message;
  const canBegin =
    forecast !== undefined && forecast.problem === null && complaint === null && !isLoading && asked === wanted;
  const begin = useMemo(
    () =>
      canBegin
        ? () =>
            inBackground(
              handOff({ projectId, ...wanted })
                .unwrap()
                .then(
                  ({ id }) => navigate(`/projects/${projectId}/handoff/${id}`),
                  () => undefined,
                ),
            )
        : null,
    [canBegin, handOff, navigate, projectId, wanted],
  );
  useEffect(() => onMain({ run: begin }), [begin, onMain]);
  const trouble = complaint ?? (beginError === undefined ? null : sentenceOf(beginError)) ?? forecast?.problem ?? null;
  return (
    <>
      <Head>
        <h1 tabIndex={-1}>{forecast ? orderSentence(forecast, asked) : 'Preparing a handoff ...'}</h1>
        {trouble !== null && <Notice tone="fix">{trouble}</Notice>}
      </Head>
      <Columns aria-busy={isFetching}>
        <Left>
          {forecast ? (
            <ForecastList projectId={projectId} forecast={forecast} />
          ) : (
            trouble === null && <Soft role="status">Looking at the clips ...</Soft>
          )}
        </Left>
        <OrderPanel
          projectId={projectId}
          order={order}
          setOrder={setOrder}
          which={which}
          setWhich={setWhich}
          chosen={chosen.length}
          forecast={forecast}
          begin={begin}
          isBusy={isLoading}
        />
      </Columns>
    </>
  );
}

const Head = styled.header`display: flex; flex-direction: column; gap: 10px; flex: none; h1 { font-size: 24px; outline: none; }`;
