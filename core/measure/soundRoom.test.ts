import fc from 'fast-check';
import { SoundRoom, withSoundRoom } from './soundRoom.ts';

test('what is taken lies nowhere over what was taken before, of whatever length, until it is given back', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 0, max: 200_000 }), { maxLength: 12 }), (lengths) => {
      const room = new SoundRoom();
      const taken = lengths.map((length, i) => room.take(length).fill(i));
      taken.forEach((values, i) => {
        expect(values).toHaveLength(lengths[i]);
        expect(values.every((value) => value === i)).toBe(true);
      });
    }),
    { numRuns: 20 },
  );
});

test('after going back to a mark the same room is taken again, and what was before it stays', () => {
  const room = new SoundRoom();
  const kept = room.copyOf(Float64Array.of(1, 2, 3));
  const mark = room.mark();
  const lost = room.take(1000).fill(7);
  for (let i = 0; i < 5; i++) room.take(100_000).fill(8);
  room.backTo(mark);
  room.take(1000).fill(9);
  expect(lost[0]).toBe(9);
  expect([...kept]).toEqual([1, 2, 3]);
});

test('two who look at the same time have a room each, and the next has theirs, also after one has failed', async () => {
  const used: SoundRoom[] = [];
  const look = (fails: boolean): Promise<void> =>
    withSoundRoom(async (room) => {
      used.push(room);
      const sound = room.take(10).fill(used.length);
      await Promise.resolve();
      expect(new Set(sound).size).toBe(1);
      if (fails) throw new Error('The disk is gone.');
    });
  const ends = await Promise.allSettled([look(false), look(true)]);
  expect(ends.map(({ status }) => status)).toEqual(['fulfilled', 'rejected']);
  expect(used[0]).not.toBe(used[1]);
  await look(false);
  expect(used.slice(0, 2)).toContain(used[2]);
});
