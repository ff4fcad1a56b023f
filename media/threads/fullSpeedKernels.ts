import { setFlagsFromString } from 'node:v8';
import { canFuse } from '@pocket-twin/core/kernels/instantiateKernel.ts';

// V8 starts WebAssembly with its quick compiler and is meant to change to the good one where code runs hot. For the meters'
// kernels that change came late or never (measured: 2 to 4 times slower for a whole hour of sound). They are a few
// kilobytes, so the good compiler takes milliseconds. Imported by whatever runs kernels on Node, before it does.
setFlagsFromString('--no-liftoff');
// Node 20 has fused products behind this (relaxed SIMD; browsers have it as it is).
if (!canFuse()) setFlagsFromString('--experimental-wasm-relaxed-simd');
