import type { InferCreationAttributes, Transaction } from 'sequelize';
import { ClipRow } from '../clips/clip.ts';
import { SetupRow } from './setup.ts';

type SetupValues = InferCreationAttributes<SetupRow>;

/** What one act of a person changed about setups: each as it was and as it is, and where each clip was and is. null is not there. */
export interface SetupsChange {
  setups: { id: string; before: SetupValues | null; after: SetupValues | null }[];
  clips: { id: string; before: string | null; after: string | null }[];
}

/**
 * Runs an act on some setups and tells what it changed.
 * @param setupIds those that are there and may be changed
 * @param act makes the change. @returns setups that it made
 * @param loose clips without a setup that may be put into one
 */
export async function changeSetups(
  projectId: string,
  setupIds: string[],
  transaction: Transaction,
  act: () => Promise<SetupRow[]>,
  loose: string[] = [],
): Promise<SetupsChange> {
  const known = [...new Set(setupIds)];
  const homes = async (ids: string[]) =>
    ClipRow.unscoped().findAll({ where: { projectId, setupId: ids }, attributes: ['id', 'setupId'], transaction });
  const rows = async (ids: string[]) =>
    new Map(
      (await SetupRow.findAll({ where: { projectId, id: ids }, transaction })).map((row) => [
        row.id,
        row.get({ plain: true }) as unknown as SetupValues,
      ]),
    );
  const [setupsBefore, clipsBefore] = [
    await rows(known),
    new Map((await homes(known)).map(({ id, setupId }) => [id, setupId])),
  ];
  const all = [...known, ...(await act()).map(({ id }) => id)];
  const setupsAfter = await rows(all);
  const clipsAfter = new Map((await homes(all)).map(({ id, setupId }) => [id, setupId]));
  const clipIds = new Set([...clipsBefore.keys(), ...clipsAfter.keys()]);
  const strangers = [...clipsAfter.keys()].filter((id) => !clipsBefore.has(id) && !loose.includes(id));
  if (strangers.length > 0) throw new Error('Clips came from setups that were not named.');
  return {
    setups: all.map((id) => ({ id, before: setupsBefore.get(id) ?? null, after: setupsAfter.get(id) ?? null })),
    clips: [...clipIds]
      .map((id) => ({ id, before: clipsBefore.get(id) ?? null, after: clipsAfter.get(id) ?? null }))
      .filter(({ before, after }) => before !== after),
  };
}

/** Makes setups and the homes of clips what they were before the change, or after it once more. */
export async function reverseSetups(
  projectId: string,
  change: SetupsChange,
  to: 'before' | 'after',
  transaction: Transaction,
): Promise<void> {
  for (const setup of change.setups) {
    const values = setup[to];
    if (values) await SetupRow.upsert(values, { transaction });
  }
  const homes = new Map<string | null, string[]>();
  for (const clip of change.clips) homes.set(clip[to], [...(homes.get(clip[to]) ?? []), clip.id]);
  for (const [setupId, ids] of homes)
    await ClipRow.unscoped().update({ setupId }, { where: { projectId, id: ids }, transaction });
  const gone = change.setups.filter((setup) => setup[to] === null).map(({ id }) => id);
  if (gone.length > 0) await SetupRow.destroy({ where: { projectId, id: gone }, transaction });
}
