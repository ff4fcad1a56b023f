import type { Handoff } from '@pocket-twin/core/schema/handoff.ts';
import { handoffHeadline, handoffStateWords } from './handoffWords.ts';

const standing = (state: Handoff['state'], files: Partial<Handoff['files']>): Handoff =>
  ({
    state,
    name: 'Ferry',
    files: { waiting: 0, writing: 0, done: 0, failed: 0, cancelled: 0, ...files },
  }) as Handoff;

test('a headline says how a handoff stands, and what failed, in every state', () => {
  const open = { waiting: 5, writing: 2, done: 12, failed: 1 };
  expect(handoffHeadline(standing('running', open))).toBe('Handing off “Ferry”: 12 of 20 clips, 1 failed.');
  expect(handoffHeadline(standing('paused', open))).toBe('“Ferry” is paused: 12 of 20 clips are there, 1 failed.');
  expect(handoffHeadline(standing('held', { waiting: 3 }))).toBe('“Ferry” waits: 0 of 3 clips are there.');
  expect(handoffHeadline(standing('cancelled', { done: 4, cancelled: 3, failed: 2 }))).toBe(
    '“Ferry” was cancelled: 4 of 9 clips stay, with their proof, 2 failed.',
  );
  expect(handoffHeadline(standing('done', { done: 19, failed: 1 }))).toBe(
    '“Ferry”: 19 of 20 clips are handed off, 1 failed.',
  );
  expect(handoffHeadline(standing('done', { done: 1 }))).toBe('“Ferry”: the clip is handed off, and proven.');
  expect(handoffHeadline(standing('done', { done: 20 }))).toBe('“Ferry”: all 20 clips are handed off, and proven.');
});

test('a word or two tell it among others', () => {
  expect(handoffStateWords(standing('paused', { waiting: 1, done: 2 }))).toBe('paused at 2 of 3');
  expect(handoffStateWords(standing('done', { done: 2, failed: 1 }))).toBe('1 failed');
  expect(handoffStateWords(standing('done', { done: 3 }))).toBe('3 done');
});
