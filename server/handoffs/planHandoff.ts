import { QueryTypes, type Sequelize } from 'sequelize';
import { usedStretches } from '@pocket-twin/core/edit/usedStretches.ts';
import { expectedBytes } from '@pocket-twin/core/handoff/expectedBytes.ts';
import { intakeRepair } from '@pocket-twin/core/handoff/intakeRepair.ts';
import { checkPattern, nameFrom, safeName } from '@pocket-twin/core/handoff/names.ts';
import { isUndecided, standingOf } from '@pocket-twin/core/lineup/standing.ts';
import { becomesMono, keepsTracks, onTracks, withMonoGain } from '@pocket-twin/core/handoff/onTracks.ts';
import { leaveAsItIs } from '@pocket-twin/core/repair/plan/plans.ts';
import { isCopied } from '@pocket-twin/core/handoff/isCopied.ts';
import { pathsFor } from '@pocket-twin/core/handoff/paths.ts';
import { outputWords, packingFor } from '@pocket-twin/core/pcm/packing.ts';
import { changesNothing } from '@pocket-twin/core/repair/plan/compare.ts';
import { repairName } from '@pocket-twin/core/repair/plan/describe.ts';
import { savedRepair } from '@pocket-twin/core/repair/plan/upgrade.ts';
import type { SourceState } from '@pocket-twin/core/schema/clip.ts';
import type { ClipFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { HandoffForecast, HandoffWanted } from '@pocket-twin/core/schema/handoff.ts';
import type { ClipFormat } from '@pocket-twin/core/schema/inspection.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { channelNamesOf } from '@pocket-twin/core/setups/channelNamesOf.ts';
import { naturalOrder, sideMark, stem } from '@pocket-twin/core/setups/namePattern.ts';
import type { JoinedFrom } from '@pocket-twin/core/schema/joining.ts';
import type { SecondsSpan } from '@pocket-twin/core/time/spans.ts';
import { codingFor, takesSound, type SoundCoding } from '@pocket-twin/media/handoff/soundCoding.ts';
import type { SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { stampOf } from '@pocket-twin/media/disk/fileStamp.ts';
import { editOf, type EditRow } from '../edits/edit.ts';
import { eventsByClip, matchedEdit, type MatchedEdit } from '../edits/useOfClips.ts';
import { FROM_CLIPS, STANDING_COLUMNS, standingFactsOf, type StandingColumns } from '../lineup/standing.ts';
import { ProjectRow } from '../projects/project.ts';
import { ClipPairRow } from '../setups/clipPair.ts';
import { SetupRow, setupOf } from '../setups/setup.ts';

/** A clip that will be handed off. */
export interface PlannedFile {
  clipId: string;
  name: string;
  sourcePath: string;
  linked: boolean;
  /** The right of it, where it is the left of a recording and both go into one file. */
  partnerId: string | null;
  repair: Repair | null;
  stretches: SecondsSpan[] | null;
  /** Where its files would lie, without suffix and ending, before names that are taken are known. */
  stem: string;
  /** Its files for such a place. */
  pathsAt: (stem: string) => string[];
  bytes: number;
  notes: string[];
}

export interface HandoffPlan {
  files: PlannedFile[];
  undecided: HandoffForecast['undecided'];
  leftOut: HandoffForecast['leftOut'];
  /** The edit that comes along, with what it uses. */
  edit: { row: EditRow; matched: MatchedEdit } | null;
}

interface Columns extends StandingColumns {
  id: string;
  clipName: string;
  fileName: string;
  folder: string;
  sourcePath: string;
  linked: boolean;
  sourceState: SourceState;
  bytes: string;
  sourceModifiedMs: string | null;
  error: string | null;
  facts: ClipFacts | null;
  format: ClipFormat | null;
  pcm: PcmLocation | null;
  reason: string | null;
  keptRepair: unknown;
  setupId: string | null;
  joinedFrom: JoinedFrom | null;
}

/**
 * Which of a project's clips a handoff takes, what is done to each, and where its files go within the folder. Clips are taken as they stand now:
 * with the repair that is kept, else by their setup's intake rule where a person has set one, else as they are.
 * @throws Refusal where the pattern or the form is off
 */
export async function planHandoff(
  sequelize: Sequelize,
  projectId: string,
  wanted: HandoffWanted,
): Promise<HandoffPlan> {
  if (wanted.pattern !== null) checkPattern(wanted.pattern);
  const project = await ProjectRow.findByPk(projectId);
  const rows = await clipsOf(sequelize, projectId, wanted);
  const setups = new Map((await SetupRow.findAll({ where: { projectId } })).map((row) => [row.id, row]));
  const edit = wanted.withEdit || wanted.handlesSeconds !== null ? await editOf(projectId) : null;
  if (wanted.handlesSeconds !== null && edit === null)
    throw new Refusal('bad-request', 'Only what is used needs the edit that says what is used: read it first.');
  const matched = edit && (await matchedEdit(sequelize, edit));
  const stretchesOf = matched && usedBy(matched, wanted.handlesSeconds);
  const several = severalOf(wanted.withEdit ? matched : null);
  const chosen = new Set(rows.map(({ id }) => id));
  const joinedInto = new Map(
    rows.flatMap(({ joinedFrom, clipName }) => (joinedFrom ?? []).map(({ clipId }) => [clipId, clipName] as const)),
  );
  const partners = await partnersOf(projectId, rows, joinedInto);
  const away = await awayFrom(rows);
  const plan: HandoffPlan = {
    ...{ files: [], undecided: [], leftOut: [] },
    edit: wanted.withEdit && edit ? { row: edit, matched: matched! } : null,
  };
  for (const row of rows) {
    const of = { clipId: row.id, name: row.clipName };
    const standing = standingOf(standingFactsOf(row));
    const whole = joinedInto.get(row.id);
    const out = whyOut(row, standing, wanted, chosen.has(row.id) ? whole : undefined);
    // It comes with its left.
    if (partners.rights.has(row.id)) continue;
    const partner = partners.ofLeft.get(row.id);
    const awayOne = partner && [row, partner].find(({ id }) => away.has(id));
    if (awayOne) plan.undecided.push({ ...of, why: away.get(awayOne.id)! });
    else if (partner) plan.files.push(together(row, partner));
    else if (out !== null) plan.leftOut.push({ ...of, why: out });
    else if (away.has(row.id)) plan.undecided.push({ ...of, why: away.get(row.id)! });
    else if (isUndecided(standing))
      plan.undecided.push({
        ...of,
        why: standing === 'open' ? `“${row.name}” is suggested.` : (row.reason ?? 'It needs a look.'),
      });
    else if (stretchesOf && wanted.handlesSeconds !== null && !stretchesOf.has(row.id))
      plan.leftOut.push({ ...of, why: 'The edit does not use it.' });
    else {
      const setup = row.setupId === null ? null : (setups.get(row.setupId) ?? null);
      plan.files.push(
        planned(row, wanted, setup, project, {
          stretches: wanted.handlesSeconds === null ? null : stretchesOf!.get(row.id)!,
          mayBeSeveral: several.get(row.id) ?? null,
        }),
      );
    }
  }
  return plan;
}

function clipsOf(sequelize: Sequelize, projectId: string, { clipIds }: HandoffWanted): Promise<Columns[]> {
  return sequelize
    .query<Columns>(
      `
      select c.id, coalesce(c."displayName", c.name) as "clipName", c.name as "fileName", c.folder, c."sourcePath", c.linked, c."sourceState", c.bytes, c."sourceModifiedMs", c.error, c.facts, c.pcm,
        c.inspection->'format' as format, c.inspection->'suggestion'->>'reason' as reason, s.repair as "keptRepair", c."setupId", c."joinedFrom", ${STANDING_COLUMNS}
      ${FROM_CLIPS} where c."projectId" = :projectId and c."removedAt" is null ${clipIds === null ? '' : 'and c.id in (:clipIds)'}`,
      { replacements: { projectId, clipIds }, type: QueryTypes.SELECT },
    )
    .then((rows) => rows.sort((a, b) => naturalOrder(a.folder, b.folder) || naturalOrder(a.fileName, b.fileName)));
}

/** Why a clip stays out, whatever is decided about it; null where it does not. */
function whyOut(
  { error }: Columns,
  standing: ReturnType<typeof standingOf>,
  { untouched }: HandoffWanted,
  joinedInto: string | undefined,
): string | null {
  if (standing === 'measuring') return 'It is still being measured.';
  if (standing === 'unreadable') return error ?? 'It could not be read.';
  if (joinedInto !== undefined && standing !== 'kept' && standing !== 'written')
    return `It comes as a part of ${joinedInto}.`;
  if (standing === 'fine' && !untouched) return 'It needs nothing, and what needs nothing was to stay out.';
  return null;
}

/** Why a clip's file cannot be handed off as it was measured, of those for which that is so: it has moved, changed or gone. */
async function awayFrom(rows: readonly Columns[]): Promise<Map<string, string>> {
  const whys = await Promise.all(
    rows.map(async ({ id, sourceState, sourcePath, linked, bytes, sourceModifiedMs, joinedFrom }) => {
      if (sourceState === 'moved') return [id, MOVED] as const;
      if (sourceState === 'changed') return [id, CHANGED] as const;
      // What is joined is made when it is needed.
      if (joinedFrom !== null) return null;
      const found = await stampOf(sourcePath).catch(() => null);
      if (!found) return [id, linked ? MOVED : GONE] as const;
      const isOther =
        found.bytes !== Number(bytes) ||
        (linked && sourceModifiedMs !== null && found.modifiedMs !== Number(sourceModifiedMs));
      return isOther ? ([id, CHANGED] as const) : null;
    }),
  );
  return new Map(whys.filter((one) => one !== null));
}

const MOVED = 'Its file is no longer where it was. Point to it in the lineup.';
const CHANGED = 'Its file has changed since it was measured. Measure it again.';
const GONE = 'Its file is gone. Bring it in again.';

function planned(
  row: Columns,
  wanted: HandoffWanted,
  setup: SetupRow | null,
  project: ProjectRow | null,
  inEdit: {
    stretches: SecondsSpan[] | null;
    /** Whether the edit could point to several files of it; null where no edit that comes along uses it. */
    mayBeSeveral: boolean | null;
  },
): PlannedFile {
  const { stretches } = inEdit;
  const { fileName, folder } = row;
  const format = row.format!;
  const notes: string[] = [];
  const trackNames = channelNamesOf(setup, row.facts, format.channels);
  const plain = repairOf(row, setup, project, format.channels, notes);
  const tracks = {
    ...{ tracks: wanted.tracks, hasVideo: format.hasVideo, isInEdit: inEdit.mayBeSeveral !== null },
    mayBeSeveral: inEdit.mayBeSeveral ?? true,
  };
  const laid = onTracks(plain, row.facts?.streams ?? [], tracks);
  const done = laid && withMonoGain(laid, wanted.monoGainDb);
  if (done && becomesMono(done))
    notes.push(
      wanted.monoGainDb === 0
        ? 'It becomes mono: on a centred track it plays 0, 3, 4.5 or 6 dB softer, by the pan rule of your program.'
        : `It becomes mono, raised by ${wanted.monoGainDb} dB for a program that lowers mono in the middle by as much.`,
    );
  const repair = done ?? (plain && changesNothing(plain) ? plain : null);
  if (plain && channelsOf(plain) !== channelsOf(done ?? leaveAsItIs(format.channels)))
    notes.push(
      keepsTracks(tracks)
        ? `It keeps the ${format.channels === 1 ? 'one channel' : `${format.channels} channels`} of the old file.`
        : 'All channels are in one file: the list of edits has no room for several.',
    );
  const packing = packingFor(wanted.format, format.container);
  const words = outputWords(wanted.bits, row.pcm!.words, packing);
  const named = nameOf(row, wanted.pattern, setup, trackNames);
  if (wanted.pattern === null && named !== stem(fileName).normalize('NFC'))
    notes.push('Its name has letters or a length that some systems refuse: it is called otherwise.');
  const folders = folder.split('/').filter(Boolean).map(safeName);
  const replacesSound = format.hasVideo && wanted.format === 'same' && done !== null;
  if (replacesSound && !takesSound(format.container))
    notes.push(`The sound in a ${format.container} file can’t be replaced. Choose WAV for it, or it will fail.`);
  const coding = replacesSound && takesSound(format.container) && codingOf(row, words, wanted.codedKbits);
  if (coding && coding.kbits !== null)
    notes.push(`This film’s sound is coded, so it is re-encoded: ${coding.name} at ${coding.kbits} kbit/s.`);
  const cuts = stretches !== null && !isCopied({ ...wanted, repair: done, hasVideo: format.hasVideo });
  const count = cuts ? stretches.length : 1;
  return {
    ...{ clipId: row.id, name: row.clipName, sourcePath: row.sourcePath, linked: row.linked, repair, notes },
    partnerId: null,
    stretches: cuts ? stretches : null,
    stem: [...folders, named].join('/'),
    pathsAt: (at) =>
      Array.from({ length: count }, (_, i) => (count === 1 ? at : `${at}-${i + 1}`)).flatMap((each) =>
        pathsFor(
          {
            fileName,
            container: format.container,
            hasVideo: format.hasVideo,
            repair: done,
            format: wanted.format,
            trackNames,
          },
          each,
        ),
      ),
    bytes: expectedBytes({
      ...{ bytes: Number(row.bytes), hasVideo: format.hasVideo, channels: format.channels, repair: done, words },
      ...{ frames: row.pcm!.frames, format: wanted.bits === 'same' ? wanted.format : 'wav' },
    }),
  };
}

/** How the first sound stream of a film is written. */
function codingOf({ facts, format, pcm }: Columns, words: SampleFormat, codedKbits: number): SoundCoding {
  const { container, sampleRate, channels, codec } = format!;
  const stream = facts?.streams[0] ?? { codec, channels };
  return codingFor(container, stream.codec, words, {
    ...{ sampleRate: pcm?.sampleRate ?? sampleRate, channels: stream.channels, codedKbits },
  });
}

function channelsOf({ outputs }: Repair): string {
  return outputs.map(({ routes }) => routes.length).join();
}

/** The accepted pairs of a left and a right that need nothing by themselves: what a person said of them decides what they become. */
async function partnersOf(
  projectId: string,
  rows: Columns[],
  joinedInto: ReadonlyMap<string, string>,
): Promise<{ ofLeft: Map<string, Columns>; rights: Set<string> }> {
  const pairs = await ClipPairRow.findAll({ where: { projectId, state: 'accepted' } });
  const byId = new Map(rows.map((row) => [row.id, row]));
  const isPlain = (row: Columns | undefined): row is Columns =>
    row?.format?.channels === 1 &&
    row.keptRepair === null &&
    row.sourceState === 'here' &&
    !joinedInto.has(row.id) &&
    standingOf(standingFactsOf(row)) === 'fine';
  const ofLeft = new Map<string, Columns>();
  for (const { leftId, rightId } of pairs) {
    const [left, right] = [byId.get(leftId), byId.get(rightId)];
    if (isPlain(left) && isPlain(right) && left.format!.sampleRate === right.format!.sampleRate)
      ofLeft.set(leftId, right);
  }
  return { ofLeft, rights: new Set([...ofLeft.values()].map(({ id }) => id)) };
}

/** Two sides as one file, called by what their names share. */
function together(left: Columns, right: Columns): PlannedFile {
  const folders = left.folder.split('/').filter(Boolean).map(safeName);
  const own = stem(left.fileName);
  const mark = sideMark(left.fileName);
  return {
    ...{ clipId: left.id, name: `${left.clipName} and ${right.clipName}`, sourcePath: left.sourcePath },
    ...{ linked: left.linked, partnerId: right.id, repair: null, stretches: null },
    stem: [...folders, safeName(mark ? own.slice(0, mark.rest.length) : `${own}-joined`)].join('/'),
    pathsAt: (at) => [`${at}.wav`],
    bytes: Number(left.bytes) + Number(right.bytes),
    notes: ['They belong together: one stereo file, lined up by their sound.'],
  };
}

/** What is kept on it, else what the intake rule of its setup makes of it where a person has set one. */
function repairOf(
  { keptRepair, facts }: Columns,
  setup: SetupRow | null,
  project: ProjectRow | null,
  channels: number,
  notes: string[],
): Repair | null {
  if (keptRepair !== null) return savedRepair(keptRepair);
  if (setup === null) return null;
  const { intake, intakeDecided } = setupOf(setup, 0, project?.intake ?? null, new Map());
  if (!intakeDecided) return null;
  const repair = intakeRepair(intake, channels, facts?.streams[0]?.layout ?? null);
  if (repair) notes.push(`By the rule of its setup ${setup.name}: ${repairName(repair)}.`);
  return repair;
}

function nameOf(
  { fileName, facts, format }: Columns,
  pattern: string | null,
  setup: SetupRow | null,
  trackNames: (string | null)[],
): string {
  const name = stem(fileName);
  if (pattern === null) return safeName(name);
  return nameFrom(pattern, {
    ...{ name, setup: setup?.name ?? '', scene: facts?.scene ?? '', take: facts?.take ?? '' },
    ...{ role: trackNames[0] ?? '', channel: String(format!.channels) },
    date: facts?.recordedAt?.slice(0, 10) ?? '',
  });
}

/** The stretches of each clip that the edit uses, with their handles. */
function usedBy(matched: MatchedEdit, handlesSeconds: number | null): Map<string, SecondsSpan[]> {
  return new Map(
    [...eventsByClip(matched)].map(([place, events]) => {
      const clip = matched.clips[place];
      return [clip.id, usedStretches(events, clip, handlesSeconds ?? 0)];
    }),
  );
}

/** Of each clip that an edit uses, whether it could point to several files of it. */
function severalOf(matched: MatchedEdit | null): Map<string, boolean> {
  if (!matched) return new Map();
  const { file, clips } = matched;
  const most = clips.map(({ streams }) => streams.reduce((sum, channels) => sum + channels, 0));
  const several = file.takesSeveral(clips, most);
  return new Map([...eventsByClip(matched).keys()].map((place) => [clips[place].id, several[place]]));
}
