import { readFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { freePort } from './freePort.mjs';

test('a port is free, and none of those that connections are lent as they come and go', async () => {
  const [first] = readFileSync('/proc/sys/net/ipv4/ip_local_port_range', 'utf8').split(/\s+/).map(Number);
  const ports = await Promise.all(Array.from({ length: 20 }, freePort));
  expect(new Set(ports).size).toBeGreaterThan(1);
  for (const port of ports) {
    expect(port).toBeGreaterThan(1024);
    // Where all ports are lent, none is below.
    if (first > 20_000) expect(port).toBeLessThan(first);
    const server = createServer();
    await new Promise<void>((resolve, reject) => {
      server.once('error', reject);
      server.listen(port, '127.0.0.1', resolve);
    });
    await new Promise((resolve) => server.close(resolve));
  }
});
