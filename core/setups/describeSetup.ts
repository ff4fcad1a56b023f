import { VERDICTS } from '../diagnose/catalogue/verdicts.ts';
import type { Intake } from '../schema/setup.ts';
import type { ClipVerdict, Side } from '../schema/verdict.ts';
import { sayDepth } from '../pcm/sayDepth.ts';
import { nameBeginning, namePattern, naturalOrder, stem } from './namePattern.ts';
import { proposeIntake } from './proposeIntake.ts';
import { majority, soundOf, type SetupClip } from './setupClip.ts';

// What less than this share of a setup's clips carry is not what the setup is.
const HOLDS_FOR = 0.6;

/** What there is to say of a setup, before a person says more. */
export interface SetupDescription {
  name: string;
  explanation: string;
  /** No one thing holds for enough of its clips to call the others odd. */
  mixed: boolean;
  /** What most of its clips carry; null where there are none, or where it is mixed. */
  verdict: ClipVerdict | null;
  side: Side | null;
  differing: number;
  /** One a channel, from the names that the recorder gave its tracks. */
  roles: (string | null)[];
  intake: Intake;
}

/** @param taken names that are in use already */
export function describeSetups(setups: SetupClip[][], taken: string[]): SetupDescription[] {
  const used = new Set(taken);
  return setups.map((clips) => {
    const wanted = nameSetup(clips);
    let name = wanted;
    for (let n = 2; used.has(name); n++) name = `${wanted} ${n}`;
    used.add(name);
    const most = majority(clips.map(soundOf));
    const alike = clips.filter((clip) => soundOf(clip) === most);
    const mixed = alike.length < HOLDS_FOR * clips.length;
    const usual = mixed ? undefined : alike[0];
    return {
      name,
      explanation: explainSetup(clips, mixed),
      mixed,
      verdict: usual?.verdict ?? null,
      side: usual?.side ?? null,
      differing: mixed ? 0 : clips.length - alike.length,
      roles: Array.from({ length: clips[0]?.channels ?? 0 }, (_, c) =>
        majority(clips.map(({ trackNames }) => trackNames[c] ?? null).filter((track) => track !== null)),
      ),
      intake: proposeIntake(clips),
    };
  });
}

/** A name for a setup that nobody has named yet. */
function nameSetup(clips: SetupClip[]): string {
  if (clips.length === 0) return 'Empty setup';
  const recorder = knownRecorder(clips);
  const beginning = common(clips.map(({ fileName }) => nameBeginning(fileName)));
  if (recorder) return clips.length > 1 && beginning ? `${recorder}, ${beginning}` : recorder;
  if (clips.length === 1) return stem(clips[0].fileName);
  const folder = common(clips.map((clip) => clip.folder))
    ?.split('/')
    .at(-1);
  return beginning || folder || `Like ${stem(clips[0].fileName)}`;
}

/** The recorder that the clips name; null where they name several, or too few name one. */
function knownRecorder(clips: SetupClip[]): string | null {
  const known = clips.map((clip) => clip.recorder).filter((name) => name !== null);
  return known.length < HOLDS_FOR * clips.length ? null : common(known);
}

/** Why these clips stand together, in words: "same recorder (B), names A001 to A008, right side empty in all". */
function explainSetup(clips: SetupClip[], mixed: boolean): string {
  if (clips.length === 0) return 'no clips';
  const [first] = clips;
  if (clips.length === 1)
    return [first.recorder && `recorder ${first.recorder}`, formatWords(first)].filter(Boolean).join(', ');
  return [
    mixed && 'no one thing on most of them',
    recorderWords(clips),
    namesWords(clips),
    folderWords(clips),
    !mixed && soundWords(clips),
    formatsWords(clips),
  ]
    .filter(Boolean)
    .join(', ');
}

function recorderWords(clips: SetupClip[]): string | null {
  const known = clips.filter(({ recorder }) => recorder !== null);
  const recorder = common(known.map((clip) => clip.recorder));
  if (!recorder) return null;
  return known.length === clips.length
    ? `same recorder (${recorder})`
    : `recorder ${recorder} in ${known.length} of ${clips.length}`;
}

function namesWords(clips: SetupClip[]): string | null {
  if (common(clips.map(({ fileName }) => namePattern(fileName))) === null) return null;
  const names = clips.map(({ fileName }) => stem(fileName)).sort(naturalOrder);
  return names[0] === names.at(-1) ? `all named ${names[0]}` : `names ${names[0]} to ${names.at(-1)}`;
}

function folderWords(clips: SetupClip[]): string | null {
  const folder = common(clips.map((clip) => clip.folder));
  return folder ? `folder ${folder}` : null;
}

function soundWords(clips: SetupClip[]): string | null {
  const most = majority(clips.map(soundOf));
  const alike = clips.filter((clip) => soundOf(clip) === most);
  const [{ verdict, side }] = alike;
  return `${VERDICTS[verdict].inSetup(side)} in ${alike.length === clips.length ? 'all' : `${alike.length} of ${clips.length}`}`;
}

function formatsWords(clips: SetupClip[]): string | null {
  const format = common(clips.map(formatWords));
  return format ?? `${clips[0].sampleRate / 1000} kHz`;
}

function formatWords({ sampleRate, codec, bitDepth, channels }: SetupClip): string {
  const layout = channels === 1 ? 'mono' : channels === 2 ? 'stereo' : `${channels} channels`;
  return [`${sampleRate / 1000} kHz`, bitDepth === null ? null : sayDepth(codec, bitDepth), layout]
    .filter(Boolean)
    .join(' ');
}

/** The one value that all share; null where they differ. */
function common<Value>(values: Value[]): Value | null {
  return values.length > 0 && values.every((value) => value === values[0]) ? values[0] : null;
}
