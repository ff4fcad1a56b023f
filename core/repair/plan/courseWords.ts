import type { DelayCourse } from '../../schema/repair.ts';
import { sayNumber } from '../../signal/sayDecibels.ts';

/** How a delay goes on, in words that go into a list: "played 23.0 ppm slower", "960 samples later after a jump". */
export function courseWords(course: DelayCourse | undefined): string[] {
  if (!course) return [];
  const { driftPpm, jump } = course;
  return [
    driftPpm !== 0 && `played ${sayNumber(Math.abs(driftPpm), 1)} ppm ${driftPpm > 0 ? 'slower' : 'faster'}`,
    jump &&
      `moved ${sayNumber(Math.abs(jump.samples), Number.isInteger(jump.samples) ? 0 : 2)} samples ${jump.samples > 0 ? 'later' : 'earlier'} after a jump`,
  ].filter((part) => typeof part === 'string');
}
