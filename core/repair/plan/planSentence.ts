import type { Repair } from '../../schema/repair.ts';
import { sayDecibels, sayNumber } from '../../signal/sayDecibels.ts';
import { doesSomething } from './compare.ts';
import { courseWords } from './courseWords.ts';
import { repairName } from './describe.ts';

/** The plan in force in one sentence, over everything else on the bench. */
export function planSentence(repair: Repair): string {
  const name = repairName(repair);
  const trims = repair.action === 'trim' ? null : trimsInWords(repair);
  return `${trims ? `${name}; ${trims}` : name}.`;
}

/** The same for a list of what was done to a file, without its full stop. */
export function whatWasDone(repair: Repair): string {
  return planSentence(repair).replace(/\.$/, '');
}

/** What each part of a plan holds other than what was; null where nothing. */
export function describeParts(repair: Repair): Record<'routes' | 'trim' | 'time' | 'level', string | null> {
  const { sections, turns, level, action, outputs } = repair;
  return {
    routes:
      action === 'leave' || action === 'trim' || sections
        ? null
        : `${outputs.length > 1 ? `${outputs.length} files` : countOf(outputs[0].routes.length)}`,
    trim: trimsInWords(repair),
    time: sections ? `${sections.list.length} sections` : turns ? `${turns.list.length} turns` : null,
    level: !level
      ? null
      : level.commonGainDb !== null
        ? sayDecibels(level.commonGainDb, 'dB')
        : level.loudnessLufs !== null
          ? sayDecibels(level.loudnessLufs, 'LUFS')
          : level.peakDbtp !== null
            ? sayDecibels(level.peakDbtp, 'dBTP')
            : `under ${sayDecibels(level.ceilingDbtp, 'dBTP')}`,
  };
}

/** "1 by −3.0 dB, 2 moved 640 samples later": only what does something; no number stands beside a channel’s. */
function trimsInWords({ trims }: Repair): string | null {
  const words = [...trims]
    .sort((a, b) => a.channel - b.channel)
    .filter(doesSomething)
    .map(({ channel, gainDb, polarity, delaySamples, course }) =>
      [
        String(channel),
        ...(gainDb === 0 ? [] : [`by ${sayDecibels(gainDb, 'dB')}`]),
        ...(polarity === 'inverted' ? ['turned over'] : []),
        ...(delaySamples === 0
          ? []
          : [
              `moved ${sayNumber(Math.abs(delaySamples), Number.isInteger(delaySamples) ? 0 : 2)} ${Math.abs(delaySamples) === 1 ? 'sample' : 'samples'} ${delaySamples > 0 ? 'later' : 'earlier'}`,
            ]),
        ...courseWords(course).map((words) => `and ${words}`),
      ].join(' '),
    );
  return words.length > 0 ? words.join(', ') : null;
}

function countOf(channels: number): string {
  return channels === 1 ? 'mono' : channels === 2 ? 'stereo' : `${channels} channels`;
}
