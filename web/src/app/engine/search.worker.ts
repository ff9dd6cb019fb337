import { expose } from 'comlink';
import { type FoundTrains, type Study, type StudyRange, type TrainSearch, type Vibration, findTrains, study, vibrationOf } from '@unirota/core';
import type { Design } from '@unirota/core/document';

const api = {
  /** Every train that is asked for; the best of them. */
  find(wanted: TrainSearch): Promise<FoundTrains> {
    return Promise.resolve(findTrains(wanted));
  },
  /** Results over a range of a quantity, in a load case or as stated. */
  study(design: Design, range: StudyRange, loadCase: string | undefined): Promise<Study> {
    return Promise.resolve(study(design, range, loadCase));
  },
  /** Natural frequencies, and how outputs give; `held`: while the sources stand still. */
  vibration(design: Design, held: boolean): Promise<Vibration> {
    return Promise.resolve(vibrationOf(design, held));
  },
};
export type SearchApi = typeof api;
expose(api);
