import * as z from 'zod';
import { CONTRACT } from './contract.ts';
import { addressOf, endpoint, type Endpoint } from './endpoint.ts';

test('what the path names goes there, the rest into the body, or into the query where there is none', () => {
  expect(addressOf(CONTRACT.getClip, 'a b/c')).toEqual({ url: '/clips/a%20b%2Fc', method: 'GET', params: {} });
  expect(addressOf(CONTRACT.samples, { clipId: 'x', start: 0, frames: 9 })).toEqual({
    url: '/clips/x/samples',
    method: 'GET',
    params: { start: 0, frames: 9 },
  });
  expect(addressOf(CONTRACT.changeSetup, { projectId: 'p', setupId: 's', name: 'Deck' })).toEqual({
    url: '/projects/p/setups/s',
    method: 'PATCH',
    body: { name: 'Deck' },
  });
  expect(addressOf(CONTRACT.listProjects, undefined)).toMatchObject({ url: '/projects', method: 'GET' });
  const twice = endpoint({ method: 'put', path: '/a/:id/b/:id2', summary: '', body: z.object({ id3: z.string() }) });
  const asked = { id: '1', id2: '2', id3: '3' };
  expect(addressOf(twice, asked)).toEqual({ url: '/a/1/b/2', method: 'PUT', body: { id3: '3' } });
  // Whoever asks keeps what was asked.
  expect(asked).toEqual({ id: '1', id2: '2', id3: '3' });
});

test('no two endpoints have one address, and each says what it does', () => {
  const endpoints: Endpoint[] = Object.values(CONTRACT);
  const addresses = endpoints.map(({ method, path }) => `${method} ${path.replace(/:\w+/g, ':')}`);
  expect(new Set(addresses).size).toBe(addresses.length);
  for (const { summary, answer, status } of endpoints) {
    expect(summary).toMatch(/^[A-Z].*[^.]$/);
    // Nothing to say has its own status, and only that.
    expect(answer === undefined).toBe(status === 204);
  }
});
