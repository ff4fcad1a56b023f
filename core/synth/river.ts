import { gaussian, seededRandom } from '../signal/random.ts';
import { atLevel, later, mix, scale, silence, type Mono } from './mono.ts';

interface Ripple {
  /** -1 far left to 1 far right. */
  position: number;
  brightness: number;
  seed: number;
}

const RIPPLES: Ripple[] = [
  { position: -0.8, brightness: 0.5, seed: 11 },
  { position: -0.3, brightness: 0.2, seed: 12 },
  { position: 0.1, brightness: 0.08, seed: 13 },
  { position: 0.5, brightness: 0.3, seed: 14 },
  { position: 0.9, brightness: 0.6, seed: 15 },
];
// A spaced pair, 34 cm apart.
const WIDEST_DELAY_SAMPLES = 48;

/** Moving water heard by a spaced pair: every ripple reaches both, louder and earlier on its own side. */
export function riverPair(frames: number, rmsDbfs: number): [Mono, Mono] {
  let left = silence(frames);
  let right = silence(frames);
  for (const ripple of RIPPLES) {
    const water = ripplingNoise(frames, ripple);
    const delay = Math.round(Math.abs(ripple.position) * (WIDEST_DELAY_SAMPLES / 2));
    const far = 0.6;
    const near = 1;
    const onLeft = ripple.position < 0;
    left = mix(left, scale(onLeft ? water : later(water, delay), onLeft ? near : far));
    right = mix(right, scale(onLeft ? later(water, delay) : water, onLeft ? far : near));
  }
  return [atLevel(left, rmsDbfs), atLevel(right, rmsDbfs)];
}

/** Low-passed noise that swells slowly, with drops splashing now and then. */
function ripplingNoise(frames: number, { brightness, seed }: Ripple): Mono {
  const random = seededRandom(seed);
  const next = gaussian(random);
  const out = new Float64Array(frames);
  const phase = random() * 6.28;
  let low = 0;
  let splash = 0;
  for (let i = 0; i < frames; i++) {
    low += brightness * (next() - low);
    if (random() < 1 / 9000) splash = 2 + 5 * random();
    splash *= 0.9985;
    out[i] = low * (1 + 0.4 * Math.sin(phase + i / 31000) + splash);
  }
  return out;
}
