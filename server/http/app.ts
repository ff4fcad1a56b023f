import express, { Router, type Express } from 'express';
import { pinoHttp } from 'pino-http';
import { CONTRACT } from '@pocket-twin/core/contract/contract.ts';
import { SUBJECTS } from '../subjects.ts';
import { answer } from './answer.ts';
import type { HttpContext } from './context.ts';
import { entry } from './entry.ts';
import type { EventStream } from './events.ts';
import { guard } from './guard.ts';
import { page, securityHeaders } from './page.ts';
import { openApiRoutes } from './openApi.ts';
import { notFound, problems } from './problems.ts';
import { uploads } from '../clips/uploads.ts';

const LARGEST_BODY = '1mb';
// The timeline of a feature film.
const LARGEST_EDIT = '64mb';

/** Everything the server answers. */
export function createApp(context: HttpContext, events: EventStream): Express {
  const { config, log } = context;
  const app = express();
  app.disable('x-powered-by');
  app.use(
    pinoHttp({ logger: log, customLogLevel: (_request, response) => (response.statusCode >= 500 ? 'error' : 'debug') }),
  );
  app.use(securityHeaders());
  app.use(guard(config.devOrigin));
  app.use(entry(config.token));
  app.all('/api/uploads{/*path}', uploads(context));
  app.put('/api/projects/:projectId/edit', express.json({ limit: LARGEST_EDIT }));
  app.use('/api', express.json({ limit: LARGEST_BODY }));
  app.use('/api', (_request, response, next) => {
    response.set('Cache-Control', 'no-store');
    next();
  });
  for (const router of routers(context, events)) app.use('/api', router);
  app.use(page(log));
  app.use(notFound);
  app.use(problems(log));
  return app;
}

/** Every endpoint of the contract. */
export function routers(context: HttpContext, events: Pick<EventStream, 'open'>): Router[] {
  const own = Router();
  answer(own, CONTRACT.health, () => ({ ok: true as const }));
  answer(own, CONTRACT.events, (_question, { response }) => events.open(response));
  return [own, openApiRoutes(), ...Object.values(SUBJECTS).flatMap(({ routes }) => routes?.(context) ?? [])];
}
