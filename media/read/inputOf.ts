import { basename } from 'node:path';
import type { CodedInput } from '../ffmpeg/coded.ts';
import { identifyContainer } from './container.ts';
import { FileSource } from './fileSource.ts';

/** How FFmpeg is to open it. */
export async function inputOf(path: string): Promise<CodedInput> {
  const file = await FileSource.open(path);
  try {
    const { demuxer } = await identifyContainer(file, basename(path));
    return { path, demuxer: demuxer ?? 'wav' };
  } finally {
    await file.close();
  }
}
