import { setFlagsFromString } from 'node:v8';

// V8 starts WebAssembly with its quick compiler and is meant to change to the good one where code runs hot. For the meters'
// kernels that change came late or never (measured: 2 to 4 times slower for a whole hour of sound). They are a few
// kilobytes, so the good compiler takes milliseconds. Imported by whatever runs kernels on Node, before it does.
setFlagsFromString('--no-liftoff');
