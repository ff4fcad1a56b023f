import { capital, channelName } from '../../diagnose/channelName.ts';
import { channelList } from '../../diagnose/sentences.ts';
import type { Cable, Repair, Route } from '../../schema/repair.ts';
import { sayDecibels } from '../../signal/sayDecibels.ts';
import { sameRoute } from './timeline.ts';

// More than this are counted, not listed.
const MOST_LISTED = 4;

/** What a repair is called, everywhere it is named to a person. */
export function repairName(repair: Repair): string {
  const { level } = repair;
  const name = untargetedName(repair);
  if (!level) return name;
  const target =
    level.commonGainDb !== null
      ? `${level.commonGainDb < 0 ? 'lowered' : 'raised'} by ${sayDecibels(Math.abs(level.commonGainDb), 'dB')} with the others`
      : level.loudnessLufs !== null
        ? `at ${sayDecibels(level.loudnessLufs, 'LUFS')}`
        : level.peakDbtp !== null
          ? `peaks at ${sayDecibels(level.peakDbtp, 'dBTP')}`
          : `under ${sayDecibels(level.ceilingDbtp, 'dBTP')}`;
  return name === 'Leave as it is' ? `As it is, ${target}` : `${name}, ${target}`;
}

/** What sections and turns do in time, and what the routes do where there are none. */
function untargetedName(repair: Repair): string {
  const inTime = [repair.sections && sectionsName(repair), repair.turns && turnsName(repair)].filter(
    (part) => part !== null,
  );
  return inTime.length > 0 ? inTime.join('; ') : routeName(repair);
}

function routeName(repair: Repair): string {
  const first = repair.outputs[0].routes[0][0]?.from;
  const stereo = repair.inputChannels === 2;
  switch (repair.action) {
    case 'leave':
      return 'Leave as it is';
    case 'fill':
      if (!stereo) return `Channel ${first} on both sides`;
      return first === 1 ? 'Fill right from left' : 'Fill left from right';
    case 'swap':
      return 'Swap sides';
    case 'select':
      return `${stereo ? (first === 1 ? 'Left' : 'Right') : `Channel ${first}`} only, ${placeOfMono(repair)}`;
    case 'sum':
      return repair.outputs[0].routes.length === 1 ? 'Sum to mono' : `Sum to mono, ${placeOfMono(repair)}`;
    case 'split':
      return splitName(repair);
    case 'trim':
      return trimName(repair);
    case 'route':
      return `Routed by hand: ${listedRoutes(repair)}`;
  }
}

/** Where one signal goes: into a file of its own, or on every channel of one that keeps those it had. */
function placeOfMono({ outputs: [{ routes }] }: Repair): string {
  if (routes.length === 1) return 'as mono';
  return routes.length === 2 ? 'on both channels' : `on all ${routes.length} channels`;
}

function splitName({ inputChannels, outputs }: Repair): string {
  const count = outputs.length === 2 ? 'two' : outputs.length;
  if (outputs.length === inputChannels) return `Split into ${count} mono files`;
  const channels = outputs.flatMap(({ routes }) => routes[0].map(({ from }) => from));
  return `${capital(channelList(channels))} as ${count} mono files`;
}

function trimName({ trims }: Repair): string {
  const parts = [
    trims.some(({ polarity }) => polarity === 'inverted') && 'Turn one side over',
    trims.some(({ delaySamples, course }) => delaySamples !== 0 || course) && 'Line up the sides',
    trims.some(({ gainDb }) => gainDb !== 0) && 'Level the sides',
  ].filter((part) => part !== false);
  return parts.length === 1 ? parts[0] : 'Match the sides';
}

/** "3 sections: as it is, fill right from left, as it is". */
function sectionsName({ sections, inputChannels }: Repair): string {
  const names = sections!.list.map(({ routes }) => sectionName(routes, inputChannels));
  if (names.length <= MOST_LISTED)
    return `${names.length === 1 ? '1 section' : `${names.length} sections`}: ${names.join(', ')}`;
  const counts = [...new Set(names)].map((name) => `${name} in ${names.filter((other) => other === name).length}`);
  return `${names.length} sections: ${counts.join(', ')}`;
}

/** What the routes of a section do, in words that go inside a sentence. */
export function sectionName(routes: readonly Route[], inputChannels: number): string {
  const straight = (from: number): Route => [{ from, gainDb: 0, polarity: 'normal' }];
  const are = (...channels: number[]): boolean =>
    routes.length === channels.length && routes.every((route, i) => sameRoute(route, straight(channels[i])));
  if (are(...Array.from({ length: inputChannels }, (_, i) => i + 1))) return 'as it is';
  if (inputChannels === 2) {
    if (are(1, 1)) return 'fill right from left';
    if (are(2, 2)) return 'fill left from right';
    if (are(2, 1)) return 'swap sides';
  }
  const turned = routes.findIndex(([cable], i) => cable?.from === i + 1 && cable.polarity === 'inverted');
  const upright = routes.map((route, i) => (i === turned ? straight(i + 1) : route));
  if (turned >= 0 && inputChannels === routes.length && upright.every((route, i) => sameRoute(route, straight(i + 1))))
    return `turn ${channelName(turned + 1, inputChannels)} over`;
  if (routes.every((route) => route.length === 0)) return 'silence';
  return 'routed by hand';
}

function turnsName({ turns, outputs }: Repair): string {
  const count = turns!.microphones.length;
  const microphones = count === 1 ? 'One microphone' : `${count} microphones`;
  const where =
    outputs.length > 1
      ? 'as separate files'
      : outputs[0].routes.length === 1
        ? 'as one mono mix'
        : outputs[0].routes.every((route) => sameRoute(route, outputs[0].routes[0]))
          ? 'one mix on both sides'
          : 'left and right';
  return `${microphones} in turns, ${where}`;
}

/** "left from channel 1, right from channels 1 and 2 at −3.0 dB". */
function listedRoutes({ outputs }: Repair): string {
  const routes = outputs.flatMap((output) => output.routes);
  const total = outputs.length === 1 ? routes.length : 0;
  if (routes.length > MOST_LISTED) return `${routes.length} channels out`;
  return routes
    .map(
      (route, i) =>
        `${placeName(i + 1, total)} from ${route.length > 0 ? route.map(cableName).join(' + ') : 'nothing'}`,
    )
    .join(', ');
}

function placeName(channel: number, total: number): string {
  if (total === 1) return 'mono';
  if (total === 2) return channel === 1 ? 'left' : 'right';
  return `channel ${channel}`;
}

function cableName({ from, gainDb, polarity }: Cable): string {
  return `${from}${gainDb === 0 ? '' : ` at ${sayDecibels(gainDb, 'dB')}`}${polarity === 'inverted' ? ' turned over' : ''}`;
}
