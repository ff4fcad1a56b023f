import { sep } from 'node:path';

/** Whether a path is a folder or lies in it; both as they really are. */
export function isInside(folder: string, path: string): boolean {
  return path === folder || path.startsWith(folder.endsWith(sep) ? folder : folder + sep);
}
