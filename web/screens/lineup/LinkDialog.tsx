import { File, Folder } from 'lucide-react';
import { useState } from 'react';
import { Breadcrumb, Breadcrumbs, Checkbox, GridList, GridListItem, Link, type Selection } from 'react-aria-components';
import styled from 'styled-components';
import type { MediaEntry, MediaFolder } from '@pocket-twin/core/schema/mediaFolder.ts';
import { inBackground } from '../../parts/inBackground.ts';
import { sentenceOf, useMediaEntriesQuery, useMediaFoldersQuery } from '../../state/api.ts';
import { Button } from '../../parts/Button.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Panel, PanelButtons } from '../../parts/Panel.tsx';
import { sayBytes } from '@pocket-twin/core/pcm/sayBytes.ts';
import { Soft } from '../../parts/Screen.tsx';
import { scrolls } from '../../parts/scrolls.ts';

interface LinkDialogProps {
  title: string;
  /** One file, or any number of files and folders. */
  choose: 'many' | 'file';
  /** Says what went wrong; null where all is well. */
  onChosen: (folder: number, paths: string[]) => Promise<string | null>;
  isOpen: boolean;
  onOpenChange: (open: boolean) => void;
}

/** Browses the folders that the server may read, to bring files in where they lie. */
export function LinkDialog({ title, isOpen, onOpenChange, ...rest }: LinkDialogProps) {
  return (
    <Panel title={title} wide isOpen={isOpen} onOpenChange={onOpenChange}>
      {(close) => <Browser {...rest} close={close} />}
    </Panel>
  );
}

function Browser({ choose, onChosen, close }: Pick<LinkDialogProps, 'choose' | 'onChosen'> & { close: () => void }) {
  const { data: folders } = useMediaFoldersQuery();
  const [at, setAt] = useState<{ folder: MediaFolder; path: string } | null>(null);
  if (!folders) return <Soft role="status">Fetching the folders ...</Soft>;
  if (folders.length === 0) {
    return (
      <>
        <Soft>
          No folder is named in the start configuration. Start Pocket Twin with the folders that hold your recordings,
          several with a colon between:
        </Soft>
        <code>POCKET_TWIN_MEDIA=/path/to/footage npm start</code>
        <PanelButtons>
          <Button onPress={close}>Close</Button>
        </PanelButtons>
      </>
    );
  }
  const place = at ?? { folder: folders[0], path: '' };
  return (
    <Listing
      key={`${place.folder.index} ${place.path}`}
      folders={folders}
      place={place}
      go={setAt}
      choose={choose}
      onChosen={onChosen}
      close={close}
    />
  );
}

interface ListingProps extends Pick<LinkDialogProps, 'choose' | 'onChosen'> {
  folders: MediaFolder[];
  place: { folder: MediaFolder; path: string };
  go: (place: ListingProps['place']) => void;
  close: () => void;
}

function Listing({ folders, place: { folder, path }, go, choose, onChosen, close }: ListingProps) {
  const { data, error } = useMediaEntriesQuery({ index: folder.index, path });
  const [picked, setPicked] = useState<Selection>(new Set());
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const entries = data?.entries ?? [];
  const paths = picked === 'all' ? entries.map((entry) => entry.path) : [...picked].map(String);
  const parts = path.split('/').filter(Boolean);
  const open = (entry: MediaEntry): void => go({ folder, path: entry.path });
  const act = (path: string): void => {
    const entry = entries.find((one) => one.path === path);
    if (entry?.kind === 'folder') open(entry);
    else if (choose === 'file') setPicked(new Set([path]));
    else setPicked(new Set(paths.includes(path) ? paths.filter((one) => one !== path) : [...paths, path]));
  };
  const take = async (): Promise<void> => {
    setBusy(true);
    const complaint = await onChosen(folder.index, paths.length > 0 ? paths : [path]);
    setBusy(false);
    if (complaint) setTrouble(complaint);
    else close();
  };
  return (
    <>
      <Crumbs aria-label="Where">
        {folders
          .filter(({ index }) => index !== folder.index)
          .map((other) => (
            <Breadcrumb key={`f${other.index}`}>
              <Link onPress={() => go({ folder: other, path: '' })}>{other.name}</Link>
            </Breadcrumb>
          ))}
        <Breadcrumb>
          <Link onPress={() => go({ folder, path: '' })}>{folder.name}</Link>
        </Breadcrumb>
        {parts.map((part, i) => (
          <Breadcrumb key={part + i}>
            <Link onPress={() => go({ folder, path: parts.slice(0, i + 1).join('/') })}>{part}</Link>
          </Breadcrumb>
        ))}
      </Crumbs>
      {(error || trouble) && <Notice tone="fix">{trouble ?? sentenceOf(error)}</Notice>}
      {data && data.skipped.length > 0 && <Notice tone="look">Left out: {data.skipped.join(' ')}</Notice>}
      <Files
        aria-label="Files and folders"
        items={entries}
        selectionMode={choose === 'many' ? 'multiple' : 'single'}
        selectionBehavior="toggle"
        selectedKeys={picked}
        onSelectionChange={setPicked}
        onAction={(key) => act(String(key))}
        renderEmptyState={() => <Soft>{data ? 'No recordings in here.' : 'Looking ...'}</Soft>}
      >
        {(entry) => (
          <GridListItem id={entry.path} textValue={entry.name}>
            {choose === 'many' && (
              <Checkbox slot="selection">
                <i aria-hidden="true" />
              </Checkbox>
            )}
            {entry.kind === 'folder' ? <Folder size={16} aria-hidden="true" /> : <File size={16} aria-hidden="true" />}
            <span>{entry.name}</span>
            {entry.kind === 'folder' ? (
              <Button kind="quiet" aria-label={`Open ${entry.name}`} onPress={() => open(entry)}>
                Open
              </Button>
            ) : (
              <span className="numeric">{sayBytes(entry.bytes)}</span>
            )}
          </GridListItem>
        )}
      </Files>
      {data && data.total > entries.length && (
        <Soft>
          The first {entries.length} of {data.total} are shown; the whole folder can be brought in.
        </Soft>
      )}
      <PanelButtons>
        <Button onPress={close}>Cancel</Button>
        <Button
          kind="main"
          isDisabled={busy || entries.length === 0 || (choose === 'file' && paths.length === 0)}
          onPress={() => inBackground(take())}
        >
          {choose === 'file'
            ? 'Point to this file'
            : paths.length > 0
              ? `Bring in ${paths.length} chosen`
              : 'Bring in this whole folder'}
        </Button>
      </PanelButtons>
    </>
  );
}

const Crumbs = styled(Breadcrumbs)`
  display: flex; flex-wrap: wrap; gap: 4px; font-size: 13px;
  li:not(:last-child)::after { content: ' /'; color: var(--soft); }
  .react-aria-Link { cursor: pointer; text-decoration: underline; text-underline-offset: 3px; &[data-current] { text-decoration: none; font-weight: 600; } }
`;
const Files = styled(GridList)`
  height: 340px; ${scrolls} border: 1px solid var(--line); border-radius: 10px; padding: 4px;
  [role='row'] { display: flex; gap: 10px; align-items: center; padding: 3px 10px; min-height: 36px; border-radius: 7px; cursor: pointer; outline-offset: -2px; }
  [role='row'] svg { flex: none; }
  [role='gridcell'] > span { flex: 1; min-width: 0; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  [role='gridcell'] > span.numeric { flex: none; color: var(--soft); font-size: 12px; }
  [role='row'][data-selected] { background: var(--chosen); }
  button { min-height: 26px; padding: 2px 8px; }
  .react-aria-Checkbox i { display: block; width: 15px; height: 15px; border: 1.5px solid var(--soft); border-radius: 4px; }
  .react-aria-Checkbox[data-selected] i { background: var(--button); border-color: var(--button); }
  &[data-empty] { display: grid; place-items: center; }
` as unknown as typeof GridList;
