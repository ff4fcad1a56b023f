import { basename } from 'node:path';
import { readWav } from '@pocket-twin/core/riff/readWav.ts';
import { codedSource } from './codedSource.ts';
import { identifyContainer } from './container.ts';
import { diskTrouble } from '../disk/diskTrouble.ts';
import { FileSource } from './fileSource.ts';
import type { Source } from './source.ts';
import { wavSource } from './wavSource.ts';

/** @throws Refusal naming the file when there is nothing in it that can be read */
export async function openSource(path: string, spillBeside?: string): Promise<Source> {
  const file = await FileSource.open(path);
  const name = basename(path);
  try {
    return await openIdentified(path, name, file, spillBeside);
  } catch (error) {
    await file.close().catch(() => undefined);
    throw diskTrouble(error, name) ?? error;
  }
}

async function openIdentified(
  path: string,
  name: string,
  file: FileSource,
  spillBeside: string | undefined,
): Promise<Source> {
  const container = await identifyContainer(file, name);
  if (container.demuxer === null) return wavSource(path, file, await readWav(file, name));
  await file.close();
  return codedSource(path, container.name, { path, demuxer: container.demuxer }, spillBeside);
}
