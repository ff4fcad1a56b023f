import { Ellipsis } from 'lucide-react';
import { formatDistanceToNow } from 'date-fns';
import { useState } from 'react';
import { Link, Menu, MenuItem, MenuTrigger } from 'react-aria-components';
import styled from 'styled-components';
import { verdictWords } from '@pocket-twin/core/lineup/words.ts';
import type { Project } from '@pocket-twin/core/schema/project.ts';
import { ClipVerdict } from '@pocket-twin/core/schema/verdict.ts';
import { inBackground } from '../../parts/inBackground.ts';
import { useChangeProjectMutation } from '../../state/api.ts';
import { Button } from '../../parts/Button.tsx';
import { Choices } from '../../parts/Field.tsx';
import { ProjectDialog } from '../../frame/ProjectDialog.tsx';
import { Sheet, Soft } from '../../parts/Screen.tsx';
import { TwinGlyph } from '../../parts/TwinGlyph.tsx';

/** A project: what its clips carry, and what is left to do. */
export function ProjectCard({ project, onDelete }: { project: Project; onDelete: (project: Project) => void }) {
  const {
    clips,
    standings: { open, look, kept, written, measuring, unreadable },
    wrong,
    verdicts,
    createdAt,
    lastWorkedAt,
  } = project;
  const present = ClipVerdict.options.filter((verdict) => verdicts[verdict]);
  return (
    <Card>
      <Head>
        <Link href={`/projects/${project.id}`}>{project.name}</Link>
        <ProjectMenu project={project} onDelete={onDelete} />
      </Head>
      <Soft>
        {clips === 1 ? '1 clip' : `${clips} clips`} ·{' '}
        {lastWorkedAt > createdAt
          ? `worked on ${formatDistanceToNow(lastWorkedAt, { addSuffix: true })}`
          : `made ${formatDistanceToNow(createdAt, { addSuffix: true })}`}
      </Soft>
      {present.length > 0 && (
        <Verdicts aria-label="What they carry">
          {present.map((verdict) => (
            <li key={verdict}>
              <TwinGlyph verdict={verdict} side={verdict === 'one-sided' ? 'left' : null} size={28} />
              {verdictWords(verdict)}
              <span className="numeric">{verdicts[verdict]}</span>
            </li>
          ))}
        </Verdicts>
      )}
      <Counts>
        {wrong > 0 && <Count $tone="fix">{wrong} would play wrong</Count>}
        {open + look > wrong && (
          <Count $tone="look">
            {open + look - wrong} {wrong > 0 ? 'more ' : ''}to decide
          </Count>
        )}
        {unreadable > 0 && <Count $tone="fix">{unreadable} not readable</Count>}
        {measuring > 0 && <Count $tone="look">{measuring} being measured</Count>}
        {kept > 0 && <Count $tone="fine">{kept} kept</Count>}
        {written > 0 && <Count $tone="fine">{written} written</Count>}
        {clips > 0 && open + look + measuring + unreadable === 0 && <Count $tone="fine">Nothing left to do</Count>}
      </Counts>
    </Card>
  );
}

function ProjectMenu({ project, onDelete }: { project: Project; onDelete: (project: Project) => void }) {
  const [change] = useChangeProjectMutation();
  const [editing, setEditing] = useState(false);
  const actions: Record<string, () => void> = {
    edit: () => setEditing(true),
    archive: () => inBackground(change({ projectId: project.id, archived: !project.archived })),
    delete: () => onDelete(project),
  };
  return (
    <>
      <MenuTrigger>
        <Button kind="quiet" aria-label={`More for ${project.name}`}>
          <Ellipsis size={16} aria-hidden="true" />
        </Button>
        <Choices placement="bottom end">
          <Menu aria-label={`More for ${project.name}`} onAction={(key) => actions[key]()}>
            <MenuItem id="edit">Rename, intake, frame rate ...</MenuItem>
            <MenuItem id="archive">{project.archived ? 'Take out of the archive' : 'Archive'}</MenuItem>
            <MenuItem id="delete">Delete</MenuItem>
          </Menu>
        </Choices>
      </MenuTrigger>
      <ProjectDialog project={project} isOpen={editing} onOpenChange={setEditing} />
    </>
  );
}

const Card = styled(Sheet).attrs({ as: 'article' })`
  position: relative; display: flex; flex-direction: column; gap: 4px; padding: 14px 18px 16px; height: 100%; transition: border-color 120ms;
  &:hover { border-color: var(--ink); }
`;
const Head = styled.div`
  display: flex; justify-content: space-between; align-items: center; gap: 10px;
  a { font: 700 19px 'Bricolage Grotesque Variable', sans-serif; text-decoration: none; overflow: hidden; text-overflow: ellipsis; }
  a::after { content: ''; position: absolute; inset: 0; border-radius: 12px; }
  button { position: relative; z-index: 1; min-height: 30px; padding: 3px 8px; }
`;
const Verdicts = styled.ul`
  display: grid; grid-template-columns: 1fr 1fr; gap: 4px 14px; margin-top: 10px; font-size: 13px;
  li { display: grid; grid-template-columns: 30px minmax(0, 1fr) auto; gap: 7px; align-items: center; white-space: nowrap; overflow: hidden; }
  span { color: var(--soft); }
`;
const Counts = styled.div`display: flex; flex-wrap: wrap; gap: 8px; margin-top: auto; padding-top: 12px; min-height: 38px;`;
const Count = styled.span<{ $tone: string }>`
  padding: 2px 10px; border-radius: 99px; font-weight: 600; font-size: 13px;
  color: ${({ $tone }) => `var(--${$tone})`}; background: ${({ $tone }) => `var(--${$tone}-wash)`};
`;
