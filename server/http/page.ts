import { randomBytes } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import express, { Router, type RequestHandler } from 'express';
import helmet from 'helmet';
import type { Logger } from '../platform/log.ts';

// By name, as this may be part of a built program that lies elsewhere.
const BUILT = join(dirname(createRequire(import.meta.url).resolve('@pocket-twin/web/package.json')), 'dist');
/** Put into the built page by Vite (`html.cspNonce`); every answer replaces it with a fresh nonce. */
const NONCE_PLACEHOLDER = 'nonce-goes-here';

/** Strict headers for every answer. Scripts and styles only from here; WebAssembly kernels may run. */
export function securityHeaders(): RequestHandler {
  const withNonce: RequestHandler = (_request, response, next) => {
    response.locals.nonce = randomBytes(16).toString('base64');
    next();
  };
  const headers = helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'none'"],
        scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
        styleSrc: [
          "'self'",
          (_request, response) => `'nonce-${(response as unknown as { locals: { nonce: string } }).locals.nonce}'`,
        ],
        fontSrc: ["'self'"],
        imgSrc: ["'self'", 'data:'],
        connectSrc: ["'self'"],
        workerSrc: ["'self'"],
        baseUri: ["'none'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
      },
    },
    crossOriginEmbedderPolicy: { policy: 'require-corp' },
    crossOriginOpenerPolicy: { policy: 'same-origin' },
    strictTransportSecurity: false,
  });
  return (request, response, next) =>
    withNonce(request, response, (error) => (error ? next(error) : headers(request, response, next)));
}

/** The built interface: files as they are, and the page itself at every other address. */
export function page(log: Logger): Router {
  const routes = Router();
  routes.use(express.static(BUILT, { index: false, immutable: true, maxAge: '1y' }));
  routes.get('/{*path}', async (request, response, next) => {
    if (request.path.startsWith('/api/') || request.path.startsWith('/assets/')) return next();
    try {
      const html = await readFile(join(BUILT, 'index.html'), 'utf8');
      response
        .type('html')
        .set('Cache-Control', 'no-store')
        .send(html.replaceAll(NONCE_PLACEHOLDER, response.locals.nonce as string));
    } catch {
      log.error('The interface is not built: run npm run build');
      response.status(503).type('text').send('The interface is not built yet. Run: npm start');
    }
  });
  return routes;
}
