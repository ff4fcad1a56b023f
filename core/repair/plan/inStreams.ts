import type { Repair } from '../../schema/repair.ts';

/**
 * A plan for one file with as many channels as its recording, written as the recording's own sound streams: an edit that knew several finds several.
 * Any other plan stays as it is. @param streams of the recording
 */
export function inStreams(repair: Repair, streams: readonly { channels: number }[]): Repair {
  const channels = streams.map((stream) => stream.channels);
  const [{ routes, layout }, ...others] = repair.outputs;
  const total = channels.reduce((sum, count) => sum + count, 0);
  if (channels.length < 2 || others.length > 0 || layout !== 'discrete' || routes.length !== total) return repair;
  let next = 0;
  const outputs = channels.map((count, i) => {
    const first = next;
    next += count;
    return { suffix: String(i + 1), layout, routes: routes.slice(first, next) };
  });
  return { ...repair, outputs };
}
