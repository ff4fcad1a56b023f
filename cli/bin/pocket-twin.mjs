#!/usr/bin/env node
import { launch } from '@pocket-twin/media/launch.mjs';

const { main } = await launch(new URL('../main.built.mjs', import.meta.url), new URL('../main.ts', import.meta.url));
process.exitCode = await main(process.argv.slice(2));
