import { request } from 'node:http';
import { startTestServer } from '../test/testServer.ts';

// Who is let in, by what a browser or anybody else on this machine sends.

const TOKEN = 'a-token-that-only-the-owner-of-the-home-can-read';
let server: Awaited<ReturnType<typeof startTestServer>>;
beforeAll(async () => {
  server = await startTestServer({ token: TOKEN });
});
afterAll(() => server.stop());

function ask(
  path: string,
  headers: Record<string, string> = {},
  method = 'GET',
): Promise<{ status: number; body: string; cookie: string }> {
  return new Promise((resolve, reject) => {
    const asking = request(
      { host: '127.0.0.1', port: server.port, path, method, headers: { Host: `localhost:${server.port}`, ...headers } },
      (answer) => {
        let body = '';
        answer.on('data', (bytes: Buffer) => {
          body += bytes.toString();
        });
        answer.on('end', () =>
          resolve({ status: answer.statusCode!, body, cookie: answer.headers['set-cookie']?.[0] ?? '' }),
        );
      },
    );
    asking.on('error', reject);
    asking.end();
  });
}

const cookie = (token = TOKEN): Record<string, string> => ({ Cookie: `other=1; pocket-twin-${server.port}=${token}` });
const bearer = (token = TOKEN): Record<string, string> => ({ Authorization: `Bearer ${token}` });
const FROM_ELSEWHERE = { 'Sec-Fetch-Site': 'cross-site', 'Sec-Fetch-Mode': 'cors', 'Sec-Fetch-Dest': 'empty' };
const LINK = {
  'Sec-Fetch-Site': 'cross-site',
  'Sec-Fetch-Mode': 'navigate',
  'Sec-Fetch-Dest': 'document',
  Accept: 'text/html',
};

test('the cookie and the token of a program let in, nothing and wrong ones do not', async () => {
  expect(await ask('/api/projects', cookie())).toMatchObject({ status: 200, body: '[]' });
  expect(await ask('/api/projects', bearer())).toMatchObject({ status: 200, body: '[]' });
  for (const headers of [
    {},
    cookie('wrong'),
    bearer('wrong'),
    bearer(''),
    { Cookie: `pocket-twin-${server.port + 1}=${TOKEN}` },
  ]) {
    const { status, body } = await ask('/api/projects', headers as Record<string, string>);
    expect(status).toBe(401);
    expect(JSON.parse(body)).toMatchObject({
      code: 'no-token',
      title: 'Open Pocket Twin by the address that npm start prints; npx pocket-twin token prints it again.',
    });
  }
  // Whether it lives tells nobody anything.
  expect(await ask('/api/health')).toMatchObject({ status: 200 });
});

test.each([
  '/api/projects',
  '/api/events',
  '/api/uploads',
  '/api/openapi.json',
  '/',
  '/assets/anything.js',
  '/projects/1',
])('%s tells nothing without the token', async (path) => {
  const { status, body } = await ask(path);
  expect([status, body.includes('<script')]).toEqual([401, false]);
});

test('the address lets in once and for all: by a cookie that no script and no other site gets, and without the token in the address', async () => {
  const page = await ask(`/projects/7?a=1&token=${TOKEN}`, { Accept: 'text/html' });
  expect([page.status, page.cookie]).toEqual([
    200,
    expect.stringMatching(
      new RegExp(`^pocket-twin-${server.port}=${TOKEN}; Max-Age=\\d+; Path=/; HttpOnly; SameSite=Strict$`),
    ),
  ]);
  expect(page.body).toContain('content="0;url=/projects/7?a=1"');
  expect(await ask('/?token=wrong', { Accept: 'text/html' })).toMatchObject({ status: 401, cookie: '' });
  // Where something is asked, an address is no place for it.
  expect((await ask(`/api/projects?token=${TOKEN}`)).status).toBe(401);
});

test('a page from elsewhere is refused with every token; a link to a page may be followed from anywhere', async () => {
  for (const site of ['cross-site', 'same-site'])
    expect((await ask('/api/projects', { ...cookie(), ...FROM_ELSEWHERE, 'Sec-Fetch-Site': site })).status).toBe(403);
  for (const site of ['same-origin', 'none'])
    expect((await ask('/api/projects', { ...cookie(), ...FROM_ELSEWHERE, 'Sec-Fetch-Site': site })).status).toBe(200);
  expect((await ask('/api/projects', { ...cookie(), ...LINK })).status).toBe(403);
  expect((await ask('/', { ...LINK, 'Sec-Fetch-Dest': 'iframe' })).status).toBe(403);
  expect((await ask('/', LINK)).status).toBe(401);
  expect((await ask(`/?token=${TOKEN}`, LINK)).status).toBe(200);
  expect((await ask('/api/projects', { ...cookie(), Host: 'evil.example' })).status).toBe(403);
  expect((await ask('/api/projects', { ...cookie(), Origin: 'http://evil.example' }, 'POST')).status).toBe(403);
});
