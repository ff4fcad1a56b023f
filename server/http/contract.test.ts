import { CONTRACT } from '@pocket-twin/core/contract/contract.ts';
import type { Endpoint } from '@pocket-twin/core/contract/endpoint.ts';
import { Client } from '../test/client.ts';
import { startTestServer } from '../test/testServer.ts';
import { routers } from './app.ts';
import type { HttpContext } from './context.ts';

const ENDPOINTS: Endpoint[] = Object.values(CONTRACT);

let server: Awaited<ReturnType<typeof startTestServer>>;
let client: Client;
beforeAll(async () => {
  server = await startTestServer();
  client = new Client(server.origin);
});
afterAll(() => server.stop());

test('every endpoint of the contract is answered once, and nothing else is', () => {
  // Routers only take their context apart; nothing is asked of it here.
  const answered = routers({} as HttpContext, { open: () => undefined }).flatMap(({ stack }) =>
    stack.flatMap(({ route }) => (route ? route.stack.map(({ method }) => `${method} ${route.path}`) : [])),
  );
  expect(answered.sort()).toEqual(ENDPOINTS.map(({ method, path }) => `${method} ${path}`).sort());
});

test('the description for machines and the page to read name every endpoint', async () => {
  const described = (await client.call('GET', 'openapi.json')).body as {
    paths: Record<string, Record<string, unknown>>;
  };
  for (const { method, path } of ENDPOINTS)
    expect(described.paths[`/api${path.replace(/:(\w+)/g, '{$1}')}`]?.[method]).toBeDefined();
  expect(described.paths['/api/projects/{projectId}/suggestions'].post).toMatchObject({
    parameters: [{ name: 'projectId', in: 'path' }],
    responses: { 200: {}, default: {} },
  });
  const docs = await (await fetch(`${server.origin}/api/docs`)).text();
  for (const { method, path } of ENDPOINTS) expect(docs).toContain(`${method.toUpperCase()} /api${path}`);
});

test('what has a body is refused in a sentence where it is missing or wrong, never broken', async () => {
  const { id } = (await client.call('POST', 'projects', { name: 'A film' })).body as { id: string };
  const nobody = '00000000-0000-4000-8000-000000000000';
  for (const { method, path, body } of ENDPOINTS.filter((endpoint) => endpoint.body)) {
    const url = path.slice(1).replace(':projectId', id).replace(/:\w+/g, nobody);
    for (const wrong of [undefined, [], 'words', { clipIds: 'all', name: 7, repair: {}, suggestion: 1, to: 0 }]) {
      if (body!.safeParse(wrong ?? {}).success) continue;
      const { status, body: said } = await client.call(method.toUpperCase(), url, wrong);
      expect([method, path, status]).toEqual([method, path, 400]);
      expect((said as { title: string }).title).toMatch(/\S/);
    }
  }
});
