import type { KeptChunk } from '@pocket-twin/core/riff/wavFrame.ts';
import { bextChunk, ixmlChunk, type TakeFacts } from './broadcastWave.ts';
import { atLevel, fit, gain, inTurn, later, mix, silence, type Mono } from '@pocket-twin/core/synth/mono.ts';
import { hiss } from '@pocket-twin/core/synth/noise.ts';
import { accordionPair } from '@pocket-twin/core/synth/accordion.ts';
import { riverPair } from '@pocket-twin/core/synth/river.ts';
import { BARE_OFFICE, BOOTH, DECK, heardFrom, OFFICE, WINCH_HOUSE } from '@pocket-twin/core/synth/room.ts';
import { phrases, voice } from './voice.ts';
import type { ClipTruth } from './truth.ts';

const SAMPLE_RATE = 48000;

export interface DemoClip extends ClipTruth {
  sampleRate: number;
  bits: 16 | 24;
  channels: Mono[];
  chunks: KeptChunk[];
  /** Second of the day at which it starts, as its file says; null where it does not. */
  startSeconds: number | null;
  /** Second of the day at which a picture's timecode starts; null for sound alone. */
  pictureStartSeconds: number | null;
}

const DECK_SETUP = 'Ferry deck, recorder B';

function clip(truth: ClipTruth, channels: Mono[], rest: Partial<DemoClip> = {}): DemoClip {
  return {
    ...truth,
    channels,
    sampleRate: SAMPLE_RATE,
    bits: 24,
    chunks: [],
    startSeconds: null,
    pictureStartSeconds: null,
    ...rest,
  };
}

function take(
  scene: string,
  number: number,
  startSeconds: number,
  recorder = 'Field recorder B',
  tracks = ['keeper', 'not used'],
): Pick<DemoClip, 'chunks' | 'startSeconds'> {
  const facts: TakeFacts = { recorder, tracks, scene, take: number, startSeconds, sampleRate: SAMPLE_RATE };
  return { chunks: [bextChunk(facts), ixmlChunk(facts)], startSeconds };
}

const officeTake = (number: number, tracks = ['', '']): Pick<DemoClip, 'chunks' | 'startSeconds'> =>
  take('F', number, 51_000 + 300 * number, 'Office recorder', tracks);

/** Part of a voice, at the level of a careful recordist. */
function passage(sound: Mono, startSeconds: number, seconds: number): Mono {
  const start = startSeconds * SAMPLE_RATE;
  return atLevel(fit(sound.subarray(start), seconds * SAMPLE_RATE), -23);
}

async function onDeck(): Promise<DemoClip[]> {
  const ottilie = heardFrom(await voice('ottilie-deck'), DECK, 0.6, 1);
  const microphone = (start: number, seconds: number, seed: number): Mono =>
    mix(passage(ottilie, start, seconds), hiss(seconds * SAMPLE_RATE, -66, seed));
  const oneSided = { setup: DECK_SETUP, verdict: 'one-sided', side: 'left' } as const;
  return [
    clip(
      { file: 'crossing-A001.wav', ...oneSided, made: 'One microphone on input 1; input 2 open, hissing at -62 dBFS.' },
      [microphone(0, 20, 101), hiss(20 * SAMPLE_RATE, -62, 102)],
      take('A', 1, 36252),
    ),
    clip(
      { file: 'crossing-A002.wav', ...oneSided, made: 'One microphone on input 1; nothing at all on the right.' },
      [microphone(6, 16, 103), silence(16 * SAMPLE_RATE)],
      take('A', 2, 36410),
    ),
    clip(
      {
        file: 'crossing-A003.mp4',
        ...oneSided,
        made: 'A camera with one microphone on input 1; input 2 hisses at -61 dBFS.',
      },
      [microphone(11, 12, 104), hiss(12 * SAMPLE_RATE, -61, 105)],
      { pictureStartSeconds: 36600 },
    ),
  ];
}

async function inTheWinchHouse(): Promise<DemoClip> {
  const ottilie = phrases(await voice('ottilie-winch'));
  const corin = phrases(await voice('corin-winch'));
  const pause = silence(0.35 * SAMPLE_RATE);
  const keeper: Mono[] = [];
  const mate: Mono[] = [];
  for (let i = 0; i < Math.min(ottilie.length, corin.length); i++) {
    keeper.push(ottilie[i], pause, silence(corin[i].length), pause);
    mate.push(silence(ottilie[i].length), pause, corin[i], pause);
  }
  const [keeperDry, mateDry] = [atLevel(inTurn(...keeper), -22), atLevel(inTurn(...mate), -24)];
  const frames = Math.min(keeperDry.length, 28 * SAMPLE_RATE);
  const at = (dry: Mono, metres: number, seed: number): Mono => fit(heardFrom(dry, WINCH_HOUSE, metres, seed), frames);
  return clip(
    {
      file: 'keeper-and-mate.wav',
      setup: 'Winch house',
      verdict: 'two-mics',
      side: null,
      made: 'Keeper on the left microphone, mate on the right, 1.8 m apart.',
    },
    [
      mix(gain(at(keeperDry, 0.5, 21), -6), gain(at(mateDry, 1.9, 22), -6), hiss(frames, -68, 23)),
      mix(gain(at(mateDry, 0.5, 24), -6), gain(at(keeperDry, 1.9, 25), -6), hiss(frames, -65, 26)),
    ],
    { chunks: [] },
  );
}

/** One narration made to look like stereo in four ways. */
function disguisedNarrations(narration: Mono): DemoClip[] {
  const disguised = (file: string, made: string, right: Mono): DemoClip =>
    clip({ file, setup: 'Narration booth', verdict: 'fake-stereo', side: null, made }, [narration, right]);
  const echo = mix(narration, gain(later(narration, 211), -3));
  return [
    disguised('narration-03.wav', 'The right side is the left one, 6 dB quieter.', gain(narration, -6)),
    disguised(
      'narration-04.wav',
      'The right side is the left one, 640 samples (13.33 ms) late.',
      later(narration, 640),
    ),
    disguised(
      'narration-05.wav',
      'The right side is the left one, upside down.',
      narration.map((x) => -x),
    ),
    disguised('narration-06.wav', 'The right side is the left one through a comb filter.', echo),
  ];
}

/** The lock office again: a lapel microphone and one across the desk; and a cable that slipped out. */
async function inTheOffice(): Promise<DemoClip[]> {
  const dry = passage(await voice('lock-office'), 1, 14);
  const frames = dry.length;
  const close = heardFrom(dry, BARE_OFFICE, 0.25, 61);
  const across = heardFrom(dry, BARE_OFFICE, 1.7, 62);
  const desk = mix(passage(heardFrom(dry, OFFICE, 0.7, 63), 0, 14), hiss(frames, -68, 64));
  const slipped = desk.map((x, i) => (i > 6 * SAMPLE_RATE && i < 10 * SAMPLE_RATE ? 0 : x));
  return [
    clip(
      {
        file: 'office-near-far.wav',
        setup: 'Lock office',
        verdict: 'two-mics',
        side: null,
        made: 'One voice on a lapel microphone (left) and one across the desk (right).',
      },
      [mix(gain(close, -14), hiss(frames, -69, 65)), mix(gain(across, -4), hiss(frames, -62, 66))],
      officeTake(2, ['lapel', 'desk']),
    ),
    clip(
      {
        file: 'office-dropout.wav',
        setup: 'Lock office',
        verdict: 'changing',
        side: null,
        made: 'Dual mono; the right side drops out from 6 to 10 s.',
      },
      [desk, slipped],
      officeTake(3),
    ),
  ];
}

/** The camera's own recordings: four channels of which two are copies, and a picture with one microphone. */
async function onCamera(): Promise<DemoClip[]> {
  const corin = atLevel(fit(heardFrom(await voice('corin-winch'), WINCH_HOUSE, 0.45, 71), 16 * SAMPLE_RATE), -24);
  const far = gain(fit(heardFrom(await voice('corin-winch'), WINCH_HOUSE, 2.2, 72), 16 * SAMPLE_RATE), -8);
  const [lapel, top] = [mix(corin, hiss(corin.length, -67, 73)), mix(far, hiss(corin.length, -58, 74))];
  const mov = mix(
    passage(heardFrom(await voice('ottilie-deck'), DECK, 0.7, 75), 14, 11),
    hiss(11 * SAMPLE_RATE, -65, 76),
  );
  return [
    clip(
      {
        file: 'winch-camera-4ch.wav',
        setup: 'Winch house camera',
        verdict: 'multichannel',
        side: null,
        made: 'Lapel on 1, camera microphone on 2; 3 and 4 are copies of 1 and 2.',
      },
      [lapel, top, lapel, top],
      take('C', 4, 40_100, 'Camera one', ['lapel', 'camera', '', '']),
    ),
    clip(
      {
        file: 'deck-camera-B002.mov',
        setup: 'Deck camera',
        verdict: 'one-sided',
        side: 'left',
        made: 'A picture with one microphone on input 1; input 2 hisses at -60 dBFS.',
      },
      [mov, hiss(11 * SAMPLE_RATE, -60, 77)],
      { pictureStartSeconds: 36_900 },
    ),
  ];
}

/** The accordion, played a little too far to one side, and the finished film's mix with a fault in it. */
function music(narration: Mono): DemoClip[] {
  const [left, right] = accordionPair(18, -22);
  const [tuneLeft, tuneRight] = accordionPair(narration.length / SAMPLE_RATE, -30);
  const [endLeft, endRight] = [mix(tuneLeft, narration), mix(tuneRight, narration)];
  const faulty = endRight.map((x, i) => (i > 9 * SAMPLE_RATE && i < 11.5 * SAMPLE_RATE ? 0 : x));
  return [
    clip(
      {
        file: 'ferry-tune.flac',
        setup: 'Music',
        verdict: 'stereo',
        side: null,
        made: 'An accordion in true stereo, the right side 3 dB quieter.',
      },
      [left, gain(right, -3)],
    ),
    clip(
      {
        file: 'crossing-final-mix.wav',
        setup: 'Exports',
        verdict: 'changing',
        side: null,
        made: 'The finished mix: narration over the tune; the right side is missing from 9 to 11.5 s.',
      },
      [endLeft, faulty],
    ),
  ];
}

/** How much later the right file of the pair begins than the left, in samples. */
const LATE_START = 17;

/** Single files: a memo, a voice in the red, and a left and a right that belong together. */
async function alone(narration: Mono): Promise<DemoClip[]> {
  const memo = mix(
    passage(heardFrom(await voice('corin-winch'), OFFICE, 0.4, 91), 2, 10),
    hiss(10 * SAMPLE_RATE, -60, 92),
  );
  const hot = gain(narration, 19).map((x) => Math.max(-1, Math.min(1 - 2 ** -23, x)));
  const seconds = 14;
  const frames = seconds * SAMPLE_RATE;
  const [near, far] = riverPair(frames + LATE_START, -46);
  const walker = passage(heardFrom(await voice('lock-office'), DECK, 1.2, 93), 3, seconds + 1);
  const side = (water: Mono): Mono => mix(water, gain(walker.subarray(0, water.length), -4));
  return [
    clip(
      {
        file: 'pilot-memo.wav',
        setup: 'Memos',
        verdict: 'mono',
        side: null,
        made: 'One channel, as a memo recorder writes it.',
      },
      [memo],
      { bits: 16 },
    ),
    clip(
      {
        file: 'narration-07-hot.wav',
        setup: 'Narration booth',
        verdict: 'dual-mono',
        side: null,
        made: 'The same on both sides, recorded far into the red.',
      },
      [hot, hot],
    ),
    clip(
      {
        file: 'bank-walk_L.wav',
        setup: 'River bank',
        verdict: 'mono',
        side: null,
        made: 'The left of a pair of mono files.',
      },
      [side(near).subarray(0, frames)],
    ),
    clip(
      {
        file: 'bank-walk_R.wav',
        setup: 'River bank',
        verdict: 'mono',
        side: null,
        made: 'The right of the pair; it starts 17 samples late: all on it comes so much earlier.',
      },
      // All that is heard on it, the voice as well.
      [side(far).subarray(LATE_START)],
    ),
  ];
}

/** The demo's clips with what is true about each. The same samples every time. */
export async function demoClips(): Promise<DemoClip[]> {
  const office = passage(heardFrom(await voice('lock-office'), OFFICE, 0.8, 31), 0, 17);
  const narration = mix(
    passage(heardFrom(await voice('narrator'), BOOTH, 0.3, 41), 0, 15),
    hiss(15 * SAMPLE_RATE, -72, 42),
  );
  const [riverLeft, riverRight] = riverPair(24 * SAMPLE_RATE, -30);
  const tone = hiss(10 * SAMPLE_RATE, -64, 51);
  return [
    ...(await onDeck()),
    clip(
      {
        file: 'lock-office.wav',
        setup: 'Lock office',
        verdict: 'one-sided',
        side: 'right',
        made: 'One microphone on input 2; input 1 hisses at -58 dBFS.',
      },
      [hiss(17 * SAMPLE_RATE, -58, 32), mix(office, hiss(17 * SAMPLE_RATE, -64, 33))],
      { bits: 16, ...officeTake(1, ['', 'lock keeper']) },
    ),
    await inTheWinchHouse(),
    clip(
      {
        file: 'narration-02.wav',
        setup: 'Narration booth',
        verdict: 'dual-mono',
        side: null,
        made: 'A mono narration saved as stereo.',
      },
      [narration, narration],
    ),
    ...disguisedNarrations(narration),
    ...(await inTheOffice()),
    clip(
      {
        file: 'river-dawn.wav',
        setup: 'River',
        verdict: 'stereo',
        side: null,
        made: 'Moving water through a spaced pair.',
      },
      [riverLeft, riverRight],
    ),
    clip(
      {
        file: 'slate-test.wav',
        setup: 'Ferry deck, recorder B',
        verdict: 'silent',
        side: null,
        made: 'Recorded with nothing plugged in.',
      },
      [tone, hiss(10 * SAMPLE_RATE, -65, 52)],
      take('A', 9, 36_180),
    ),
    ...(await onCamera()),
    ...music(narration),
    ...(await alone(narration)),
  ];
}
