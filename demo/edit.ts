import { timecodeFromSeconds } from '@pocket-twin/core/time/timecode.ts';
import type { DemoClip } from './clips.ts';

// The edit of the demo's film, as two open formats have it: what is cut already, in frames of 25 a second.

const FRAMES_A_SECOND = 25;
const RATE = { numerator: FRAMES_A_SECOND, denominator: 1, dropFrame: false };
const NAME = 'the-last-crossing';
const FILM_STARTS_SECONDS = 3600;

/** A stretch of a clip, in seconds from its first sample; without a clip a gap. */
type Cut = { file: string | null; fromSeconds: number; seconds: number };
const cut = (file: string, fromSeconds: number, seconds: number): Cut => ({ file, fromSeconds, seconds });
const gap = (seconds: number): Cut => ({ file: null, fromSeconds: 0, seconds });

const TRACKS: { name: string; cuts: Cut[] }[] = [
  {
    name: 'Interviews',
    cuts: [
      cut('crossing-A001.wav', 2, 7),
      cut('crossing-A003.mp4', 3, 6),
      cut('keeper-and-mate.wav', 4, 9),
      gap(4),
      cut('office-dropout.wav', 1, 12),
      cut('crossing-A002.wav', 5, 8),
      cut('crossing-A001.wav', 12, 5),
    ],
  },
  {
    name: 'Narration',
    cuts: [gap(6), cut('narration-02.wav', 1, 6), gap(9), cut('narration-07-hot.wav', 2, 5)],
  },
  { name: 'River and tune', cuts: [cut('river-dawn.wav', 0, 20), cut('ferry-tune.flac', 3, 9)] },
];

/** The same edit as OpenTimelineIO and as a CMX 3600 list of its first track. */
export function demoEdits(clips: readonly DemoClip[]): { name: string; text: string }[] {
  const byName = new Map(clips.map((clip) => [clip.file, clip]));
  const clipOf = (file: string): DemoClip => {
    const clip = byName.get(file);
    if (!clip) throw new Error(`The edit of the demo uses ${file}, which it does not build.`);
    return clip;
  };
  return [
    { name: `${NAME}.otio`, text: `${JSON.stringify(timeline(clipOf), null, 2)}\n` },
    { name: `${NAME}.edl`, text: list(clipOf) },
  ];
}

function timeline(clipOf: (file: string) => DemoClip): object {
  return {
    OTIO_SCHEMA: 'Timeline.1',
    name: 'The Last Crossing',
    global_start_time: time(FILM_STARTS_SECONDS),
    metadata: {},
    tracks: {
      OTIO_SCHEMA: 'Stack.1',
      name: 'tracks',
      children: TRACKS.map(({ name, cuts }) => ({
        OTIO_SCHEMA: 'Track.1',
        ...{ name, kind: 'Audio', metadata: {} },
        children: cuts.map((one) =>
          one.file === null
            ? { OTIO_SCHEMA: 'Gap.1', name: '', source_range: range(0, one.seconds), metadata: {} }
            : used(clipOf(one.file), one),
        ),
      })),
    },
  };
}

function used(clip: DemoClip, { fromSeconds, seconds }: Cut): object {
  const start = clip.startSeconds ?? 0;
  return {
    OTIO_SCHEMA: 'Clip.1',
    name: clip.file,
    source_range: range(start + fromSeconds, seconds),
    media_reference: {
      OTIO_SCHEMA: 'ExternalReference.1',
      target_url: clip.file,
      available_range: range(start, clip.channels[0].length / clip.sampleRate),
      metadata: {},
    },
    metadata: {},
  };
}

function time(seconds: number): object {
  return { OTIO_SCHEMA: 'RationalTime.1', value: Math.round(seconds * FRAMES_A_SECOND), rate: FRAMES_A_SECOND };
}

function range(startSeconds: number, seconds: number): object {
  return { OTIO_SCHEMA: 'TimeRange.1', start_time: time(startSeconds), duration: time(seconds) };
}

function list(clipOf: (file: string) => DemoClip): string {
  const lines = ['TITLE: The Last Crossing', 'FCM: NON-DROP FRAME', ''];
  let at = FILM_STARTS_SECONDS;
  let number = 0;
  for (const { file, fromSeconds, seconds } of TRACKS[0].cuts) {
    if (file !== null) {
      const from = (clipOf(file).startSeconds ?? 0) + fromSeconds;
      const times = [from, from + seconds, at, at + seconds].map((one) => timecodeFromSeconds(one, RATE));
      lines.push(`${String(++number).padStart(3, '0')}  AX       AA    C        ${times.join(' ')}`);
      lines.push(`* FROM CLIP NAME: ${file}`, '');
    }
    at += seconds;
  }
  return `${lines.join('\n')}\n`;
}
