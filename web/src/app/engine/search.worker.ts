import { expose } from 'comlink';
import { type FoundTrains, type Study, type StudyRange, type TrainSearch, findTrains, study } from '@unirota/core';
import type { Design } from '@unirota/core/document';

const api = {
  /** Every train that is asked for; the best of them. */
  find(wanted: TrainSearch): Promise<FoundTrains> {
    return Promise.resolve(findTrains(wanted));
  },
  /** Results over a range of a quantity. */
  study(design: Design, range: StudyRange): Promise<Study> {
    return Promise.resolve(study(design, range));
  },
};
export type SearchApi = typeof api;
expose(api);
