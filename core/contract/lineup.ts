import { Lineup, LineupIndex, LineupQuery, LineupRow, RowsWanted } from '../schema/lineup.ts';
import { endpoint } from './endpoint.ts';

export const lineup = {
  lineup: endpoint({
    method: 'get',
    path: '/projects/:projectId/lineup',
    summary: 'The order of a project’s clips, sorted, searched, filtered and grouped by setup',
    query: LineupQuery,
    answer: Lineup,
  }),
  lineupIndex: endpoint({
    method: 'get',
    path: '/projects/:projectId/lineup/index',
    summary: 'All that the lineup is made from, so that sorting, searching and filtering need no server',
    answer: LineupIndex,
  }),
  rows: endpoint({
    method: 'post',
    path: '/projects/:projectId/rows',
    summary: 'Rows of the lineup by their ids',
    body: RowsWanted,
    answer: LineupRow.array(),
  }),
};
