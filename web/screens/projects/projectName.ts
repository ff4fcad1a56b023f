import { format } from 'date-fns';
import { NewProject } from '@pocket-twin/core/schema/project.ts';

/** A project's name from what came for it: the folder that all of it was in, else the day. */
export function nameFor(incoming: readonly { folder: string }[], now = new Date()): string {
  const folders = new Set(incoming.map(({ folder }) => folder.split('/')[0]));
  const [folder] = folders;
  const name = folders.size === 1 && folder !== '' ? folder : `Clips of ${format(now, 'd MMMM')}`;
  return NewProject.shape.name.safeParse(name).success ? name : name.slice(0, 120);
}
