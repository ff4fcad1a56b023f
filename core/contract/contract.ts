import * as z from 'zod';
import { clips } from './clips.ts';
import { edits } from './edits.ts';
import { endpoint, type Endpoint } from './endpoint.ts';
import { handoffs } from './handoffs.ts';
import { history } from './history.ts';
import { keyChanges } from './keyChanges.ts';
import { lineup } from './lineup.ts';
import { mediaFolders } from './mediaFolders.ts';
import { projects } from './projects.ts';
import { joins } from './joins.ts';
import { recipes } from './recipes.ts';
import { repairs } from './repairs.ts';
import { setups } from './setups.ts';
import { writings } from './writings.ts';

const about = {
  health: endpoint({
    method: 'get',
    path: '/health',
    summary: 'Whether the server answers',
    answer: z.object({ ok: z.literal(true) }),
  }),
  events: endpoint({
    method: 'get',
    path: '/events',
    summary: 'What changes, as server-sent events',
    answer: 'text/event-stream',
  }),
  openApi: endpoint({
    method: 'get',
    path: '/openapi.json',
    summary: 'This description (OpenAPI 3.1)',
    answer: 'application/json',
  }),
  docs: endpoint({ method: 'get', path: '/docs', summary: 'This description, to read', answer: 'text/html' }),
};

/**
 * Everything under /api but uploads, which speak tus 1.0. The server's routes, the browser's questions, the OpenAPI page and the tests are made
 * from it.
 */
export const CONTRACT = {
  ...about,
  ...projects,
  ...lineup,
  ...clips,
  ...setups,
  ...repairs,
  ...recipes,
  ...joins,
  ...history,
  ...writings,
  ...edits,
  ...handoffs,
  ...mediaFolders,
  ...keyChanges,
} satisfies Record<string, Endpoint>;
