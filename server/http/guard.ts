import type { RequestHandler } from 'express';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';

const LOOPBACK = new Set(['localhost', '127.0.0.1', '[::1]']);

/**
 * Only pages of this server may speak to it. A foreign page can make a browser call loopback, by
 * address or through a name that points there; it cannot forge Host or Origin.
 */
export function guard(devOrigin: string | undefined): RequestHandler {
  return (request, _response, next) => {
    const { host, origin } = request.headers;
    if (!host || !LOOPBACK.has(hostName(host))) throw new Refusal('not-allowed', 'This server only answers on this machine.');
    if (origin !== undefined && origin !== `http://${host}` && origin !== devOrigin) {
      throw new Refusal('not-allowed', 'Another page may not use this server.');
    }
    next();
  };
}

function hostName(host: string): string {
  return host.replace(/:\d+$/, '');
}
