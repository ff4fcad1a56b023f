import { ServerEvent } from '@pocket-twin/core/contract/events.ts';
import type { Handoff, HandoffFile } from '@pocket-twin/core/schema/handoff.ts';
import { LineupEntry, type LineupRow } from '@pocket-twin/core/schema/lineup.ts';
import type { Writing } from '@pocket-twin/core/schema/writing.ts';
import { connectionIs } from './connectionSlice.ts';
import { progressed, progressEnded } from './progressSlice.ts';
import type { AppDispatch } from './store.ts';
import { api } from './api.ts';
import { clipNews } from './newsWhileAsking.ts';
import { rowsCame, rowsOutdated } from './rowsSlice.ts';
import { SpacedTasks } from './spacedTasks.ts';

// A server that is started again, or a reload, is no news.
const AWAY_AFTER_MS = 2500;
const AGAIN_CONNECTED_MS = 3000;
// Clips come by the dozen: setups and the counts of projects are asked again this often at most.
const AGAIN_AFTER_MS = { Lineup: 800, Project: 2500 };

/** Keeps the cache fresh from the server's events. After a lost connection everything is asked again. */
export function followServer(dispatch: AppDispatch): () => void {
  const tasks = new SpacedTasks();
  let lost = false;
  const timers: Partial<Record<'Project' | 'Lineup', ReturnType<typeof setTimeout>>> = {};
  const again = (...tags: ('Project' | 'Lineup')[]): void => {
    for (const tag of tags) {
      timers[tag] ??= setTimeout(() => {
        timers[tag] = undefined;
        dispatch(api.util.invalidateTags([tag]));
      }, AGAIN_AFTER_MS[tag]);
    }
  };
  const everythingAgain = (): void => {
    dispatch(api.util.invalidateTags(['Project', 'Lineup', 'Clip', 'Writing', 'Handoff']));
    dispatch(rowsOutdated());
  };
  let away: ReturnType<typeof setTimeout> | undefined;
  let source: EventSource;
  let later: ReturnType<typeof setTimeout> | undefined;
  const opened = (): void => {
    clearTimeout(away);
    away = undefined;
    dispatch(connectionIs('here'));
    // The first answers may be older than this connection, too.
    if (lost) everythingAgain();
    else dispatch(api.util.invalidateTags(['Project', 'Lineup']));
    lost = false;
  };
  const failed = (): void => {
    lost = true;
    away ??= setTimeout(() => dispatch(connectionIs('server-away')), AWAY_AFTER_MS);
    if (source.readyState !== EventSource.CLOSED) return;
    // Refused, the browser tries no more. Whoever asks for something else then learns why.
    dispatch(api.util.invalidateTags(['Project', 'Lineup']));
    later = setTimeout(connect, AGAIN_CONNECTED_MS);
  };
  const told = ({ data }: MessageEvent<string>): void => {
    const event = ServerEvent.safeParse(JSON.parse(data));
    if (!event.success) return;
    if (event.data.kind === 'database') {
      dispatch(connectionIs(event.data.state === 'away' ? 'database-away' : 'here'));
      if (event.data.state === 'back') everythingAgain();
      return;
    }
    // Noted before its turn comes: an answer may arrive between.
    if (event.data.kind === 'clips') clipNews.came(event.data.rows);
    if (event.data.kind === 'clip-removed') clipNews.went(event.data.id);
    tasks.add(
      ...acts(
        event.data,
        dispatch,
        () => again('Project'),
        () => again('Project', 'Lineup'),
      ),
    );
  };
  const connect = (): void => {
    source = new EventSource('/api/events');
    Object.assign(source, { onopen: opened, onerror: failed, onmessage: told });
  };
  connect();
  return () => {
    tasks.close();
    clearTimeout(away);
    clearTimeout(later);
    for (const timer of Object.values(timers)) clearTimeout(timer);
    source.close();
  };
}

/** What is to be done about a change, a task each. */
function acts(
  event: Exclude<ServerEvent, { kind: 'database' }>,
  dispatch: AppDispatch,
  projectsAgain: () => void,
  orderAgain: () => void,
): (() => void)[] {
  switch (event.kind) {
    case 'clips':
      return [...takeRows(event.rows, dispatch), projectsAgain];
    case 'clip-removed':
      return [
        () =>
          dispatch(
            api.util.updateQueryData('lineup', event.projectId, ({ entries }) => {
              delete entries[event.id];
            }),
          ),
        projectsAgain,
      ];
    case 'projects':
      return [projectsAgain];
    case 'lineup':
      return [() => dispatch(rowsOutdated()), orderAgain];
    case 'writing':
      return [() => takeWriting(event.writing, dispatch)];
    case 'handoffs':
      return [() => takeHandoffs(event, dispatch)];
    case 'progress':
      return [() => dispatch(progressed(event.jobs))];
  }
}

/** What comes together is taken together, into the rows and into the index: nothing is fetched for it. */
function takeRows(rows: LineupRow[], dispatch: AppDispatch): (() => void)[] {
  const projectIds = [...new Set(rows.map((row) => row.projectId))];
  return [
    () => dispatch(rowsCame({ rows })),
    ...projectIds.map((projectId) => () => {
      const mine = rows.filter((row) => row.projectId === projectId).map((row) => LineupEntry.parse(row));
      dispatch(
        api.util.updateQueryData('lineup', projectId, ({ entries }) => {
          for (const entry of mine) entries[entry.id] = entry;
        }),
      );
    }),
    () => {
      dispatch(api.util.invalidateTags(rows.map(({ id }) => ({ type: 'Clip' as const, id }))));
      dispatch(progressEnded(rows.filter(({ state }) => state === 'ready' || state === 'failed').map(({ id }) => id)));
    },
  ];
}

function takeWriting(writing: Writing, dispatch: AppDispatch): void {
  dispatch(
    api.util.updateQueryData('listWritings', writing.clipId, (writings) => {
      const at = writings.findIndex(({ id }) => id === writing.id);
      if (at >= 0) writings[at] = writing;
      else writings.unshift(writing);
    }),
  );
  // A list that is on its way may be older than this.
  dispatch(api.util.invalidateTags([{ type: 'Writing', id: writing.clipId }]));
  if (writing.state !== 'writing') dispatch(progressEnded([writing.id]));
}

/** What was heard of a handoff goes into the list and into the one that is looked at. */
function takeHandoffs(
  { handoffs, files }: { handoffs: Handoff[]; files: { handoffId: string; file: HandoffFile }[] },
  dispatch: AppDispatch,
): void {
  for (const handoff of handoffs) {
    dispatch(
      api.util.updateQueryData('listHandoffs', handoff.projectId, (list) => {
        const at = list.findIndex(({ id }) => id === handoff.id);
        if (at >= 0) list[at] = handoff;
        else list.unshift(handoff);
      }),
    );
    dispatch(
      api.util.updateQueryData('getHandoff', handoff.id, (detail) => {
        Object.assign(detail, handoff);
        for (const { file, handoffId } of files) {
          if (handoffId !== handoff.id) continue;
          const at = detail.list.findIndex(({ id }) => id === file.id);
          if (at >= 0) detail.list[at] = file;
        }
      }),
    );
  }
  dispatch(progressEnded(files.filter(({ file }) => file.state !== 'writing').map(({ file }) => file.id)));
}
