import { stat } from 'node:fs/promises';
import type { SourceState } from '@pocket-twin/core/schema/clip.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { action, type ActionContext } from '../platform/action.ts';
import { tellClips } from './actions.ts';
import { ClipRow } from './clip.ts';

type Linked = Pick<ClipRow, 'sourcePath' | 'bytes' | 'sourceModifiedMs'>;

async function sourceStateOf({ sourcePath, bytes, sourceModifiedMs }: Linked): Promise<SourceState> {
  const now = await stat(sourcePath).catch(() => null);
  if (!now?.isFile()) return 'moved';
  return now.size === bytes && Math.round(now.mtimeMs) === sourceModifiedMs ? 'here' : 'changed';
}

/** @throws Refusal where a linked clip's file is no longer what was measured */
export async function ensureSourceHere(clip: ClipRow): Promise<void> {
  if (!clip.linked) return;
  const state = await sourceStateOf(clip);
  if (state === 'moved')
    throw new Refusal(
      'not-found',
      `${clip.fileName} is no longer at ${clip.sourcePath}. Put it back, or point to it again in the lineup.`,
    );
  if (state === 'changed')
    throw new Refusal(
      'conflict',
      `${clip.fileName} has changed since it was measured. Measure it again in the lineup.`,
    );
}

const LEAST_MS_BETWEEN_LOOKS = 3000;
const AT_ONCE = 64;

/** Looks after the linked files of projects that somebody has open. */
export class LinkedSources {
  private readonly looked = new Map<string, number>();

  constructor(private readonly context: ActionContext) {}

  /** Looks whether a project's linked files are still what was measured, now and then, and tells where they are not. */
  async look(projectId: string): Promise<void> {
    if (Date.now() - (this.looked.get(projectId) ?? 0) < LEAST_MS_BETWEEN_LOOKS) return;
    this.looked.set(projectId, Date.now());
    const clips = await ClipRow.findAll({
      where: { projectId, linked: true, state: 'ready' },
      attributes: ['id', 'sourcePath', 'bytes', 'sourceModifiedMs', 'sourceState'],
    });
    const changed: { id: string; sourceState: SourceState }[] = [];
    for (let at = 0; at < clips.length; at += AT_ONCE) {
      await Promise.all(
        clips.slice(at, at + AT_ONCE).map(async (clip) => {
          const sourceState = await sourceStateOf(clip);
          if (sourceState !== clip.sourceState) changed.push({ id: clip.id, sourceState });
        }),
      );
    }
    if (changed.length > 0) await this.keep(projectId, changed);
  }

  private keep(projectId: string, changed: { id: string; sourceState: SourceState }[]): Promise<void> {
    return action(this.context, async (step) => {
      for (const { id, sourceState } of changed)
        await ClipRow.update({ sourceState }, { where: { id }, transaction: step.transaction });
      await tellClips(
        step,
        projectId,
        changed.map(({ id }) => id),
      );
    });
  }
}
