import { nameFor } from './projectName.ts';

test('a project is named for the folder that all of it was in, else for the day', () => {
  const from = (...folders: string[]) => folders.map((folder) => ({ folder }));
  const day = new Date(2026, 10, 26);
  expect(nameFor(from('Ferry', 'Ferry/day 2'), day)).toBe('Ferry');
  expect(nameFor(from('', ''), day)).toBe('Clips of 26 November');
  expect(nameFor(from('Ferry', 'Winch'), day)).toBe('Clips of 26 November');
  expect(nameFor(from('F'.repeat(200)), day)).toBe('F'.repeat(120));
});
