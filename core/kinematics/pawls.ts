import { along } from '../couplings/index';
import type { Id } from '../fields/types';
import type { Kinematics } from './compiled';

/** A pawl that rides on its wheel: its turn about its own z beyond how it is stated, rad, at a pose. Allocates nothing. */
export interface SwingingPawl {
  element: Id;
  /** Its angle about its pin where coordinates stand, rad. */
  at(q: Float64Array): number;
}

/** Steps of a pitch at which the swing is worked out, once; straight between them. */
const STEPS = 96;

/** The pawls of a train that swing. */
export function swingingPawls(k: Kinematics): SwingingPawl[] {
  return k.compiled.couplings.flatMap(({ model }, row): SwingingPawl[] => {
    if (model.law !== 'hold' || !model.swing) return [];
    const { element, pitch, over } = model.swing;
    const table = over(STEPS);
    const [port] = k.rows[row].ports;
    return [
      {
        element,
        at(q) {
          const steps = (along(port, q) / pitch) * STEPS;
          const whole = Math.floor(steps);
          const from = ((whole % STEPS) + STEPS) % STEPS;
          return table[from] + (table[(from + 1) % STEPS] - table[from]) * (steps - whole);
        },
      },
    ];
  });
}
