import { stat, statfs } from 'node:fs/promises';
import { dirname, join, resolve } from 'node:path';
import { Op, type Sequelize } from 'sequelize';
import { safeName } from '@pocket-twin/core/handoff/names.ts';
import type { HandoffForecast, HandoffWanted } from '@pocket-twin/core/schema/handoff.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { sayBytes } from '@pocket-twin/core/pcm/sayBytes.ts';
import { TargetFolder } from '@pocket-twin/media/handoff/targetFolder.ts';
import type { Folders } from '../platform/home/folders.ts';
import { HandoffRow } from './handoff.ts';
import { whatIsDone } from './handoffFile.ts';
import type { HandoffFolders } from './handoffFolders.ts';
import { forecastEdit } from './forecastEdit.ts';
import { planHandoff, type HandoffPlan, type PlannedFile } from './planHandoff.ts';

interface ForecastContext {
  sequelize: Sequelize;
  folders: Folders;
  handoffFolders: HandoffFolders;
}

/** A forecast, with what it was made from. */
export interface ForecastPlan {
  forecast: HandoffForecast;
  plan: HandoffPlan;
  /** The names each planned file got, in order. */
  paths: string[][];
}

/** What a handoff would do. Whatever keeps it from beginning is said in it; nothing is written. */
export async function forecastHandoff(
  context: ForecastContext,
  projectId: string,
  wanted: HandoffWanted,
): Promise<ForecastPlan> {
  const refused: string[] = [];
  const plan = await planHandoff(context.sequelize, projectId, wanted).catch((error: unknown): HandoffPlan => {
    if (!(error instanceof Refusal)) throw error;
    refused.push(error.message);
    return { files: [], undecided: [], leftOut: [], edit: null };
  });
  const { files, undecided, leftOut, edit } = plan;
  const folder = await folderFor(context, wanted, files).catch((error: unknown) => {
    if (!(error instanceof Refusal)) throw error;
    refused.push(error.message);
    return null;
  });
  // An archive's folder is its own and new: nothing is there yet.
  const target = await TargetFolder.open(
    folder ?? context.folders.packed,
    files.map(({ sourcePath }) => sourcePath),
  );
  const taken = folder === null ? null : await target.notOurs(edit?.row.name ?? null);
  if (taken !== null)
    refused.push(`${taken} is in ${folder} already, and is not of a handoff. Choose another name or folder.`);
  const paths = await namesFor(files, target, refused);
  const bytes = files.reduce((sum, file) => sum + file.bytes, 0);
  const roomBytes = await roomIn(folder ?? context.folders.packed);
  if (files.length === 0 && refused.length === 0)
    refused.push(
      undecided.length > 0
        ? 'Nothing is ready to be handed off: decide about the clips first.'
        : 'There is nothing to hand off.',
    );
  const needed = bytes + scratchBytes(files.map((file) => file.bytes));
  if (roomBytes !== null && roomBytes < needed)
    refused.push(
      `There is no room: it takes up to ${sayBytes(needed)} and ${sayBytes(roomBytes)} are free. Free some, or choose another folder.`,
    );
  if (folder !== null && (await isBusy(folder)))
    refused.push('Another handoff is writing into that folder just now. Let it end, or choose another name.');
  return {
    plan,
    paths,
    forecast: {
      folder: wanted.place.kind === 'download' ? null : folder,
      files: files.map(({ clipId, partnerId, name, repair, notes }, i) => ({
        ...{ clipId, name, notes, paths: paths[i] },
        what: whatIsDone(repair, partnerId),
      })),
      edit: edit && (await forecastEdit(context.sequelize, edit, files, paths, wanted)),
      ...{ undecided, leftOut, bytes, roomBytes, replaces: target.replaces },
      problem: refused[0] ?? null,
    },
  };
}

/** null where it is fetched as an archive. @throws Refusal where it may not be written to */
async function folderFor(
  { handoffFolders }: ForecastContext,
  { place, name }: HandoffWanted,
  files: PlannedFile[],
): Promise<string | null> {
  if (place.kind === 'download') return null;
  if (place.kind === 'folder') return handoffFolders.within(place.root, `${place.path}/${safeName(name)}`);
  const ownCopy = files.find(({ linked }) => !linked);
  if (ownCopy)
    throw new Refusal(
      'bad-request',
      `${ownCopy.name} was uploaded, so nothing lies beside its original. Choose a folder, or an archive.`,
    );
  const home = commonFolder(files.map(({ sourcePath }) => dirname(sourcePath)));
  return handoffFolders.ensureAllowed(join(home, safeName(name)));
}

/** The deepest folder that holds all of them. */
function commonFolder(folders: string[]): string {
  let [common = '/'] = folders;
  for (const folder of folders)
    while (folder !== common && !folder.startsWith(common === '/' ? '/' : `${common}/`)) common = dirname(common);
  return common;
}

/** Names that nothing else has; one rule for all clashes: the second of one name gets " (2)". */
async function namesFor(files: PlannedFile[], target: TargetFolder, refused: string[]): Promise<string[][]> {
  const all: string[][] = [];
  for (const file of files) {
    const mine: string[] = [];
    for (const path of file.pathsAt(file.stem)) {
      const name = await target.claim(path, resolve(file.sourcePath)).catch((error: unknown) => {
        if (!(error instanceof Refusal)) throw error;
        refused.push(error.message);
        return path;
      });
      if (name !== path) file.notes.push(`The name ${path} is taken: it is called ${name}.`);
      mine.push(name);
    }
    all.push(mine);
  }
  return all;
}

/** What two files in work need beside what they become. */
export function scratchBytes(bytes: readonly number[]): number {
  return 2 * Math.max(0, ...bytes);
}

/** Free on the disk that a folder lies on, or would; null where nobody knows. */
export async function roomIn(folder: string): Promise<number | null> {
  for (let at = folder; ; at = dirname(at)) {
    const there = await stat(at).catch(() => null);
    if (there?.isDirectory()) {
      const { bavail, bsize } = await statfs(at);
      return bavail * bsize;
    }
    if (dirname(at) === at) return null;
  }
}

async function isBusy(folder: string): Promise<boolean> {
  const busy = { [Op.in]: ['running', 'paused', 'held', 'finishing'] };
  return (await HandoffRow.count({ where: { folder, state: busy } })) > 0;
}
