import { Refusal } from '../schema/refusal.ts';

/** A file of a handoff, by its path within the folder with forward slashes. */
export interface ManifestEntry {
  path: string;
  bytes: number;
  modifiedAt: string;
  sha256: string;
  xxh128: string;
}

export const SHA256_MANIFEST = 'manifest.sha256';
export const MHL_MANIFEST = 'manifest.mhl';

/** As `sha256sum -c` reads it: two spaces, binary or not; names with a backslash or a line's end are escaped and marked by a backslash in front. */
export function sha256Text(entries: readonly Pick<ManifestEntry, 'path' | 'sha256'>[]): string {
  return entries
    .map(({ path, sha256 }) => {
      const escaped = path.replace(/\\/g, '\\\\').replace(/\n/g, '\\n').replace(/\r/g, '\\r');
      return `${escaped === path ? '' : '\\'}${sha256}  ${escaped}\n`;
    })
    .join('');
}

/** @throws Refusal where a line is none */
export function readSha256(text: string): Pick<ManifestEntry, 'path' | 'sha256'>[] {
  return text
    .split('\n')
    .filter((line) => line.trim() !== '')
    .map((line) => {
      const match = /^(\\?)([0-9a-f]{64}) [ *](.+)$/i.exec(line);
      if (!match)
        throw new Refusal('damaged', `${SHA256_MANIFEST} has a line that is no checksum: “${line.slice(0, 60)}”.`);
      const path = match[1]
        ? match[3].replace(/\\([\\nr])/g, (_, sign: string) => (sign === 'n' ? '\n' : sign === 'r' ? '\r' : '\\'))
        : match[3];
      return { path, sha256: match[2].toLowerCase() };
    });
}

/** A hash list after ASC MHL version 2.0, for tools of the set that check by it. */
export function mhlText(
  entries: readonly ManifestEntry[],
  { createdAt, host, version }: { createdAt: string; host: string; version: string },
): string {
  const hashes = entries.map(
    ({ path, bytes, modifiedAt, xxh128 }) => `    <hash>
      <path size="${bytes}" lastmodificationdate="${modifiedAt}">${xml(path)}</path>
      <xxh128 action="original" hashdate="${createdAt}">${xxh128}</xxh128>
    </hash>
`,
  );
  return `<?xml version="1.0" encoding="UTF-8"?>
<hashlist version="2.0" xmlns="urn:ASC:MHL:v2.0">
  <creatorinfo>
    <creationdate>${createdAt}</creationdate>
    <hostname>${xml(host)}</hostname>
    <tool version="${xml(version)}">Pocket Twin</tool>
  </creatorinfo>
  <processinfo>
    <process>transfer</process>
  </processinfo>
  <hashes>
${hashes.join('')}  </hashes>
</hashlist>
`;
}

export function xml(text: string): string {
  return text.replace(/[&<>"']/g, (sign) => `&#${sign.codePointAt(0)};`);
}
