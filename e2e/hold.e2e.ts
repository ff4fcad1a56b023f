import { Application } from './application.ts';
import { endFirstStarts } from './hold/firstStarts.ts';
import { Siege } from './hold/holdOut.ts';

// The short form of `npm run bench -- hold`.

test('worker, server and database killed while clips come in, are measured and written: nothing is lost, and an open page shows what is there', async () => {
  const app = await Application.start({ POCKET_TWIN_DEMO: 'off' });
  try {
    const siege = new Siege(
      app,
      {
        seed: 13,
        clips: 30,
        writings: 6,
        workerKills: 8,
        serverKills: 4,
        beforeRow: 2,
        databaseRestarts: 1,
        databaseKills: 1,
        outageSeconds: 4,
      },
      () => undefined,
    );
    await siege.run();
    expect(siege.broken).toEqual([]);
  } finally {
    await app.stop();
  }
}, 240_000);

test('a first start that is ended leaves a home that starts', async () => {
  expect(await endFirstStarts(2, 13)).toEqual([]);
}, 180_000);
