import { randomInt } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { createServer } from 'node:net';

// Linux's own, where it does not say.
const FIRST_PASSING = 32_768;
const CHOICE = 12_000;
const TRIES = 50;

/**
 * A port that nothing listens on, below those that the system lends to connections as they come and go: what is started again after a while finds it still
 * free, and nobody who tries to reach it meanwhile is lent that very port and reaches himself.
 */
export async function freePort() {
  const first = firstPassing();
  for (let tries = 0; tries < TRIES; tries++) {
    const port = randomInt(first - CHOICE, first);
    if (await isFree(port)) return port;
  }
  throw new Error(`No port from ${first - CHOICE} to ${first - 1} is free.`);
}

function firstPassing() {
  try {
    const first = parseInt(readFileSync('/proc/sys/net/ipv4/ip_local_port_range', 'utf8'), 10);
    return first > CHOICE + 1024 ? first : FIRST_PASSING;
  } catch {
    return FIRST_PASSING;
  }
}

/** @param {number} port @returns {Promise<boolean>} */
function isFree(port) {
  return new Promise((found) => {
    const server = createServer();
    server.once('error', () => found(false));
    server.listen(port, '127.0.0.1', () => server.close(() => found(true)));
  });
}
