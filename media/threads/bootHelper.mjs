// A thread that helps to measure starts here.
import { launch } from '../launch.mjs';

await launch(new URL('./helpMeasuring.built.mjs', import.meta.url), new URL('./helpMeasuring.ts', import.meta.url));
