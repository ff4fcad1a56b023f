import { XMLParser } from 'fast-xml-parser';
import * as z from 'zod';
import { Refusal } from '../schema/refusal.ts';

/** A file of a handoff, by its path within the folder with forward slashes. */
export interface ManifestEntry {
  path: string;
  bytes: number;
  modifiedAt: string;
  sha256: string;
  xxh128: string;
  /** When it was hashed, where that was in an earlier handoff. */
  hashedAt?: string;
}

/** Earlier generations of the hash list, within the folder. */
export const MHL_GENERATIONS = 'receipts/generations';

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
    ({ path, bytes, modifiedAt, xxh128, hashedAt }) => `    <hash>
      <path size="${bytes}" lastmodificationdate="${modifiedAt}">${xml(path)}</path>
      <xxh128 action="original" hashdate="${hashedAt ?? createdAt}">${xxh128}</xxh128>
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

/** What a hash list of ours says of each file; nothing where it is damaged. */
export function readMhl(text: string): Pick<ManifestEntry, 'path' | 'bytes' | 'modifiedAt' | 'xxh128' | 'hashedAt'>[] {
  const parser = new XMLParser({
    ignoreAttributes: false,
    parseTagValue: false,
    attributeNamePrefix: '',
    textNodeName: 'text',
    trimValues: false,
    htmlEntities: true,
  });
  try {
    const parsed: unknown = parser.parse(text);
    return MhlFile.parse(parsed).hashlist.hashes.hash.map(({ path, xxh128 }) => ({
      ...{ path: path.text, bytes: path.size, modifiedAt: path.lastmodificationdate },
      ...{ xxh128: xxh128.text, hashedAt: xxh128.hashdate },
    }));
  } catch {
    return [];
  }
}

const MhlHash = z.object({
  path: z.object({ text: z.coerce.string(), size: z.coerce.number(), lastmodificationdate: z.string() }),
  xxh128: z.object({ text: z.string(), hashdate: z.string() }),
});
const MhlFile = z.object({
  hashlist: z.object({
    hashes: z.object({ hash: z.preprocess((one) => (Array.isArray(one) ? one : [one]), z.array(MhlHash)) }),
  }),
});

export function xml(text: string): string {
  return text.replace(/[&<>"'\r\n\t]/g, (sign) => `&#${sign.codePointAt(0)};`);
}
