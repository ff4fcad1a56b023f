import { CONTRACT } from '@pocket-twin/core/contract/contract.ts';
import { addressOf } from '@pocket-twin/core/contract/endpoint.ts';

/** Frames of a clip, an array a channel; fewer than asked for at the end. @throws where the server does not answer */
export async function fetchSamples(
  clipId: string,
  start: number,
  frames: number,
  channels: number,
): Promise<Float32Array[]> {
  const floats = await fetchFloats(addressOf(CONTRACT.samples, { clipId, start, frames }));
  const count = floats.length / channels;
  return Array.from({ length: channels }, (_, c) => floats.slice(c * count, (c + 1) * count));
}

/** Buckets of an outline's level: for each lane minimum, maximum, RMS. */
export function fetchOutline(clipId: string, level: number, from: number, to: number): Promise<Float32Array> {
  return fetchFloats(addressOf(CONTRACT.outline, { clipId, level, from, to }));
}

async function fetchFloats({ url, params }: ReturnType<typeof addressOf>): Promise<Float32Array> {
  const answer = await fetch(`/api${url}?${new URLSearchParams(params as Record<string, string>).toString()}`);
  if (!answer.ok) throw new Error(`${url}: ${answer.status}`);
  return new Float32Array(await answer.arrayBuffer());
}
