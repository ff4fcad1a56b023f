import { ServerEvent } from '@pocket-twin/core/schema/changes.ts';
import type { LineupRow } from '@pocket-twin/core/schema/lineup.ts';
import type { Writing } from '@pocket-twin/core/schema/writing.ts';
import { progressed, progressEnded } from '../app/progressSlice.ts';
import type { AppDispatch } from '../app/store.ts';
import { api } from './api.ts';
import { rowsCame, rowsOutdated } from './rowsSlice.ts';

// Clips come by the dozen: the order of the lineup is asked again once they pause, or this often while they don't.
const ORDER_EVERY_MS = 800;

/** Keeps the cache fresh from the server's events. After a lost connection everything is asked again. */
export function followServer(dispatch: AppDispatch): () => void {
  const source = new EventSource('/api/events');
  let lost = false;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const orderAgain = (): void => {
    timer ??= setTimeout(() => {
      timer = undefined;
      dispatch(api.util.invalidateTags(['Project', 'Lineup']));
    }, ORDER_EVERY_MS);
  };
  source.onopen = () => {
    // The first answers may be older than this connection, too.
    dispatch(api.util.invalidateTags(lost ? ['Project', 'Lineup', 'Clip', 'Writing'] : ['Project', 'Lineup']));
    if (lost) dispatch(rowsOutdated());
    lost = false;
  };
  source.onerror = () => { lost = true; };
  source.onmessage = ({ data }: MessageEvent<string>) => {
    const event = ServerEvent.safeParse(JSON.parse(data));
    if (event.success) take(event.data, dispatch, orderAgain);
  };
  return () => {
    clearTimeout(timer);
    source.close();
  };
}

function take(event: ServerEvent, dispatch: AppDispatch, orderAgain: () => void): void {
  switch (event.kind) {
    case 'clip':
      takeRow(event.row, dispatch);
      return orderAgain();
    case 'clip-removed': return orderAgain();
    case 'lineup':
      dispatch(rowsOutdated());
      return orderAgain();
    case 'writing': return takeWriting(event.writing, dispatch);
    case 'progress': dispatch(progressed(event));
  }
}

function takeRow(row: LineupRow, dispatch: AppDispatch): void {
  dispatch(rowsCame({ rows: [row] }));
  dispatch(api.util.invalidateTags([{ type: 'Clip', id: row.id }]));
  if (row.state === 'ready' || row.state === 'failed') dispatch(progressEnded(row.id));
}

function takeWriting(writing: Writing, dispatch: AppDispatch): void {
  dispatch(api.util.updateQueryData('listWritings', writing.clipId, (writings) => {
    const at = writings.findIndex(({ id }) => id === writing.id);
    if (at >= 0) writings[at] = writing;
    else writings.unshift(writing);
  }));
  if (writing.state !== 'writing') dispatch(progressEnded(writing.id));
}
