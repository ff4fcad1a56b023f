// The hot loops of measuring. Two channels travel together, one in each lane of a vector: frame i
// of a pair is the 16 bytes [left, right] as 64-bit floats. A lone last channel has zeros beside it.
// Each loop is held to the plain version in core/test/referenceMeter.ts.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

export { finishRun, meterRun, runOut } from './meterBlock/meterRun.as';

// Nothing outside calls these: exported, they stay functions of their own, and each loop has all registers to itself.
export { decodePair } from './meterBlock/decodePair.as';
export { scanPair } from './meterBlock/scanPair.as';
export { speechPair, weightFrame, weightPair } from './meterBlock/filterPair.as';
