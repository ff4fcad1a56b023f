import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
import pg from 'pg';
import { scratchFolder } from '@pocket-twin/media/test/files.ts';
import { SUBJECTS } from '../subjects.ts';
import { createLog } from '../platform/log.ts';
import { startServer, type RunningServer } from '../startServer.ts';

export const LARGEST_BYTES = 1e9;

interface TestSettings {
  mediaFolders?: string[];
  handoffFolders?: string[];
  token?: string | null;
  /** On a disk of the test's own, for instance. */
  home?: string;
}

/** A server with a worker's jobs, on a database of its own in the PostgreSQL that `npm test` runs. */
export async function startTestServer({
  mediaFolders = [],
  handoffFolders,
  token = null,
  home,
}: TestSettings = {}): Promise<RunningServer & { origin: string; databaseUrl: string }> {
  const admin = process.env.TEST_DATABASE_URL;
  if (!admin) throw new Error('TEST_DATABASE_URL is not set: run npm test.');
  const name = `test_${randomBytes(6).toString('hex')}`;
  const client = new pg.Client({ connectionString: admin });
  await client.connect();
  await client.query(`create database ${name}`);
  await client.end();
  const url = new URL(admin);
  url.pathname = `/${name}`;
  const homeFolder = home ?? (await scratchFolder());
  const config = {
    databaseUrl: url.href,
    port: 0,
    home: homeFolder,
    largestBytes: LARGEST_BYTES,
    mediaFolders,
    handoffFolders: handoffFolders ?? [join(homeFolder, 'handoff')],
    devOrigin: undefined,
    demo: null,
    token,
  };
  const server = await startServer(config, createLog('test'));
  for (const { work } of Object.values(SUBJECTS)) work?.(server);
  await server.queue.startWork();
  return { ...server, origin: `http://127.0.0.1:${server.port}`, databaseUrl: url.href };
}
