import { expose } from 'comlink';
import { type FoundTrains, type TrainSearch, findTrains } from '@unirota/core';

const api = {
  /** Every train that is asked for; the best of them. */
  find(wanted: TrainSearch): Promise<FoundTrains> {
    return Promise.resolve(findTrains(wanted));
  },
};
export type SearchApi = typeof api;
expose(api);
