import { delimiter, resolve } from 'node:path';
import * as z from 'zod';

const Environment = z.object({
  DATABASE_URL: z.string().min(1),
  PORT: z.coerce.number().int().min(0).max(65535).default(4820),
  POCKET_TWIN_HOME: z.string().default('.pocket-twin'),
  /** The largest file that can be brought in. */
  POCKET_TWIN_LARGEST_BYTES: z.coerce.number().positive().default(64 * 1024 ** 3),
  /** Folders whose files can be brought in where they lie, several with a colon between. */
  POCKET_TWIN_MEDIA: z.string().default(''),
  /** Another origin that may speak to the server: the reloading page in development. */
  POCKET_TWIN_DEV_ORIGIN: z.string().optional(),
});

export interface Config {
  databaseUrl: string;
  port: number;
  home: string;
  largestBytes: number;
  mediaFolders: string[];
  devOrigin: string | undefined;
}

export function readConfig(environment: NodeJS.ProcessEnv = process.env): Config {
  const values = Environment.parse(environment);
  return {
    databaseUrl: values.DATABASE_URL,
    port: values.PORT,
    home: resolve(values.POCKET_TWIN_HOME),
    largestBytes: values.POCKET_TWIN_LARGEST_BYTES,
    mediaFolders: values.POCKET_TWIN_MEDIA.split(delimiter).filter(Boolean).map((folder) => resolve(folder)),
    devOrigin: values.POCKET_TWIN_DEV_ORIGIN,
  };
}
