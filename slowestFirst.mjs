// Which suites take longest, measured on two cores: begun last, one of them would run while the other core has nothing left to do.
import TestSequencer from '@jest/test-sequencer';

const SLOWEST = [
  'e2e/inTime.e2e.ts',
  'e2e/lineup.e2e.ts',
  'e2e/firstDay.e2e.ts',
  'e2e/bringingIn.e2e.ts',
  'e2e/day.e2e.ts',
  'e2e/hold.e2e.ts',
  'e2e/dayInLineup.e2e.ts',
  'e2e/handoff.e2e.ts',
  'e2e/evidence.e2e.ts',
  'cli/handoff.test.ts',
  'cli/usedFilms.test.ts',
  'cli/inTime.test.ts',
  'server/handoffs/handoffs.test.ts',
  'demo/demo.test.ts',
  'server/history/day.test.ts',
  'media/handoff/replaceSound.test.ts',
  'core/diagnose/soundField.test.ts',
  'core/diagnose/middleAndSide.test.ts',
  'media/read/hostile.test.ts',
  'core/riff/hostileWav.test.ts',
  'cli/travelsAlong.test.ts',
  'core/repair/run/movingLine.test.ts',
  'core/diagnose/diagnose.test.ts',
  'core/diagnose/madeSignals.test.ts',
  'cli/cli.test.ts',
  'server/lineup/shoot.test.ts',
];

export default class SlowestFirst extends TestSequencer {
  /** The others come as they always do: those that failed, then the largest. */
  sort(tests) {
    const place = ({ path }) => {
      const at = SLOWEST.findIndex((name) => path.endsWith(`/${name}`));
      return at < 0 ? SLOWEST.length : at;
    };
    return super.sort(tests).sort((a, b) => place(a) - place(b));
  }
}
