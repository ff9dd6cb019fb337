import type { Id } from '../../fields/types';
import type { CouplingModel } from '../protocol';
import { bindBand } from './band';
import { bindCurve } from './curve';
import { bindHold } from './hold';
import { bindProportional } from './proportional';
import type { Binding, BoundRow } from './protocol';

export * from './protocol';

/** Laws whose rows the exact elimination cannot take. */
export const isNumeric = (model: CouplingModel): boolean => model.law === 'curve' || model.law === 'hold';

/** Binds what a coupling ties to a train. `mixed`: the elimination left the row to the solver. */
export function bindRow(coupling: Id, model: CouplingModel, to: Binding, mixed: boolean): BoundRow {
  switch (model.law) {
    case 'proportional':
      return bindProportional(coupling, model, to, mixed);
    case 'band':
      return bindBand(coupling, model, to, mixed);
    case 'curve':
      return bindCurve(coupling, model, to);
    case 'hold':
      return bindHold(coupling, model, to);
  }
}
