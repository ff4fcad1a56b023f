import { channelName, capital } from '../../diagnose/channelName.ts';
import type { ClipFormat } from '../../schema/inspection.ts';
import type { Repair } from '../../schema/repair.ts';
import { sayTime } from '../../time/sayTime.ts';

/** Why a repair can't be done to a clip, in a sentence; null where it can. What is wrong in itself the schema says. */
export function problemWith(
  { inputChannels, trims, sections, turns }: Repair,
  { channels, frames, sampleRate }: Pick<ClipFormat, 'channels' | 'frames' | 'sampleRate'>,
): string | null {
  if (inputChannels !== channels) return `The repair is for ${inputChannels} channels and the clip has ${channels}.`;
  const late = trims.find(({ delaySamples }) => Math.abs(delaySamples) >= frames);
  if (late)
    return `${capital(channelName(late.channel, channels))} is moved by ${Math.abs(late.delaySamples)} samples, and the clip has ${frames}: nothing of it would be left.`;
  const early = trims.find(
    ({ delaySamples, course }) =>
      course &&
      delaySamples + Math.min(0, 1e-6 * course.driftPpm * frames) + Math.min(0, course.jump?.samples ?? 0) < -1,
  );
  if (early)
    return `${capital(channelName(early.channel, channels))} would have to come earlier than it is there, at some moment of it: let the other channel wait instead.`;
  const end = sayTime(frames / sampleRate, 2);
  const last = sections?.list.at(-1);
  if (last && last.endFrame !== frames)
    return last.endFrame > frames
      ? `A section ends at ${sayTime(last.endFrame / sampleRate, 2)}, beyond the clip’s end at ${end}.`
      : `The sections end at ${sayTime(last.endFrame / sampleRate, 2)}, before the clip’s end at ${end}.`;
  const turn = turns?.list.find(({ endFrame }) => endFrame > frames);
  if (turn)
    return `A turn of channel ${turn.channel} ends at ${sayTime(turn.endFrame / sampleRate, 2)}, beyond the clip’s end at ${end}.`;
  return null;
}
