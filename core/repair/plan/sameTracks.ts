import type { Repair, RepairAction, RepairOutput, Route } from '../../schema/repair.ts';
import { doesSomething } from './compare.ts';
import { isStraight } from './timeline.ts';

/** A sound stream of a recording. */
export interface Tracks {
  channels: number;
  language: string | null;
}

/**
 * A plan written on as many channels as its recording has, so that whatever takes channels by their places finds them: what the plan makes is repeated
 * over them in its order ("left only" comes on both sides), and what it makes twice is left out where there is room for one. Streams of different
 * languages stay by themselves: none takes another's channels, and one that the plan leaves out stays as it is.
 * @param streams of the recording; none where its channels are one stream
 * @returns one output with all channels in their order; null where the plan makes more that differ than the recording has channels
 */
export function onSameTracks(repair: Repair, streams: readonly Tracks[]): Repair | null {
  const columns = columnsOf(repair);
  const places = streams.length > 0 ? streams : [{ channels: repair.inputChannels, language: null }];
  const languages = new Set(places.flatMap(({ language }) => language ?? []));
  const chosen = languages.size > 1 ? byLanguage(repair, columns, places) : spread(columns, repair.inputChannels);
  if (chosen === null) return null;
  const [first] = repair.outputs;
  const keepsLayout = repair.outputs.length === 1 && chosen.length === columns.length;
  const output: RepairOutput = {
    suffix: '',
    layout: keepsLayout ? first.layout : 'discrete',
    routes: chosen.map(({ route }) => route),
  };
  const sections = repair.sections && {
    ...repair.sections,
    list: repair.sections.list.map((section, s) => ({
      ...section,
      routes: chosen.map((column) => column.sections[s]),
    })),
  };
  return { ...repair, action: actionInOneFile(repair, output), outputs: [output], sections };
}

/** What is not split any more is named by what is left of the plan. */
export function actionInOneFile({ action, trims }: Repair, { routes }: RepairOutput): RepairAction {
  if (action !== 'split') return action;
  if (!isStraight(routes)) return 'route';
  return trims.some(doesSomething) ? 'trim' : 'leave';
}

/** What feeds one output channel, altogether and in each section. */
interface Column {
  route: Route;
  sections: Route[];
}

function columnsOf({ outputs, sections }: Repair): Column[] {
  return outputs
    .flatMap(({ routes }) => routes)
    .map((route, i) => ({ route, sections: (sections?.list ?? []).map(({ routes }) => routes[i]) }));
}

/** As many columns as there are channels; null where that would leave one out that differs from all others. */
function spread(columns: readonly Column[], channels: number): Column[] | null {
  const over = (some: readonly Column[]): Column[] => Array.from({ length: channels }, (_, i) => some[i % some.length]);
  if (columns.length <= channels) return over(columns);
  const distinct = [...new Map(columns.map((column) => [JSON.stringify(column), column])).values()];
  return distinct.length <= channels ? over(distinct) : null;
}

function byLanguage({ sections }: Repair, columns: readonly Column[], streams: readonly Tracks[]): Column[] {
  let first = 0;
  const all: Column[] = [];
  for (const { channels } of streams) {
    const own = Array.from({ length: channels }, (_, i) => first + i + 1);
    first += channels;
    const mine = columns.filter(
      ({ route, sections: each }) =>
        route.length > 0 && [route, ...each].flat().every(({ from }) => own.includes(from)),
    );
    const asItIs = own.map((from): Column => {
      const route: Route = [{ from, gainDb: 0, polarity: 'normal' }];
      return { route, sections: (sections?.list ?? []).map(() => route) };
    });
    // More than it has room for would have to leave something out.
    all.push(...((mine.length > 0 ? spread(mine, channels) : null) ?? asItIs));
  }
  return all;
}
