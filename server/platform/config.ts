import { delimiter, join, resolve } from 'node:path';
import * as z from 'zod';
import { startToken } from './home/startToken.ts';

const Environment = z.object({
  DATABASE_URL: z.string().min(1),
  PORT: z.coerce.number().int().min(0).max(65535).default(4820),
  POCKET_TWIN_HOME: z.string().default('.pocket-twin'),
  /** The largest file that can be brought in. */
  POCKET_TWIN_LARGEST_BYTES: z.coerce
    .number()
    .positive()
    .default(64 * 1024 ** 3),
  /** Folders whose files can be brought in where they lie, several with a colon between. */
  POCKET_TWIN_MEDIA: z.string().default(''),
  /** Folders that files may be handed off into, several with a colon between; one in the home where none is named. */
  POCKET_TWIN_HANDOFF: z.string().default(''),
  /** Another origin that may speak to the server: the reloading page in development. */
  POCKET_TWIN_DEV_ORIGIN: z.string().optional(),
  /** off: an empty start has no demo project. Else a folder in which `npm run demo` has made its clips before. */
  POCKET_TWIN_DEMO: z.string().default(''),
  /** off: whoever reaches the port is let in, for those who put something of their own before it. */
  POCKET_TWIN_TOKEN: z
    .enum(['off', 'on'])
    .or(z.literal('').transform(() => 'on' as const))
    .default('on'),
});

export interface Config {
  databaseUrl: string;
  port: number;
  home: string;
  largestBytes: number;
  mediaFolders: string[];
  handoffFolders: string[];
  devOrigin: string | undefined;
  /** null where there is to be none; a folder where it is made already. */
  demo: { folder: string | null } | null;
  /** What a browser must know to be let in; null where nobody is asked. */
  token: string | null;
}

export async function readConfig(environment: NodeJS.ProcessEnv = process.env): Promise<Config> {
  const values = Environment.parse(environment);
  const home = resolve(values.POCKET_TWIN_HOME);
  return {
    databaseUrl: values.DATABASE_URL,
    port: values.PORT,
    home,
    largestBytes: values.POCKET_TWIN_LARGEST_BYTES,
    mediaFolders: foldersIn(values.POCKET_TWIN_MEDIA),
    handoffFolders: values.POCKET_TWIN_HANDOFF === '' ? [join(home, 'handoff')] : foldersIn(values.POCKET_TWIN_HANDOFF),
    devOrigin: values.POCKET_TWIN_DEV_ORIGIN,
    demo:
      values.POCKET_TWIN_DEMO === 'off'
        ? null
        : { folder: values.POCKET_TWIN_DEMO ? resolve(values.POCKET_TWIN_DEMO) : null },
    token: values.POCKET_TWIN_TOKEN === 'off' ? null : await startToken(home),
  };
}

function foldersIn(list: string): string[] {
  return list
    .split(delimiter)
    .filter(Boolean)
    .map((folder) => resolve(folder));
}
