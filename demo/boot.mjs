// The thread that builds the demo starts here.
import { launch } from '@pocket-twin/media/launch.mjs';

await launch(new URL('./main.built.mjs', import.meta.url), new URL('./main.ts', import.meta.url));
