import { inspect } from '@pocket-twin/core/test/inspecting.ts';
import { chatter, noise } from '@pocket-twin/core/synth/noise.ts';
import { ribbonWords } from './ribbonWords.ts';

test('the ribbon is told in words: its sides, their levels, what differs', async () => {
  const words = ribbonWords(await inspect([chatter(0.1, 4, 1), noise(0.0008, 4, 2)]));
  expect(words).toMatch(
    /^The level over 00:04\.0: left rises above a seam, right hangs below it, and under both stands what differs\. Left: −\d+\.\d LUFS, peak −?\d+\.\d dBFS\. Right: −\d+\.\d LUFS, peak −\d+\.\d dBFS\. The difference lies −?\d+\.\d dB against the sum\.$/,
  );
  const copies = ribbonWords(await inspect([chatter(0.1, 4, 1), chatter(0.1, 4, 1)]));
  expect(copies).toContain('The difference is nothing at all.');
  expect(ribbonWords(await inspect([new Float64Array(48000)]))).toBe(
    'The level over 00:01.0: one lane a channel. Mono: silent.',
  );
});
