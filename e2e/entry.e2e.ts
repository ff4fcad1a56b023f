import { spawnSync } from 'node:child_process';
import { writeFile } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { Application, newProject } from './application.ts';

// The normal start: who has the address gets in, everybody else is told how, and pages from elsewhere get nothing.

let app: Application;
let elsewhere: Server;
const complaints: string[] = [];
beforeAll(async () => {
  app = await Application.start({ POCKET_TWIN_DEMO: 'off', POCKET_TWIN_TOKEN: '' });
  elsewhere = createServer((_request, response) => {
    response
      .setHeader('Content-Type', 'text/html')
      .end('<!doctype html><title>Elsewhere</title><p>A page of somebody else.</p>');
  });
  await new Promise<void>((resolve) => {
    elsewhere.listen(0, '127.0.0.1', resolve);
  });
}, 180_000);
afterAll(async () => {
  elsewhere?.close();
  await app?.stop();
});

const WAY_IN = 'Open Pocket Twin by the address that npm start prints; npx pocket-twin token prints it again.';
const printedAgain = (): [number | null, string] => {
  const { stdout, status } = spawnSync(
    process.execPath,
    [new URL('../cli/bin/pocket-twin.mjs', import.meta.url).pathname, 'token'],
    { encoding: 'utf8', env: { ...process.env, POCKET_TWIN_HOME: app.home } },
  );
  return [status, stdout.trim()];
};
const path = (): string => app.address.slice(app.origin.length);

test('the address that the start prints lets in, and leaves no token in the address bar; the terminal prints it again', async () => {
  expect(app.address).toMatch(/^http:\/\/localhost:\d+\/\?token=[\w-]{20,}$/);
  const page = await app.open(path(), complaints);
  await newProject(page, 'Let in');
  expect(page.url()).not.toContain('token');
  // The cookie is out of reach for scripts.
  expect(await page.evaluate(() => document.cookie)).toBe('');
  expect(printedAgain()).toEqual([0, app.address]);
  // Any address of the application works with it, as a link that somebody kept.
  await page.goto(`${page.url()}?token=${app.address.split('token=')[1]}`);
  await page.getByText('Drop your clips here.').waitFor();
  expect(complaints.splice(0)).toEqual([]);
  await page.context().close();
});

test.each(['/', '/?token=wrong', '/projects/00000000-0000-4000-8000-000000000000'])(
  '%s without the token says how to get in',
  async (to) => {
    const page = await app.open(to, complaints);
    await page.getByText(WAY_IN).waitFor();
    expect(await page.evaluate(async () => (await fetch('/api/projects')).status)).toBe(401);
    complaints.splice(0);
    await page.context().close();
  },
);

test('a page from elsewhere can read and change nothing, though its visitor is let in', async () => {
  const page = await app.open(path(), complaints);
  await page.getByText('New project').waitFor();
  await page.goto(`http://localhost:${(elsewhere.address() as AddressInfo).port}/`);
  const asked = await page.evaluate(async (origin) => {
    const tries = [
      () => fetch(`${origin}/api/projects`, { credentials: 'include' }),
      () =>
        fetch(`${origin}/api/projects`, {
          method: 'POST',
          credentials: 'include',
          mode: 'no-cors',
          headers: { 'Content-Type': 'text/plain' },
          body: '{"name":"Forced"}',
        }),
      () =>
        new Promise((resolve, reject) =>
          Object.assign(new Image(), {
            onload: resolve,
            onerror: () => reject(new Error('no image')),
            src: `${origin}/api/projects`,
          }),
        ),
    ];
    return Promise.all(
      tries.map((one) =>
        one().then(
          (answer) => (answer instanceof Response ? answer.type : 'loaded'),
          () => 'refused',
        ),
      ),
    );
  }, app.origin);
  expect(asked).toEqual(['refused', 'refused', 'refused']);
  await page.goto(app.origin);
  await page.getByText('New project').waitFor();
  expect(
    await page.evaluate(async () =>
      ((await (await fetch('/api/projects')).json()) as { name: string }[]).map(({ name }) => name),
    ),
  ).not.toContain('Forced');
  complaints.splice(0);
  await page.context().close();
});

test('after the token was changed an open page is led to where it says how to get in', async () => {
  const page = await app.open(path(), complaints);
  await page.getByText('New project').waitFor();
  await writeFile(join(app.home, 'start-token'), 'another-token-that-nobody-has');
  await app.kill('server');
  await page.getByText(WAY_IN).waitFor();
  expect(printedAgain()).toEqual([0, `${app.origin}/?token=another-token-that-nobody-has`]);
  complaints.splice(0);
  await page.context().close();
});
