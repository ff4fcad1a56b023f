import { capital, channelName } from '../../diagnose/channelName.ts';
import type { Inspection } from '../../schema/inspection.ts';
import type { InputTrim, Repair } from '../../schema/repair.ts';
import type { Finds, Found } from '../../schema/proposal.ts';
import { sayDecibels, sayNumber } from '../../signal/sayDecibels.ts';
import { sayTime } from '../../time/sayTime.ts';
import { doesSomething } from '../plan/compare.ts';
import { lineUpTrims } from '../plan/lineUpTrims.ts';
import { addTrims } from '../plan/trims.ts';
import { turnsPlan } from '../plan/turnsPlan.ts';
import { balance } from './balance.ts';
import type { ClipSound } from './clipSound.ts';
import { lineUpOf } from './lineUp.ts';
import { microphonesOf } from './microphones.ts';
import { proposeSections } from './sections.ts';
import { proposeTurns } from './turns.ts';

/** Completes a plan with what is found on a clip: trims first, as they are applied, then what happens in time. */
export async function findOn(base: Repair, finds: Finds, inspection: Inspection, sound: ClipSound): Promise<Found> {
  const notes: string[] = [];
  let trims = base.trims;
  if (finds.lineUp) {
    const found = await findLineUp(finds.lineUp, inspection, sound);
    if ('whyNot' in found) return found;
    trims = addTrims(trims, found.trims);
    notes.push(found.note);
  }
  if (finds.balance) {
    const found = balanceTrims(inspection, trims);
    if ('whyNot' in found) return found;
    trims = addTrims(trims, found.trims);
  }
  let repair: Repair = { ...base, trims };
  if (finds.sections) {
    const sections = await proposeSections(inspection, sound.read);
    if (sections) repair = { ...repair, action: 'route', sections };
    else if (inspection.format.channels !== 2) return { whyNot: 'Sections are found on stereo clips only.' };
    else if (inspection.verdict === 'changing')
      return { whyNot: 'It changes part-way, but in no way that moving channels would mend.' };
    else notes.push('Nothing changes part-way that moving channels would mend.');
  }
  if (finds.turns) {
    const channels = microphonesOf(inspection);
    if (channels.length < 2)
      return { whyNot: 'Turns need two microphones with a talker each; here one channel speaks.' };
    if (inspection.verdict === 'dual-mono' || inspection.verdict === 'fake-stereo')
      return { whyNot: 'Turns need two microphones; here both channels carry one signal.' };
    const { sampleRate, frames } = inspection.format;
    const proposed = proposeTurns(await sound.talk(channels), channels, sampleRate, frames);
    if (proposed.turns.list.length === 0) return { whyNot: 'No turns were found: nobody stands out of the noise.' };
    repair = { ...turnsPlan(inspection.format.channels, proposed.turns, finds.turns), trims, level: base.level };
    notes.push(...proposed.warnings, `The room is ${sayDecibels(proposed.quieterDb, 'dB')} quieter under one talker.`);
  }
  if (repair.action === 'leave' && repair.trims.some(doesSomething)) repair = { ...repair, action: 'trim' };
  return { repair, notes };
}

async function findLineUp(
  pair: [number, number],
  { format }: Inspection,
  sound: ClipSound,
): Promise<{ trims: InputTrim[]; note: string } | { whyNot: string }> {
  const beyond = pair.find((channel) => channel > format.channels);
  if (beyond !== undefined)
    return { whyNot: `There is no channel ${beyond} to line up: the clip has ${format.channels}.` };
  const found = lineUpOf(await sound.match(pair), format.sampleRate);
  if (!found) return { whyNot: `Channels ${pair[0]} and ${pair[1]} have no sound in common to line up by.` };
  const late = found.delaySamples > 0 ? pair[1] : pair[0];
  const samples = Math.abs(found.delaySamples);
  const { driftPpm, jump } = found;
  const note =
    samples === 0
      ? driftPpm === 0 && !jump
        ? 'The two are in step.'
        : 'The two start in step.'
      : `${capital(channelName(late, format.channels))} is ${sayNumber(samples, Number.isInteger(samples) ? 0 : 2)} samples (${sayNumber((1000 * samples) / format.sampleRate, 2)} ms) late: the other waits for it.`;
  const upsideDown = found.polarity === 'inverted' ? ' One of them is upside down.' : '';
  const second = capital(channelName(pair[1], format.channels));
  const apart =
    driftPpm === 0
      ? ''
      : ` ${second} runs ${sayNumber(Math.abs(driftPpm), 1)} ppm ${driftPpm > 0 ? 'behind' : 'ahead'}: it is brought to the other’s clock.`;
  const jumps = jump
    ? ` From ${sayTime(jump.atSeconds, 2)} on ${channelName(pair[1], format.channels)} is ${sayNumber(Math.abs(jump.delaySamples), Number.isInteger(jump.delaySamples) ? 0 : 2)} samples ${jump.delaySamples > 0 ? 'later' : 'earlier'} than before: undone from there on.`
    : '';
  return { trims: lineUpTrims(pair, found, format), note: `${note}${apart}${jumps}${upsideDown}` };
}

function balanceTrims(
  inspection: Inspection,
  before: readonly InputTrim[],
): { trims: InputTrim[] } | { whyNot: string } {
  if (inspection.format.channels < 2) return { whyNot: 'Balance needs two channels: the clip is mono.' };
  const gainOf = (channel: number): number => before.find((trim) => trim.channel === channel)?.gainDb ?? 0;
  // The louder comes down: raising the other could clip it. What has been trimmed before counts.
  const found = balance(inspection, [1, 2], 'down', gainOf(2) - gainOf(1));
  return found ?? { whyNot: 'One of the sides has no loudness to balance.' };
}
