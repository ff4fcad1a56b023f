import express, { type Express } from 'express';
import { pinoHttp } from 'pino-http';
import { clipRoutes } from './clipRoutes.ts';
import type { HttpContext } from './context.ts';
import { entry } from './entry.ts';
import type { EventStream } from './events.ts';
import { guard } from './guard.ts';
import { page, securityHeaders } from './page.ts';
import { mediaFolderRoutes } from './mediaFolderRoutes.ts';
import { openApiRoutes } from './openApi.ts';
import { notFound, problems } from './problems.ts';
import { projectRoutes } from './projectRoutes.ts';
import { uploads } from './uploads.ts';
import { writingRoutes } from './writingRoutes.ts';

const LARGEST_BODY = '1mb';

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
  app.use('/api', express.json({ limit: LARGEST_BODY }));
  app.use('/api', (_request, response, next) => {
    response.set('Cache-Control', 'no-store');
    next();
  });
  app.get('/api/health', (_request, response) => {
    response.json({ ok: true });
  });
  app.get('/api/events', events.open);
  app.use('/api', openApiRoutes());
  app.use('/api/media-folders', mediaFolderRoutes(context));
  app.use('/api/projects', projectRoutes(context));
  app.use('/api/clips', clipRoutes(context));
  app.use('/api/writings', writingRoutes(context));
  app.use(page(log));
  app.use(notFound);
  app.use(problems(log));
  return app;
}
