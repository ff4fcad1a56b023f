import type { Project } from '@pocket-twin/core/schema/project.ts';

/** Where a person can go. */
export interface Place {
  name: string;
  to: string;
  count?: number;
  current: boolean;
}

interface Here {
  projectId: string;
  /** undefined until it is known. */
  project?: Pick<Project, 'clips'>;
  /** The clip on the bench. */
  clipId?: string;
}

/** The screens of a project, in the order of the work; the bench where there is a clip on it. */
export function placesOf(
  { projectId, project, clipId }: Here,
  current: 'Lineup' | 'Bench' | 'Handoff' | null,
): Place[] {
  const at = `/projects/${projectId}`;
  return [
    { name: 'Lineup', to: at, count: project?.clips, current: current === 'Lineup' },
    ...(clipId === undefined ? [] : [{ name: 'Bench', to: `${at}/bench/${clipId}`, current: current === 'Bench' }]),
    { name: 'Handoff', to: `${at}/handoff`, current: current === 'Handoff' },
  ];
}
