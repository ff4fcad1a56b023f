import { Refusal } from '../../schema/refusal.ts';
import { Route, type Cable } from '../../schema/repair.ts';
import { cable } from './plans.ts';

/**
 * What feeds an output, as people type it: `IN[@DB][+IN[@DB]...]`; a minus before a channel turns it over, nothing at all is silence.
 * @throws Refusal where it says something else
 */
export function readRoute(text: string): Route {
  if (text.trim() === '') return [];
  const cables = text.split('+').map((part) => readCable(part, text));
  const route = Route.safeParse(cables);
  if (route.success) return route.data;
  throw new Refusal('bad-request', `The route “${text}” names a channel twice, one over 64, or a gain beyond 60 dB.`);
}

/** The same back again. */
export function writeRoute(route: Route): string {
  return route
    .map(
      ({ from, gainDb, polarity }) => `${polarity === 'inverted' ? '-' : ''}${from}${gainDb === 0 ? '' : `@${gainDb}`}`,
    )
    .join('+');
}

function readCable(part: string, whole: string): Cable {
  const found = /^\s*([-\u2212]?)(\d{1,2})(?:@([-\u2212+]?\d+(?:\.\d+)?))?\s*$/.exec(part);
  if (!found) throw new Refusal('bad-request', `“${whole}” is no route: name input channels, as in 1, 2@-6 or 1+2@-3.`);
  const gainDb = Number((found[3] ?? '0').replace('\u2212', '-'));
  return { ...cable(Number(found[2]), gainDb), polarity: found[1] === '' ? 'normal' : 'inverted' };
}
