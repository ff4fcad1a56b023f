import { NO_KEY_CHANGES, type KeyChanges } from '@pocket-twin/core/schema/keyChanges.ts';
import { Client } from '../test/client.ts';
import { startTestServer } from '../test/testServer.ts';

let server: Awaited<ReturnType<typeof startTestServer>>;
let client: Client;
beforeAll(async () => {
  server = await startTestServer();
  client = new Client(server.origin);
});
afterAll(() => server.stop());

test('keys are as they came, are changed, and go back', async () => {
  const path = 'key-changes';
  expect((await client.call('GET', path)).body).toEqual(NO_KEY_CHANGES);
  const changes: KeyChanges = { lineup: { undo: 'x' }, handoff: {}, bench: { 'hear-left': 'Shift l', write: 'ü' } };
  expect(await client.call('PUT', path, changes)).toMatchObject({ status: 200, body: changes });
  expect((await client.call('GET', path)).body).toEqual(changes);
  expect((await client.call('PUT', path, NO_KEY_CHANGES)).status).toBe(200);
  expect((await client.call('GET', path)).body).toEqual(NO_KEY_CHANGES);
});

test.each([
  ['one key for two things', { write: 'x', undo: 'x' }, 'One key can’t do two things'],
  ['a key of the browser', { write: 'F5' }, 'A key is one sign'],
  ['no key', { write: '' }, 'A key is one sign'],
])('%s is refused and changes nothing', async (_what, bench, words) => {
  const { status, body } = await client.call('PUT', 'key-changes', { lineup: {}, bench });
  expect(status).toBe(400);
  expect(JSON.stringify(body)).toContain(words);
  expect((await client.call('GET', 'key-changes')).body).toEqual(NO_KEY_CHANGES);
});
