import { createHash, timingSafeEqual } from 'node:crypto';
import { parse, serialize } from 'cookie';
import type { Request, RequestHandler, Response } from 'express';
import type { Problem } from '@pocket-twin/core/schema/problem.ts';

const REMEMBERED_SECONDS = 180 * 24 * 3600;
const WAY_IN = 'Open Pocket Twin by the address that npm start prints; npx pocket-twin token prints it again.';

/**
 * Lets in who knows the start token: by the address that the start command prints, from then on by a cookie, or as `Authorization: Bearer`. Other users
 * of this machine reach the same port, and a page of theirs must not read or change anything.
 */
export function entry(token: string | null): RequestHandler {
  if (token === null) return (_request, _response, next) => next();
  const isRight = (given: string | undefined): boolean =>
    given !== undefined && timingSafeEqual(digest(given), digest(token));
  return (request, response, next) => {
    // Says nothing of anybody.
    if (request.path === '/api/health') return next();
    const given = request.query.token;
    if (typeof given === 'string' && request.method === 'GET' && !request.path.startsWith('/api/'))
      return isRight(given) ? welcome(request, response, token) : showWayIn(request, response);
    const bearer = /^Bearer (.+)$/.exec(request.header('Authorization') ?? '')?.[1];
    if (isRight(bearer) || isRight(parse(request.header('Cookie') ?? '')[cookieName(request)])) return next();
    showWayIn(request, response);
  };
}

/** Cookies know no ports: two servers on one machine must not put each other's guests out. */
function cookieName(request: Request): string {
  return `pocket-twin-${/:(\d+)$/.exec(request.header('Host') ?? '')?.[1] ?? '80'}`;
}

/** Keeps the token as a cookie and leads to the same address without it. A page does that, as a cookie of this strictness does not go along with a redirect from elsewhere. */
function welcome(request: Request, response: Response, token: string): void {
  const url = new URL(request.originalUrl, 'http://localhost');
  url.searchParams.delete('token');
  response.set(
    'Set-Cookie',
    serialize(cookieName(request), token, {
      httpOnly: true,
      sameSite: 'strict',
      path: '/',
      maxAge: REMEMBERED_SECONDS,
    }),
  );
  response.set('Referrer-Policy', 'no-referrer');
  sendPage(
    response,
    200,
    'One moment ...',
    `<meta http-equiv="refresh" content="0;url=${escaped(url.pathname + url.search)}">`,
  );
}

function showWayIn(request: Request, response: Response): void {
  if (!request.path.startsWith('/api/') && request.accepts(['html', 'json']) === 'html') {
    sendPage(response, 401, WAY_IN);
    return;
  }
  const problem: Problem = { type: 'about:blank', status: 401, title: WAY_IN, code: 'no-token' };
  response.status(401).set('Cache-Control', 'no-store').type('application/problem+json').send(JSON.stringify(problem));
}

const STYLE = `
  :root { color-scheme: light dark; --paper: #F5F2EB; --sheet: #FFFDF8; --line: #DDD6C8; --ink: #24222C; }
  @media (prefers-color-scheme: dark) { :root { --paper: #17161C; --sheet: #201E27; --line: #37343F; --ink: #F1EEE6; } }
  body { margin: 0; min-height: 100vh; display: grid; place-items: center; background: var(--paper); color: var(--ink); font: 17px/1.6 system-ui, sans-serif; }
  main { margin: 1em; padding: 1.4em 2em 1.6em; max-width: 32em; background: var(--sheet); border: 1px solid var(--line); border-radius: 12px; }
  h1 { margin: 0 0 0.4em; font-size: 1.5em; } p { margin: 0; }
  code { white-space: nowrap; padding: 0.1em 0.35em; border: 1px solid var(--line); border-radius: 5px; font-size: 0.92em; }`;

/** A page of its own, as nothing of the interface is served to whom nobody knows. Commands in the sentence are set as such. */
function sendPage(response: Response, status: number, sentence: string, head = ''): void {
  const nonce = response.locals.nonce as string;
  const html = sentence.replace(/npm start|npx pocket-twin token/g, '<code>$&</code>');
  response.status(status).set('Cache-Control', 'no-store').type('html').send(`<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>Pocket Twin</title>${head}
<style nonce="${nonce}">${STYLE}</style></head>
<body><main><h1>Pocket Twin</h1><p>${html}</p></main></body></html>`);
}

function escaped(text: string): string {
  return text.replace(/[&"<>]/g, (letter) => `&#${letter.charCodeAt(0)};`);
}

/** Of one length, whatever is given. */
function digest(text: string): Buffer {
  return createHash('sha256').update(text).digest();
}
