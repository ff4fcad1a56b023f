import { basename, extname } from 'node:path';

/** What the outputs of each input are called, without suffix and ending: the input's own name; several of one name are numbered in the order given. */
export function stemsFor(files: readonly string[]): string[] {
  const used = new Set<string>();
  return files.map((file) => {
    const stem = basename(file, extname(file));
    let name = stem;
    // Told apart whatever file system they go to: some make no difference between upper and lower case.
    for (let n = 2; used.has(name.toLowerCase()); n++) name = `${stem} (${n})`;
    used.add(name.toLowerCase());
    return name;
  });
}
