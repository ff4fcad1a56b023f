import { access, readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { buildDemo } from '@pocket-twin/demo/buildDemo.ts';
import { EditRow } from '../edits/edit.ts';
import { copyIn } from '../clips/arrivals.ts';
import { ProjectRow } from './project.ts';

/**
 * Builds and loads the demo project, once: a person who removes it does not get it back.
 * @param onBuild told before it is made, which takes some seconds
 */
export async function loadDemo(
  context: Parameters<typeof copyIn>[0],
  home: string,
  onBuild: () => void,
): Promise<boolean> {
  const marker = join(home, 'demo-loaded');
  const loadedBefore = await access(marker).then(
    () => true,
    () => false,
  );
  if (loadedBefore || (await ProjectRow.count()) > 0) return false;
  onBuild();
  const folder = join(home, 'demo');
  const clips = await buildDemo(folder);
  const project = await ProjectRow.create({ name: 'The Last Crossing' });
  for (const { file } of clips) await copyIn(context, { projectId: project.id, path: join(folder, file), name: file });
  const name = 'the-last-crossing.otio';
  await EditRow.create({ projectId: project.id, name, text: await readFile(join(folder, name), 'utf8') });
  await rm(folder, { recursive: true });
  await writeFile(marker, '');
  return true;
}
