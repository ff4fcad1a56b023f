import type { Cable, InputTrim, Microphone, Repair, RepairOutput, Route, Section, Turn } from '../../schema/repair.ts';
import { fillFrom, leaveAsItIs, pass, selectChannel, splitToMonos, sumToMono, swapSides } from './plans.ts';
import { doesSomething } from './compare.ts';
import { sameRoute } from './timeline.ts';
import { NO_TRIM } from './trims.ts';

// Single steps of a person's editing. Each gives a new repair; none changes the one it is given.

/** How what is written is arranged. */
export type Arrangement = 'mono' | 'stereo' | 'same' | '5.1' | 'separate';
const WIDTHS = { mono: 1, stereo: 2, '5.1': 6 } as const;

/** Whether an input feeds an output, and how. @param output from 0, counted over all files @param cable null takes it away */
export function withCable(repair: Repair, output: number, from: number, cable: Omit<Cable, 'from'> | null): Repair {
  const changed = (route: Route): Route => {
    const others = route.filter((one) => one.from !== from);
    return cable ? [...others, { from, ...cable }].sort((a, b) => a.from - b.from) : others;
  };
  let first = 0;
  const outputs = repair.outputs.map((file) => {
    const routes = file.routes.map((route, i) => (first + i === output ? changed(route) : route));
    first += file.routes.length;
    return { ...file, routes };
  });
  return named({ ...repair, outputs });
}

/** Keeps what fits of the routes; what comes new is silent, or a channel as it is. */
export function arranged(repair: Repair, arrangement: Arrangement): Repair {
  const routes = repair.outputs.flatMap((file) => file.routes);
  const layout = arrangement === '5.1' ? '5.1' : 'discrete';
  if (arrangement === 'separate') {
    const { outputs } = splitToMonos(repair.inputChannels);
    return named({ ...repair, outputs, sections: null });
  }
  const width = arrangement === 'same' ? repair.inputChannels : WIDTHS[arrangement];
  const kept = Array.from(
    { length: width },
    (_, i): Route => routes[i] ?? (arrangement === 'stereo' ? routes[0] : i < repair.inputChannels ? pass(i + 1) : []),
  );
  return named({ ...repair, outputs: [{ suffix: '', layout, routes: kept }], sections: null });
}

export function arrangementOf({ outputs, inputChannels }: Repair): Arrangement | null {
  if (outputs.length > 1) return outputs.every(({ routes }) => routes.length === 1) ? 'separate' : null;
  const [{ layout, routes }] = outputs;
  if (layout === '5.1') return '5.1';
  if (routes.length === 1) return 'mono';
  if (routes.length === 2) return 'stereo';
  return routes.length === inputChannels ? 'same' : null;
}

export function withTrim(repair: Repair, channel: number, change: Partial<Omit<InputTrim, 'channel'>>): Repair {
  const trim = { ...trimOf(repair, channel), ...change };
  return named({ ...repair, trims: [...repair.trims.filter((one) => one.channel !== channel), trim] });
}

export function trimOf({ trims }: Repair, channel: number): InputTrim {
  return trims.find((trim) => trim.channel === channel) ?? { channel, ...NO_TRIM };
}

/** Calls a plan by what its routes are, whoever made them. */
function named(repair: Repair): Repair {
  if (repair.sections || repair.turns) return { ...repair, action: 'route' };
  const plain = plainPlans(repair.inputChannels).find(({ outputs }) => sameOutputs(outputs, repair.outputs));
  const trimmed = repair.trims.some(doesSomething);
  if (!plain) return { ...repair, action: 'route' };
  return { ...repair, action: plain.action === 'leave' && trimmed ? 'trim' : plain.action };
}

function plainPlans(channels: number): Repair[] {
  const each = Array.from({ length: channels }, (_, i) => i + 1);
  return [
    leaveAsItIs(channels),
    ...each.flatMap((channel) => [fillFrom(channel, channels), selectChannel(channel, channels)]),
    ...(channels >= 2 ? [swapSides(channels), sumToMono(channels), splitToMonos(channels)] : []),
  ];
}

function sameOutputs(a: RepairOutput[], b: RepairOutput[]): boolean {
  return (
    a.length === b.length &&
    a.every(
      (file, i) =>
        file.layout === b[i].layout &&
        file.routes.length === b[i].routes.length &&
        file.routes.every((route, c) => sameRoute(route, b[i].routes[c])),
    )
  );
}

/** Cuts the section at a frame in two; the whole clip is one where there are none. */
export function cutSection(repair: Repair, frame: number, frames: number, fadeFrames: number): Repair {
  const routes = repair.outputs.flatMap((file) => file.routes);
  const sections = repair.sections ?? {
    fadeFrames,
    list: [{ startFrame: 0, endFrame: frames, fadeIn: 'equal-gain' as const, routes }],
  };
  const list = sections.list.flatMap((section): Section[] =>
    frame > section.startFrame && frame < section.endFrame
      ? [
          { ...section, endFrame: frame },
          { ...section, startFrame: frame },
        ]
      : [section],
  );
  return named({ ...repair, sections: { ...sections, list } });
}

/** Moves the boundary with which section `index` begins, no further than its neighbours reach. */
export function moveBoundary(repair: Repair, index: number, frame: number): Repair {
  const { list } = repair.sections!;
  const before = list[index - 1];
  const after = list[index];
  const place = Math.round(Math.max(before.startFrame + 1, Math.min(after.endFrame - 1, frame)));
  return withSections(
    repair,
    list.map((section, i) =>
      i === index - 1 ? { ...section, endFrame: place } : i === index ? { ...section, startFrame: place } : section,
    ),
  );
}

/** Takes a section away: the one before it goes on, or after the first the next one comes sooner. */
export function removeSection(repair: Repair, index: number): Repair {
  const { list } = repair.sections!;
  if (list.length === 1) return withoutSections(repair);
  const gone = list[index];
  const heir = index > 0 ? index - 1 : 1;
  const grown = list.map((section, i) =>
    i !== heir
      ? section
      : index > 0
        ? { ...section, endFrame: gone.endFrame }
        : { ...section, startFrame: gone.startFrame },
  );
  return withSections(
    repair,
    grown.filter((_, i) => i !== index),
  );
}

export function withoutSections(repair: Repair): Repair {
  return named({ ...repair, sections: null });
}

export function withoutTurns(repair: Repair): Repair {
  return named({ ...repair, turns: null });
}

export function routeSection(repair: Repair, index: number, routes: Route[]): Repair {
  return withSections(
    repair,
    repair.sections!.list.map((section, i) => (i === index ? { ...section, routes } : section)),
  );
}

function withSections(repair: Repair, list: Section[]): Repair {
  return { ...repair, sections: { ...repair.sections!, list } };
}

/** Moves an edge of a turn, no further than the neighbours on its microphone. */
export function moveTurnEdge(
  repair: Repair,
  index: number,
  edge: 'startFrame' | 'endFrame',
  frame: number,
  frames: number,
): Repair {
  const { list } = repair.turns!;
  const turn = list[index];
  const others = list.filter((other, i) => i !== index && other.channel === turn.channel);
  const before = Math.max(
    0,
    ...others.filter((one) => one.endFrame <= turn.startFrame).map(({ endFrame }) => endFrame),
  );
  const after = Math.min(
    frames,
    ...others.filter((one) => one.startFrame >= turn.endFrame).map(({ startFrame }) => startFrame),
  );
  const place = Math.round(
    edge === 'startFrame'
      ? Math.max(before, Math.min(turn.endFrame - 1, frame))
      : Math.min(after, Math.max(turn.startFrame + 1, frame)),
  );
  return withTurns(
    repair,
    list.map((one, i) => (i === index ? { ...one, [edge]: place } : one)),
  );
}

export function removeTurn(repair: Repair, index: number): Repair {
  return withTurns(
    repair,
    repair.turns!.list.filter((_, i) => i !== index),
  );
}

/** Cuts a turn in two at a frame. */
export function cutTurn(repair: Repair, index: number, frame: number): Repair {
  const { list } = repair.turns!;
  const turn = list[index];
  if (frame <= turn.startFrame || frame >= turn.endFrame) return repair;
  return withTurns(
    repair,
    list.flatMap((one, i) =>
      i === index
        ? [
            { ...one, endFrame: frame },
            { ...one, startFrame: frame },
          ]
        : [one],
    ),
  );
}

/** Hands a turn to another microphone: what that one has within it becomes part of it. */
export function giveTurn(repair: Repair, index: number, channel: number): Repair {
  const { list } = repair.turns!;
  const given: Turn = { ...list[index], channel };
  const others = list.filter((_, i) => i !== index);
  const met = others.filter(
    (one) => one.channel === channel && one.startFrame <= given.endFrame && one.endFrame >= given.startFrame,
  );
  return withTurns(repair, [
    ...others.filter((one) => !met.includes(one)),
    {
      channel,
      startFrame: Math.min(given.startFrame, ...met.map(({ startFrame }) => startFrame)),
      endFrame: Math.max(given.endFrame, ...met.map(({ endFrame }) => endFrame)),
    },
  ]);
}

export function withMicrophones(
  repair: Repair,
  change: Partial<Omit<Microphone, 'channel'>>,
  channel: number | null = null,
): Repair {
  const { microphones } = repair.turns!;
  return {
    ...repair,
    turns: {
      ...repair.turns!,
      microphones: microphones.map((one) =>
        channel === null || one.channel === channel ? { ...one, ...change } : one,
      ),
    },
  };
}

function withTurns(repair: Repair, list: Turn[]): Repair {
  const sorted = [...list].sort((a, b) => a.startFrame - b.startFrame || a.channel - b.channel);
  return { ...repair, turns: { ...repair.turns!, list: sorted } };
}
