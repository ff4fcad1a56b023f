// The hot loops of measuring. Two channels travel together, one in each lane of a vector: frame i
// of a pair is the 16 bytes [left, right] as 64-bit floats. A lone last channel has zeros beside it.
// Each loop is held to the plain version in core/test/referenceMeter.ts.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

export { decodePair } from './meterBlock/decodePair.as';
export { scanPair, truePeakPair, writeBucket } from './meterBlock/scanPair.as';
export { speechPair, weightFrame, weightPair } from './meterBlock/filterPair.as';
