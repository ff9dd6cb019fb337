import { type Stated, numberField, refField, vectorField } from '../fields/fields';
import { type Load, FRAME } from '../fields/types';
import { PLACEMENT, movePoint } from '../math/index';
import { COIL_FIELDS } from './coil';
import type { LoadKind } from './protocol';
import { MM, number, pointOn } from './stated';

/** Shorter than this it has no direction, m. */
const NO_LENGTH = 1e-9;

const FIELDS = [
  refField('member', 'From', 'member', { required: true }),
  vectorField('at', 'Point on it', { unit: 'mm' }),
  refField('other', 'To', 'member', { help: 'The frame where nothing is chosen.' }),
  vectorField('otherAt', 'Point on it', { unit: 'mm' }),
  numberField('rate', 'Rate', { unit: 'N/mm', symbol: 'c', required: true, min: 0, max: 1e6 }),
  numberField('free', 'Free length', { unit: 'mm', symbol: 'L0', initial: 0, min: 0, max: 1e6 }),
  numberField('preload', 'Preload', { unit: 'N', initial: 0, min: -1e7, max: 1e7, help: 'Tension at the free length.' }),
  numberField('damping', 'Damping', { unit: 'N*s/mm', initial: 0, min: 0, max: 1e6 }),
  ...COIL_FIELDS,
];
/** What is stated of one, from its fields. */
export type Spring = Load & Stated<typeof FIELDS>;

/** A spring with damper between points of two members: pulls both together when it is longer than its free length. */
export const spring: LoadKind<Spring> = {
  type: 'spring',
  label: 'Spring between points',
  fields: FIELDS,
  bind(load, bodies) {
    const from = String(load.member);
    const to = String(load.other ?? FRAME);
    const a = bodies.bodyOf(from) ?? 0;
    const b = bodies.bodyOf(to) ?? 0;
    const p = pointOn(from, load.at, bodies);
    const o = pointOn(to, load.otherAt, bodies);
    // SI from here: N/m, m, N, N·s/m.
    const rate = number(load.rate) / MM;
    const free = number(load.free) * MM;
    const preload = number(load.preload);
    const damping = number(load.damping) / MM;
    const h = new Float64Array(6);
    /** Speed of the point at o in `h` of a body, along d. */
    const speed = (twist: Float64Array, body: number, at: number, dx: number, dy: number, dz: number): number => {
      const t = 6 * body;
      const [x, y, z] = [h[at], h[at + 1], h[at + 2]];
      return (
        (twist[t + 3] + twist[t + 1] * z - twist[t + 2] * y) * dx +
        (twist[t + 4] + twist[t + 2] * x - twist[t] * z) * dy +
        (twist[t + 5] + twist[t] * y - twist[t + 1] * x) * dz
      );
    };
    /** What the damper took at the last call. */
    let taken = 0;
    return {
      on: 'bodies',
      lost: () => taken,
      apply({ placements, twist }, into) {
        movePoint(h, 0, placements, PLACEMENT * a, p[0], p[1], p[2]);
        movePoint(h, 3, placements, PLACEMENT * b, o[0], o[1], o[2]);
        const dx = h[3] - h[0];
        const dy = h[4] - h[1];
        const dz = h[5] - h[2];
        const length = Math.hypot(dx, dy, dz);
        taken = 0;
        if (length < NO_LENGTH) return;
        const stretching = (speed(twist, b, 3, dx, dy, dz) - speed(twist, a, 0, dx, dy, dz)) / length;
        taken = damping * stretching ** 2;
        const k = (rate * (length - free) + preload + damping * stretching) / length;
        into.force(load.id, a, h[0], h[1], h[2], k * dx, k * dy, k * dz);
        into.force(load.id, b, h[3], h[4], h[5], -k * dx, -k * dy, -k * dz);
      },
    };
  },
};
