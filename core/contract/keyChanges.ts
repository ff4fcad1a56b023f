import { KeyChanges } from '../schema/keyChanges.ts';
import { endpoint } from './endpoint.ts';

export const keyChanges = {
  getKeyChanges: endpoint({
    method: 'get',
    path: '/key-changes',
    summary: 'Which keys a person has changed, by screen',
    answer: KeyChanges,
  }),
  setKeyChanges: endpoint({
    method: 'put',
    path: '/key-changes',
    summary: 'Changes keys; what is not named has the key that it came with',
    body: KeyChanges,
    answer: KeyChanges,
  }),
};
