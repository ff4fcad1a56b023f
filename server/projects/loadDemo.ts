import { access, readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { buildApart } from '@pocket-twin/demo/buildApart.ts';
import { readTruth, type ClipTruth } from '@pocket-twin/demo/truth.ts';
import { EditRow } from '../edits/edit.ts';
import { copyIn } from '../clips/arrivals.ts';
import { ProjectRow } from './project.ts';

/**
 * Loads the demo project, once: a person who removes it does not get it back.
 * @param made where its clips are already; else they are made
 * @param onBuild told before it is made, which takes some seconds
 */
export async function loadDemo(
  context: Parameters<typeof copyIn>[0],
  home: string,
  made: string | null,
  onBuild: () => void,
): Promise<boolean> {
  const marker = join(home, 'demo-loaded');
  const loadedBefore = await access(marker).then(
    () => true,
    () => false,
  );
  if (loadedBefore || (await ProjectRow.count()) > 0) return false;
  const folder = made ?? join(home, 'demo');
  if (!made) onBuild();
  const clips = made ? await clipsIn(made) : await buildApart(folder);
  const project = await ProjectRow.create({ name: 'The Last Crossing' });
  for (const { file } of clips) await copyIn(context, { projectId: project.id, path: join(folder, file), name: file });
  const name = 'the-last-crossing.otio';
  await EditRow.create({ projectId: project.id, name, text: await readFile(join(folder, name), 'utf8') });
  if (!made) await rm(folder, { recursive: true });
  await writeFile(marker, '');
  return true;
}

async function clipsIn(folder: string): Promise<ClipTruth[]> {
  return readTruth(folder).catch(() => {
    throw new Error(
      `${folder} holds no demo. Fill it with: npm run demo -- ${folder}, or leave POCKET_TWIN_DEMO out and it is made`,
    );
  });
}
