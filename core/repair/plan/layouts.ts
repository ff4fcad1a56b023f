import { Refusal } from '../../schema/refusal.ts';
import type { Repair, RepairOutput, Route } from '../../schema/repair.ts';
import { sameRoute } from './timeline.ts';

export const LAYOUTS = ['mono', 'stereo', '5.1'] as const;
export type Layout = (typeof LAYOUTS)[number];
const CHANNELS: Record<Layout, number> = { mono: 1, stereo: 2, '5.1': 6 };

/**
 * Every file of a plan in a layout: mono goes to both sides at the level it had, and what is the same on both sides becomes mono.
 * @throws Refusal where that would throw something away or needs a decision
 */
export function inLayout(repair: Repair, layout: Layout): Repair {
  const moves = repair.outputs.map((output, file) => moveInto(output, layout, sectionRoutesOf(repair, file)));
  let first = 0;
  const spans = repair.outputs.map(({ routes }) => {
    const span = [first, first + routes.length] as const;
    first = span[1];
    return span;
  });
  const moved = (routes: Route[]): Route[] =>
    moves.flatMap((move, file) => move(routes.slice(spans[file][0], spans[file][1])));
  return {
    ...repair,
    outputs: repair.outputs.map((output, file) => ({
      ...output,
      layout: layout === '5.1' ? '5.1' : 'discrete',
      routes: moves[file](output.routes),
    })),
    sections: repair.sections && {
      ...repair.sections,
      list: repair.sections.list.map((section) => ({ ...section, routes: moved(section.routes) })),
    },
  };
}

/** A plan whose file has the channels of a layout: those beyond its routes are silent. */
export function filledUp(repair: Repair, layout: Layout): Repair {
  const [output, ...others] = repair.outputs;
  const missing = CHANNELS[layout] - output.routes.length;
  if (others.length > 0 || missing <= 0 || repair.sections !== null) return repair;
  return { ...repair, outputs: [{ ...output, routes: [...output.routes, ...Array<Route>(missing).fill([])] }] };
}

/** The routes of a file in every section; its own where there are none. */
function sectionRoutesOf({ outputs, sections }: Repair, file: number): Route[][] {
  const first = outputs.slice(0, file).reduce((sum, { routes }) => sum + routes.length, 0);
  const { length } = outputs[file].routes;
  return sections ? sections.list.map(({ routes }) => routes.slice(first, first + length)) : [outputs[file].routes];
}

function moveInto(output: RepairOutput, layout: Layout, everywhere: Route[][]): (routes: Route[]) => Route[] {
  const { length } = output.routes;
  if (length === CHANNELS[layout]) return (routes) => routes;
  if (layout === 'stereo' && length === 1) return ([route]) => [route, route];
  const same = everywhere.every((routes) => routes.every((route) => sameRoute(route, routes[0])));
  if (layout === 'mono' && same) return ([route]) => [route];
  if (layout === '5.1')
    throw new Refusal(
      'bad-request',
      `A 5.1 file has six channels and this plan makes ${length}: route what goes to each of L, R, C, LFE, Ls and Rs.`,
    );
  throw new Refusal(
    'bad-request',
    layout === 'mono'
      ? `Mono is one channel and this plan makes ${length}: sum them, or choose one.`
      : `Stereo is two channels and this plan makes ${length}: route what goes left and right.`,
  );
}
