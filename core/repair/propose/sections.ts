import type { SoundReader } from '../../measure/soundReader.ts';
import type { Inspection, Section as HeardSection } from '../../schema/inspection.ts';
import type { FadeKind, Route, Section, Sections } from '../../schema/repair.ts';
import { framesOfSeconds } from '../../time/spans.ts';
import { pass } from '../plan/plans.ts';
import { isStraight, sameRoute } from '../plan/timeline.ts';
import { placeChange } from './placeChange.ts';

/** Long enough not to click, short enough not to be heard as a fade. */
const FADE_SECONDS = 0.01;
// So much of a section is listened to for its polarity.
const LISTENED_SECONDS = 20;
// At zero lag, one signal on both sides and one of them upside down.
const UPSIDE_DOWN = -0.8;
// Two things that a joint leads over are the same programme from here on.
const SAME_PROGRAMME = 0.5;
// The diagnosis places boundaries to a tenth of a second.
const SEARCHED_SECONDS = 0.2;
// No further than to where the next boundary may lie.
const SEARCHED_SHARE = 0.4;

/**
 * The plan for a stereo clip that changes part-way: where a side is gone, if only for a moment, it is filled from the other, where one side is upside
 * down it is turned over, where the sides have changed places they are swapped back, all else stays. Boundaries are placed where the sound has them; a fill reaches so far beyond them that its fades lie where both sides are.
 * @param read sound of the clip
 * @returns null where nothing is to be done, or the clip is not stereo
 */
export async function proposeSections(inspection: Inspection, read: SoundReader): Promise<Sections | null> {
  const { format } = inspection;
  const sections = heardIn(inspection);
  if (format.channels !== 2 || sections.length === 0) return null;
  const fadeFrames = Math.round(FADE_SECONDS * format.sampleRate);
  const drafts: { startFrame: number; endFrame: number; routes: Route[]; heard: Heard }[] = [];
  for (const heard of sections) {
    const span = framesOfSeconds(heard, format.sampleRate);
    const routes = await routesFor(heard, span.startFrame, span.endFrame, format.sampleRate, read);
    const last = drafts.at(-1);
    if (last && routes.every((route, i) => sameRoute(route, last.routes[i]))) last.endFrame = span.endFrame;
    else drafts.push({ ...span, startFrame: last ? last.endFrame : 0, routes, heard });
  }
  drafts[drafts.length - 1].endFrame = format.frames;
  if (drafts.every(({ routes }) => isStraight(routes))) return null;
  for (let i = 1; i < drafts.length; i++) {
    const before = drafts[i - 1];
    const after = drafts[i];
    const shorter = Math.min(before.endFrame - before.startFrame, after.endFrame - after.startFrame);
    const searchedSeconds = Math.min(SEARCHED_SECONDS, (SEARCHED_SHARE * shorter) / format.sampleRate);
    const change = await placeChange(before.endFrame, searchedSeconds, format.sampleRate, read);
    // The fade of a fill lies where the side is still there, or is there again.
    const reach = Math.ceil(fadeFrames / 2) + 1;
    const outward = isFill(before.routes) === isFill(after.routes) ? 0 : isFill(after.routes) ? -reach : reach;
    const boundary = Math.max(before.startFrame + 1, Math.min(after.endFrame - 1, change + outward));
    before.endFrame = boundary;
    after.startFrame = boundary;
  }
  const list: Section[] = [];
  for (const [i, { startFrame, endFrame, routes }] of drafts.entries()) {
    const fadeIn =
      i === 0 ? 'equal-gain' : await fadeKindAt({ frame: startFrame, fadeFrames }, drafts[i - 1].routes, routes, read);
    list.push({ startFrame, endFrame, routes, fadeIn });
  }
  return { fadeFrames, list };
}

interface Heard extends HeardSection {
  swapped?: boolean;
}

/** The sections of a clip, cut where a side drops out for a moment and where the sides change places. */
function heardIn({ sections, pairs, findings, format }: Inspection): Heard[] {
  const [pair] = pairs;
  // What only one of two microphones heard is nowhere else.
  const areCopies = pair?.verdict === 'dual-mono' || pair?.verdict === 'fake-stereo';
  if (sections.length !== 1 || !pair) return sections;
  if (pair.exchange) {
    const { atSeconds } = pair.exchange;
    return [
      { ...sections[0], endSeconds: atSeconds },
      { ...sections[0], startSeconds: atSeconds, swapped: true },
    ];
  }
  const losses = findings
    .filter(({ code, channels }) => code === 'dropout' && channels.length === 1 && areCopies)
    .sort((a, b) => a.startSeconds - b.startSeconds);
  const cut: Heard[] = [];
  let from = 0;
  for (const { startSeconds, endSeconds, channels } of losses) {
    if (endSeconds <= from) continue;
    if (startSeconds > from) cut.push({ ...sections[0], startSeconds: from, endSeconds: startSeconds });
    cut.push({ startSeconds, endSeconds, verdict: 'one-sided', side: channels[0] === 1 ? 'right' : 'left' });
    from = endSeconds;
  }
  return from < format.durationSeconds
    ? [...cut, { ...sections[0], startSeconds: from, endSeconds: format.durationSeconds }]
    : cut;
}

async function routesFor(
  { verdict, side, swapped }: Heard,
  startFrame: number,
  endFrame: number,
  sampleRate: number,
  read: SoundReader,
): Promise<Route[]> {
  if (verdict === 'one-sided') return side === 'left' ? [pass(1), pass(1)] : [pass(2), pass(2)];
  if (swapped) return [pass(2), pass(1)];
  const upsideDown =
    verdict === 'fake-stereo' && (await correlationIn(startFrame, endFrame, sampleRate, read)) < UPSIDE_DOWN;
  return upsideDown ? [pass(1), [{ from: 2, gainDb: 0, polarity: 'inverted' }]] : [pass(1), pass(2)];
}

async function correlationIn(
  startFrame: number,
  endFrame: number,
  sampleRate: number,
  read: SoundReader,
): Promise<number> {
  const frames = Math.min(endFrame - startFrame, Math.round(LISTENED_SECONDS * sampleRate));
  const first = startFrame + Math.floor((endFrame - startFrame - frames) / 2);
  const [left, right] = await read(first, frames, [1, 2]);
  return correlation(left, right);
}

/** At a boundary, within its fade: the channel whose two routes have least in common decides. */
async function fadeKindAt(
  { frame, fadeFrames }: { frame: number; fadeFrames: number },
  before: readonly Route[],
  after: readonly Route[],
  read: SoundReader,
): Promise<FadeKind> {
  const around = Math.max(1, Math.floor(fadeFrames / 2));
  const channels = [...new Set([...before, ...after].flatMap((route) => route.map(({ from }) => from)))];
  const sounds = await read(frame - around, 2 * around, channels);
  const mixed = (route: Route): Float64Array => {
    const out = new Float64Array(2 * around);
    for (const { from, gainDb, polarity } of route) {
      const factor = 10 ** (gainDb / 20) * (polarity === 'inverted' ? -1 : 1);
      const sound = sounds[channels.indexOf(from)];
      for (let i = 0; i < out.length; i++) out[i] += factor * sound[i];
    }
    return out;
  };
  const changing = before.map((route, i) => [route, after[i]] as const).filter(([a, b]) => !sameRoute(a, b));
  // A side turned over where the sound itself turns over goes on as it was.
  return changing.every(([a, b]) => Math.abs(correlation(mixed(a), mixed(b))) > SAME_PROGRAMME)
    ? 'equal-gain'
    : 'equal-power';
}

function correlation(a: Float64Array, b: Float64Array): number {
  let aa = 0;
  let bb = 0;
  let ab = 0;
  for (let i = 0; i < a.length; i++) {
    aa += a[i] * a[i];
    bb += b[i] * b[i];
    ab += a[i] * b[i];
  }
  return aa * bb > 0 ? ab / Math.sqrt(aa * bb) : 0;
}

function isFill(routes: readonly Route[]): boolean {
  return routes.length === 2 && sameRoute(routes[0], routes[1]);
}
