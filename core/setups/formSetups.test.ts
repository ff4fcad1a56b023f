import fc from 'fast-check';
import { describeSetups } from './describeSetup.ts';
import { formSetups, type FormedSetup, type KnownSetup } from './formSetups.ts';
import { proposeIntake } from './proposeIntake.ts';
import type { SetupClip } from './setupClip.ts';

const clip = (fileName: string, rest: Partial<SetupClip> = {}): SetupClip => ({
  id: fileName,
  fileName,
  folder: '',
  recorder: null,
  trackNames: [],
  recordedAt: null,
  channels: 2,
  layout: 'stereo',
  sampleRate: 48000,
  bitDepth: 24,
  codec: 'pcm_s24le',
  hasVideo: false,
  verdict: 'stereo',
  side: null,
  noiseFloorsDbfs: [-60, -60],
  ...rest,
});
const ONE_SIDED: Partial<SetupClip> = { verdict: 'one-sided', side: 'left', noiseFloorsDbfs: [-66, -62] };
const named = (setups: FormedSetup[]): string[][] =>
  setups.map(({ clips }) => clips.map(({ fileName }) => fileName)).sort((a, b) => (a[0] < b[0] ? -1 : 1));

const SHOOT = [
  clip('crossing-A001.wav', { ...ONE_SIDED, recorder: 'B', trackNames: ['keeper', null] }),
  clip('crossing-A002.wav', {
    ...ONE_SIDED,
    recorder: 'B',
    trackNames: ['keeper', null],
    noiseFloorsDbfs: [-66, null],
  }),
  clip('crossing-A010.wav', { ...ONE_SIDED, recorder: 'B', verdict: 'two-mics', side: null }),
  clip('crossing-A003.mp4', { ...ONE_SIDED, codec: 'aac', bitDepth: null, hasVideo: true }),
  clip('booth-1.wav', { recorder: 'C', verdict: 'dual-mono', noiseFloorsDbfs: [-72, -72] }),
  clip('river.wav', { verdict: 'stereo', noiseFloorsDbfs: [-31, -30] }),
  clip('camera-4.wav', { channels: 4, verdict: 'multichannel', noiseFloorsDbfs: [-60, -60, -60, -60] }),
];

test('recorder, series and sound put clips together, and the odd take stays with its setup', () => {
  expect(named(formSetups(SHOOT, []))).toEqual([
    ['booth-1.wav'],
    ['camera-4.wav'],
    ['crossing-A001.wav', 'crossing-A002.wav', 'crossing-A003.mp4', 'crossing-A010.wav'],
    ['river.wav'],
  ]);
});

test('sound alone puts files of unlike names together only where the dead side and its noise agree', () => {
  const voices = ['anna.wav', 'visit.wav'].map((name) => clip(name, ONE_SIDED));
  expect(
    named(
      formSetups(
        [
          ...voices,
          clip('dock.wav', { ...ONE_SIDED, side: 'right' }),
          clip('hall.wav', { ...ONE_SIDED, noiseFloorsDbfs: [-66, -40] }),
        ],
        [],
      ),
    ),
  ).toEqual([['anna.wav', 'visit.wav'], ['dock.wav'], ['hall.wav']]);
});

test('the same clips form the same setups in whatever order they came', () => {
  fc.assert(
    fc.property(fc.shuffledSubarray(SHOOT, { minLength: SHOOT.length }), (shuffled) => {
      expect(named(formSetups(shuffled, []))).toEqual(named(formSetups(SHOOT, [])));
    }),
  );
});

test('what a person has touched is left alone, and newcomers are held against it', () => {
  const known: KnownSetup[] = [
    { id: 'deck', members: ['crossing-A001.wav', 'crossing-A002.wav'], touched: true },
    { id: 'odd', members: ['crossing-A010.wav'], touched: true },
    { id: 'empty', members: [], touched: true },
    { id: 'forgotten', members: ['gone.wav'], touched: false },
  ];
  const formed = formSetups(
    [...SHOOT, clip('crossing-A011.wav', { ...ONE_SIDED, recorder: 'B', trackNames: ['keeper', null] })],
    known,
  );
  const members = (id: string): string[] | undefined =>
    formed.find((setup) => setup.id === id)?.clips.map(({ fileName }) => fileName);
  expect(members('deck')).toEqual(['crossing-A001.wav', 'crossing-A002.wav', 'crossing-A003.mp4', 'crossing-A011.wav']);
  expect(members('odd')).toEqual(['crossing-A010.wav']);
  expect(members('empty')).toEqual([]);
  expect(members('forgotten')).toBeUndefined();
});

test('a clip that was moved takes nobody along, and throws nobody out', () => {
  // Nine of three kinds; a tenth is moved to where nothing is like it.
  const kind = (name: string, rest: Partial<SetupClip>) => [1, 2, 3].map((n) => clip(`${name}-${n}.wav`, rest));
  const nine = [
    ...kind('lav', { recorder: 'A' }),
    ...kind('boom', { recorder: 'B' }),
    ...kind('hall', { recorder: 'C', verdict: 'dual-mono' }),
  ];
  const ids = (name: string): string[] => [1, 2, 3].map((n) => `${name}-${n}.wav`);
  const known: KnownSetup[] = [
    { id: 'a', members: [...ids('lav'), 'hall-3.wav'], touched: true },
    { id: 'b', members: ids('boom'), touched: false },
    { id: 'c', members: ids('hall').slice(0, 2), touched: true },
  ];
  const formed = formSetups(nine, known);
  expect(Object.fromEntries(formed.map(({ id, clips }) => [id, clips.map((one) => one.id)]))).toEqual({
    a: ['hall-3.wav', ...ids('lav')],
    b: ids('boom'),
    c: ids('hall').slice(0, 2),
  });
});

/** What a person does to setups, as the server keeps it. */
type Act = { kind: 'rename' | 'merge' | 'move' | 'split' | 'add' | 'remove'; pick: number; other: number };

test('any sequence of a person’s acts keeps every word of it: what they put together stays, and nothing else comes but newcomers', () => {
  const act = fc.record({
    kind: fc.constantFrom('rename', 'merge', 'move', 'split', 'add', 'remove'),
    pick: fc.nat(99),
    other: fc.nat(99),
  }) as fc.Arbitrary<Act>;
  const kinds: Partial<SetupClip>[] = [
    { recorder: 'A' },
    { recorder: 'B', ...ONE_SIDED },
    { ...ONE_SIDED },
    { verdict: 'dual-mono' },
    { channels: 4, verdict: 'multichannel' },
  ];
  const make = (n: number): SetupClip =>
    clip(`${['deck', 'hall', 'dock'][n % 3]}-${n}.wav`, { id: `c${n}`, ...kinds[(n * 7) % kinds.length] });
  fc.assert(
    fc.property(fc.array(act, { maxLength: 14 }), (acts) => {
      let clips = Array.from({ length: 8 }, (_, n) => make(n));
      let next = 8;
      let setups: KnownSetup[] = [];
      let serial = 0;
      const form = (): void => {
        const touchedBefore = new Map(setups.filter(({ touched }) => touched).map(({ id, members }) => [id, members]));
        const housed = new Set(setups.flatMap(({ members }) => members));
        const formed = formSetups(clips, setups);
        const now = formed.map(({ id, clips: members }) => ({
          id: id ?? `s${serial++}`,
          members: members.map((one) => one.id),
        }));
        for (const [id, members] of touchedBefore) {
          const after = now.find((setup) => setup.id === id)!.members;
          expect(after).toEqual(expect.arrayContaining(members));
          expect(after.filter((one) => !members.includes(one) && housed.has(one))).toEqual([]);
        }
        expect(now.flatMap(({ members }) => members).sort()).toEqual(clips.map(({ id }) => id).sort());
        setups = now.map((setup) => ({ ...setup, touched: touchedBefore.has(setup.id) }));
      };
      form();
      for (const { kind, pick, other } of acts) {
        const [a, b] = [setups[pick % setups.length], setups[other % setups.length]];
        const id = clips[pick % clips.length]?.id;
        const from = setups.find(({ members }) => members.includes(id));
        if (kind === 'rename') a.touched = true;
        else if (kind === 'merge' && a !== b) {
          Object.assign(b, { members: [...b.members, ...a.members], touched: true });
          setups = setups.filter((setup) => setup !== a);
        } else if (kind === 'move' && from) {
          for (const setup of [from, b]) setup.touched = true;
          from.members = from.members.filter((one) => one !== id);
          b.members = [...b.members, id];
        } else if (kind === 'split' && from) {
          from.touched = true;
          from.members = from.members.filter((one) => one !== id);
          setups.push({ id: `s${serial++}`, members: [id], touched: true });
        } else if (kind === 'add') clips = [...clips, make(next++)];
        else if (kind === 'remove' && clips.length > 1) {
          clips = clips.filter((one) => one.id !== id);
          setups = setups.map((setup) => ({ ...setup, members: setup.members.filter((one) => one !== id) }));
        }
        form();
      }
    }),
    { numRuns: 300 },
  );
});

test('a setup that is formed again keeps its identity', () => {
  const known: KnownSetup[] = [
    { id: 'x', members: ['booth-1.wav'], touched: false },
    { id: 'y', members: ['crossing-A001.wav', 'crossing-A002.wav'], touched: false },
  ];
  const formed = formSetups(SHOOT, known);
  expect(formed.find(({ clips }) => clips.some(({ fileName }) => fileName === 'booth-1.wav'))!.id).toBe('x');
  expect(formed.find(({ clips }) => clips.some(({ fileName }) => fileName === 'crossing-A002.wav'))!.id).toBe('y');
});

test('where no one thing holds for most, the setup is mixed: nobody is odd, and no recorder of a few names it', () => {
  const many = Array.from({ length: 126 }, (_, i) =>
    clip(`take-${i}.wav`, {
      recorder: i < 13 ? 'Recorder Z' : null,
      ...(i % 3 === 0 ? ONE_SIDED : i % 3 === 1 ? { verdict: 'two-mics' } : {}),
    }),
  );
  expect(describeSetups([many], [])[0]).toMatchObject({
    name: 'take',
    mixed: true,
    verdict: null,
    side: null,
    differing: 0,
    explanation: expect.stringMatching(/^no one thing on most of them, recorder Recorder Z in 13 of 126/),
  });
  const enough = Array.from({ length: 10 }, (_, i) => clip(`take-${i}.wav`, i < 6 ? ONE_SIDED : {}));
  expect(describeSetups([enough], [])[0]).toMatchObject({ mixed: false, verdict: 'one-sided', differing: 4 });
});

test('the explanation names what they share, and counts what most but not all do', () => {
  const [deck] = describeSetups([SHOOT.slice(0, 4)], []);
  expect(deck).toMatchObject({
    name: 'B, crossing-A',
    verdict: 'one-sided',
    side: 'left',
    differing: 1,
    roles: ['keeper', null],
    explanation: 'recorder B in 3 of 4, names crossing-A001 to crossing-A010, right side empty in 3 of 4, 48 kHz',
  });
  expect(describeSetups([[SHOOT[5]], [SHOOT[5]]], ['river']).map(({ name }) => name)).toEqual(['river 2', 'river 3']);
});

test('true stereo stays a pair, voices of their own become monos, a named layout stays together', () => {
  const like = (verdict: SetupClip['verdict'], channels = 2, layout: string | null = null) => ({
    verdict,
    channels,
    layout,
  });
  expect(proposeIntake([like('stereo'), like('stereo'), like('two-mics')])).toBe('stereo-pair');
  expect(proposeIntake([like('two-mics'), like('two-mics'), like('stereo')])).toBe('separate-monos');
  expect(proposeIntake([like('multichannel', 4)])).toBe('separate-monos');
  // One side is empty in all: a pair would carry nothing on it.
  expect(proposeIntake([like('one-sided'), like('one-sided')])).toBe('separate-monos');
  expect(proposeIntake([like('changing')])).toBe('stereo-pair');
  expect(proposeIntake([like('multichannel', 6, '5.1(side)')])).toBe('surround');
});

test('thousands of clips are placed in a moment, each once', () => {
  const many = Array.from({ length: 5000 }, (_, i) =>
    clip(`take-${i % 40}-${i}.wav`, { id: String(i), recorder: `R${i % 40}`, ...(i % 2 ? ONE_SIDED : {}) }),
  );
  const formed = formSetups(many, []);
  expect(formed).toHaveLength(40);
  expect(new Set(formed.flatMap(({ clips }) => clips.map(({ id }) => id))).size).toBe(5000);
});
