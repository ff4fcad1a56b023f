import { createContext, useContext } from 'react';
import { LineupPlayer } from './lineupPlayer.ts';
import { fetchRows, RowKeeper } from './rowKeeper.ts';
import { isRowFresh, rowsCame } from './rowsSlice.ts';
import type { AppStore } from './store.ts';
import { UploadManager } from './uploadManager.ts';

/** What lives as long as the page, whatever screen a person looks at. */
export interface Services {
  uploads: UploadManager;
  lineupPlayer: LineupPlayer;
  rows: RowKeeper;
}

export function makeServices({ dispatch, getState }: AppStore): Services {
  return {
    uploads: new UploadManager(dispatch),
    lineupPlayer: new LineupPlayer(dispatch),
    rows: new RowKeeper(fetchRows, {
      isFresh: (id) => isRowFresh(getState().rows, id),
      version: () => getState().rows.version,
      take: (rows, gone, version) => {
        dispatch(rowsCame({ rows, gone, version }));
      },
    }),
  };
}

export const ServicesContext = createContext<Services | null>(null);

export function useServices(): Services {
  const services = useContext(ServicesContext);
  if (!services) throw new Error('Services are made once, around the whole page.');
  return services;
}
