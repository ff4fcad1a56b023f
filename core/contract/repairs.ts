import { SuggestionUsed, UseSuggestion } from '../schema/batch.ts';
import { Clip, KeepRepair } from '../schema/clip.ts';
import { Forecast, ForecastWanted } from '../schema/forecast.ts';
import { Found, LineUp, LineUpWanted, ProposalWanted } from '../schema/proposal.ts';
import { endpoint } from './endpoint.ts';

export const repairs = {
  keepRepair: endpoint({
    method: 'put',
    path: '/clips/:clipId/repair',
    summary: 'Keeps a repair',
    body: KeepRepair,
    answer: Clip,
  }),
  undoRepair: endpoint({
    method: 'post',
    path: '/clips/:clipId/repair/undo',
    summary: 'Goes back to the repair before',
    answer: Clip,
  }),
  redoRepair: endpoint({
    method: 'post',
    path: '/clips/:clipId/repair/redo',
    summary: 'Goes forward again',
    answer: Clip,
  }),
  forecast: endpoint({
    method: 'post',
    path: '/clips/:clipId/forecast',
    summary: 'The levels of what a repair would write; quick: of a long clip an estimate',
    body: ForecastWanted,
    answer: Forecast,
  }),
  propose: endpoint({
    method: 'post',
    path: '/clips/:clipId/proposals',
    summary: 'A repair completed with what is found on the clip: sections, turns, line-up, balance',
    body: ProposalWanted,
    answer: Found,
  }),
  measureLineUp: endpoint({
    method: 'post',
    path: '/clips/:clipId/line-up',
    summary: 'How much later one channel is than another; null where they have no sound in common',
    body: LineUpWanted,
    answer: LineUp.nullable(),
  }),
  useSuggestion: endpoint({
    method: 'post',
    path: '/projects/:projectId/suggestions',
    summary: 'Keeps a suggestion on the chosen clips whose suggestion it is, or on each its own',
    body: UseSuggestion,
    answer: SuggestionUsed,
  }),
};
