import {
  Handoff,
  HandoffDetail,
  HandoffFolder,
  HandoffForecast,
  HandoffReceipt,
  HandoffStep,
  HandoffWanted,
  Verified,
} from '../schema/handoff.ts';
import { endpoint } from './endpoint.ts';

export const handoffs = {
  handoffFolders: endpoint({
    method: 'get',
    path: '/handoff-folders',
    summary: 'The folders that files may be handed off into',
    answer: HandoffFolder.array(),
  }),
  listHandoffs: endpoint({
    method: 'get',
    path: '/projects/:projectId/handoffs',
    summary: 'A project’s handoffs, newest first',
    answer: Handoff.array(),
  }),
  forecastHandoff: endpoint({
    method: 'post',
    path: '/projects/:projectId/handoff-forecasts',
    summary: 'Which files a handoff would write, called what, where, and what is left; nothing is written',
    body: HandoffWanted,
    answer: HandoffForecast,
  }),
  handOff: endpoint({
    method: 'post',
    path: '/projects/:projectId/handoffs',
    summary: 'Begins a handoff: jobs write its files, prove them, and at the end receipts, the edit and checksums',
    body: HandoffWanted,
    answer: Handoff,
    status: 201,
  }),
  getHandoff: endpoint({
    method: 'get',
    path: '/handoffs/:handoffId',
    summary: 'A handoff with each of its files',
    answer: HandoffDetail,
  }),
  handoffFile: endpoint({
    method: 'get',
    path: '/handoff-files/:fileId',
    summary: 'One clip of a handoff with its receipt',
    answer: HandoffReceipt,
  }),
  stepHandoff: endpoint({
    method: 'post',
    path: '/handoffs/:handoffId/steps',
    summary: 'Pauses a handoff, lets it go on, cancels it, or tries its failed files again',
    body: HandoffStep,
    answer: Handoff,
  }),
  forgetHandoff: endpoint({
    method: 'delete',
    path: '/handoffs/:handoffId',
    summary: 'Forgets a handoff that is over; files in a folder of a person’s own stay there',
    status: 204,
  }),
  handoffArchive: endpoint({
    method: 'get',
    path: '/handoffs/:handoffId/archive',
    summary: 'All its files as one ZIP archive, streamed as they are written',
    answer: 'application/zip',
  }),
  handoffReceipt: endpoint({
    method: 'get',
    path: '/handoffs/:handoffId/receipt',
    summary: 'Its receipt, one page to read and print',
    answer: 'text/html',
  }),
  verifyHandoff: endpoint({
    method: 'post',
    path: '/handoffs/:handoffId/verification',
    summary: 'Whether its files are still what was handed off, by their checksums',
    answer: Verified,
  }),
};
