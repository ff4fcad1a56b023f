import { tracksFromDescription, withoutTrackLines } from '@pocket-twin/core/riff/describedTracks.ts';
import { noFacts, type ClipFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import { type FrameRate } from '@pocket-twin/core/time/frameRates.ts';
import { secondsFromTimecode } from '@pocket-twin/core/time/timecode.ts';
import type { Probed, ProbedStream } from '../ffmpeg/probe.ts';

// Where the makers of recorders and cameras write their names, most telling first.
const RECORDER_TAGS = [
  'com.apple.quicktime.model',
  'model',
  'com.android.model',
  'product_name',
  'encoded_by',
  'originator',
];
const TAKEN_TAGS = ['com.apple.quicktime.creationdate', 'creation_time', 'date'];
const LONGEST_WORDS = 500;
const LONGEST_HISTORY = 20_000;

/** What a container's tags say of a clip. */
export function factsFromTags(probed: Probed, streams: ProbedStream[], sampleRate: number): ClipFacts {
  const { tags, pictureRate } = probed;
  const first = (names: string[]): string | null => {
    const found = names.map((name) => tags[name]?.trim()).find(Boolean);
    return wordsOrNull(found ?? '');
  };
  const channels = streams.reduce((sum, stream) => sum + stream.channels, 0);
  const timecode = tags.timecode ?? null;
  const frameRate = rateFrom(pictureRate, timecode);
  const start = timecode && frameRate ? secondsFromTimecode(timecode, frameRate) : null;
  // FFmpeg calls a comment what FLAC calls a description.
  const description = tags.comment?.trim() ? tags.comment : (tags.description ?? '');
  return {
    ...noFacts(channels),
    recorder: first(RECORDER_TAGS),
    scene: first(['scene']),
    take: first(['take']),
    tape: first(['reel_name', 'tape']),
    note: wordsOrNull(withoutTrackLines(description)),
    trackNames:
      tracksFromDescription(description, channels) ??
      streams.flatMap(({ name, channels: count }) =>
        Array.from({ length: count }, (_, c) => (name && count > 1 ? `${name} ${c + 1}` : name)),
      ),
    streams: streams.map(({ codec, channels: count, layout, name, language }) => ({
      codec,
      channels: count,
      layout,
      name,
      language,
    })),
    recordedAt: dateOrNull(first(TAKEN_TAGS)),
    startSamples: start === null ? timeReference(tags) : Math.round(start * sampleRate),
    frameRate,
    picture: probed.hasPicture
      ? { frames: probed.pictureFrames, soundStartSeconds: soundStartOf(streams[0]) - probed.startSeconds }
      : null,
    // MXF holds it among its comments.
    codingHistory: (tags.coding_history ?? tags.comment_coding_history)?.slice(0, LONGEST_HISTORY) ?? null,
  };
}

/** As FFmpeg names what a Broadcast Wave says; in samples since midnight. */
function timeReference({ time_reference: text = '' }: Probed['tags']): number | null {
  return /^\d+$/.test(text) && Number.isSafeInteger(Number(text)) ? Number(text) : null;
}

/** What a coder puts before the first sample lies before nought, and is no sound. */
function soundStartOf({ codec, startSeconds }: ProbedStream): number {
  return codec.startsWith('pcm_') ? startSeconds : Math.max(0, startSeconds);
}

function rateFrom(pictureRate: string | null, timecode: string | null): FrameRate | null {
  const match = /^(\d+)\/(\d+)$/.exec(pictureRate ?? '');
  if (!match || Number(match[1]) === 0 || Number(match[2]) === 0) return null;
  return { numerator: Number(match[1]), denominator: Number(match[2]), dropFrame: timecode?.includes(';') ?? false };
}

function wordsOrNull(text: string): string | null {
  return text.trim().slice(0, LONGEST_WORDS) || null;
}

function dateOrNull(text: string | null): string | null {
  return text && !Number.isNaN(Date.parse(text)) ? new Date(text).toISOString() : null;
}
