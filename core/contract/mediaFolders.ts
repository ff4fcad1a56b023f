import { ListingWanted, MediaFolder, MediaListing } from '../schema/mediaFolder.ts';
import { endpoint } from './endpoint.ts';

export const mediaFolders = {
  mediaFolders: endpoint({
    method: 'get',
    path: '/media-folders',
    summary: 'The folders whose files can be brought in where they lie',
    answer: MediaFolder.array(),
  }),
  mediaEntries: endpoint({
    method: 'get',
    path: '/media-folders/:index/entries',
    summary: 'A page of what lies in one of their folders',
    query: ListingWanted,
    answer: MediaListing,
  }),
};
