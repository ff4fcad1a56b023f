import { SpacedTasks } from './spacedTasks.ts';

test('acts run in their order, each in a task of its own, those added by an act as well', async () => {
  const turns = new SpacedTasks();
  const done: string[] = [];
  await new Promise<void>((end) => {
    turns.add(
      () => {
        done.push('first');
        queueMicrotask(() => done.push('after the first'));
        turns.add(() => done.push('added'), end);
      },
      () => done.push('second'),
    );
    done.push('nothing yet');
  });
  expect(done).toEqual(['nothing yet', 'first', 'after the first', 'second', 'added']);
  turns.close();
});
