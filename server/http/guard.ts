import type { Request, RequestHandler } from 'express';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';

const LOOPBACK = new Set(['localhost', '127.0.0.1', '[::1]']);

/**
 * Only pages of this server may speak to it. A foreign page can make a browser call loopback, by
 * address or through a name that points there; it cannot forge Host, Origin or Sec-Fetch-Site.
 */
export function guard(devOrigin: string | undefined): RequestHandler {
  return (request, _response, next) => {
    const { host, origin } = request.headers;
    if (!host || !LOOPBACK.has(hostName(host)))
      throw new Refusal('not-allowed', 'This server only answers on this machine.');
    const isDev = origin !== undefined && origin === devOrigin;
    const isOwn = origin === undefined || origin === `http://${host}`;
    if (!isDev && (!isOwn || comesFromElsewhere(request)))
      throw new Refusal('not-allowed', 'Another page may not use this server.');
    next();
  };
}

/** By what the browser says of the page that asks (Fetch Metadata). A link to a page may be followed from anywhere: what it shows, the cookie decides. */
function comesFromElsewhere(request: Request): boolean {
  const site = request.header('Sec-Fetch-Site');
  if (site === undefined || site === 'same-origin' || site === 'none') return false;
  const isLink =
    request.method === 'GET' &&
    request.header('Sec-Fetch-Mode') === 'navigate' &&
    request.header('Sec-Fetch-Dest') === 'document' &&
    !request.path.startsWith('/api/');
  return !isLink;
}

function hostName(host: string): string {
  return host.replace(/:\d+$/, '');
}
