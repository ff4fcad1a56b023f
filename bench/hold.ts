import { Application } from '../e2e/application.ts';
import { endFirstStarts } from '../e2e/hold/firstStarts.ts';
import { Siege } from '../e2e/hold/holdOut.ts';

// What is lost when things are killed: worker, server and database at random moments of a shoot coming in, being measured and written, and first starts
// that are ended. Nothing may be. npm run bench -- hold [SEED]
const seed = Number(process.argv[2] ?? Math.floor(Date.now() / 1000) % 100_000);
console.log(`seed ${seed}`);
const began = Date.now();
const app = await Application.start({ POCKET_TWIN_DEMO: 'off' });
const siege = new Siege(
  app,
  {
    seed,
    clips: 300,
    writings: 40,
    workerKills: 120,
    serverKills: 30,
    beforeRow: 10,
    databaseRestarts: 6,
    databaseKills: 2,
    outageSeconds: 20,
  },
  (line) => console.log(line),
);
// Homes of their own: they do not meet.
const [starts] = await Promise.all([endFirstStarts(20, seed), siege.run()]).finally(() => app.stop());
console.log(`20 first starts ended, 10 by SIGTERM and 10 by SIGKILL: ${20 - starts.length} homes start again`);
const broken = [...siege.broken, ...starts];
for (const sentence of broken.slice(0, 20)) console.log(`  ${sentence}`);
console.log(
  `${broken.length === 0 ? 'Nothing was lost' : `${broken.length} things were lost`}, in ${((Date.now() - began) / 60_000).toFixed(1)} min`,
);
if (broken.length > 0) process.exitCode = 1;
