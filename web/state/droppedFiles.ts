import { isDirectoryDropItem, isFileDropItem, type DropItem } from 'react-aria-components';
import { looksLikeRecording } from '@pocket-twin/core/schema/mediaNames.ts';
import type { Incoming } from './uploadManager.ts';

/** All files among what was dropped; of folders, those inside them that look like recordings. */
export async function droppedFiles(items: Iterable<DropItem>, folder = ''): Promise<Incoming[]> {
  const found: Incoming[] = [];
  for (const item of items) {
    if (isFileDropItem(item)) {
      if (folder === '' || looksLikeRecording(item.name)) found.push({ file: await item.getFile(), folder });
    } else if (isDirectoryDropItem(item)) {
      const inside: DropItem[] = [];
      for await (const entry of item.getEntries()) inside.push(entry);
      found.push(...(await droppedFiles(inside, folder ? `${folder}/${item.name}` : item.name)));
    }
  }
  return found;
}

/** Files from a file chooser; a whole folder brings the recordings in it, with the folder each was in. */
export function chosenFiles(files: Iterable<File>): Incoming[] {
  return [...files].flatMap((file) => {
    const folder = file.webkitRelativePath.split('/').slice(0, -1).join('/');
    return folder !== '' && !looksLikeRecording(file.name) ? [] : [{ file, folder }];
  });
}
