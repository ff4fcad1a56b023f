/**
 * The four phases of the 4-times interpolation filter printed in
 * ITU-R BS.1770-5, annex 2. The sum of absolute taps of the middle phases is
 * 2.02, so no interpolated value exceeds that times its largest neighbour.
 */
const PHASE_0 = [
  0.001708984375, 0.010986328125, -0.0196533203125, 0.033203125, -0.0594482421875, 0.1373291015625, 0.97216796875,
  -0.102294921875, 0.047607421875, -0.026611328125, 0.014892578125, -0.00830078125,
];
const PHASE_1 = [
  -0.0291748046875, 0.029296875, -0.0517578125, 0.089111328125, -0.16650390625, 0.465087890625, 0.77978515625,
  -0.2003173828125, 0.1015625, -0.0582275390625, 0.0330810546875, -0.0189208984375,
];

export const TRUE_PEAK_TAPS = 12;
export const TRUE_PEAK_PHASES: readonly (readonly number[])[] = [
  PHASE_0,
  PHASE_1,
  [...PHASE_1].reverse(),
  [...PHASE_0].reverse(),
];
/**
 * How far an interpolated value can exceed the largest of its twelve neighbours: in any phase, in the
 * outer two phases, and the share that the taps outside the middle four can add in the middle two.
 */
export const TRUE_PEAK_BOUNDS = [
  absoluteSum(PHASE_1),
  absoluteSum(PHASE_0),
  absoluteSum([...PHASE_1.slice(0, 4), ...PHASE_1.slice(8)]),
] as const;

function absoluteSum(taps: number[]): number {
  return taps.reduce((sum, tap) => sum + Math.abs(tap), 0);
}
