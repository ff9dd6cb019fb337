import type { Load } from '../fields/types';
import { type Stated, numberField, refField } from '../fields/fields';
import { againstMotion } from './dry';
import type { LoadKind } from './protocol';
import { MM, PLACE_ALONG, number, placeOf } from './stated';

const turns = (l: { joint?: string }): boolean => l.joint !== undefined;
const FIELDS = [
  refField('joint', 'Joint', 'coordinate', { required: true }),
  numberField('coefficient', 'Coefficient of friction', { symbol: 'μ', required: true, min: 0, max: 2 }),
  numberField('diameter', 'Journal diameter', {
    unit: 'mm',
    symbol: 'd',
    initial: 0,
    min: 0,
    max: 1e5,
    when: turns,
    help: 'Of a turning joint: on it the force across the axis rubs.',
  }),
  numberField('collar', 'Mean diameter of the thrust collar', {
    unit: 'mm',
    symbol: 'dc',
    initial: 0,
    min: 0,
    max: 1e5,
    when: turns,
    help: 'Of a turning joint: on it the force along the axis rubs.',
  }),
  numberField('length', 'Length of the guide', {
    unit: 'mm',
    symbol: 'L',
    initial: 0,
    min: 0,
    max: 1e5,
    help: 'Between the two places that bear: what tilts presses on both. None: tilting is not counted.',
  }),
  PLACE_ALONG,
];
/** What is stated of one, from its fields. */
export type JointRubbing = Load & Stated<typeof FIELDS>;

/** A guide no longer than this has none, m. */
const NO_LENGTH = 1e-9;

/**
 * Friction by the joint's own reaction: μ N on a slide, μ N d/2 on a journal, μ Fa dc/2 on a thrust collar. N is the force across
 * the axis; over a guide of length L its two ends carry F/2 ± M/L.
 */
export const jointRubbing: LoadKind<JointRubbing> = {
  type: 'joint-rubbing',
  label: 'Friction by coefficient',
  fields: FIELDS,
  bind(load, bodies) {
    const coordinate = bodies.coordinateOf(load.joint);
    if (!coordinate) return undefined;
    const mu = number(load.coefficient),
      radius = coordinate.slide ? 1 : (number(load.diameter) * MM) / 2,
      collar = coordinate.slide ? 0 : (number(load.collar) * MM) / 2,
      length = number(load.length) * MM;
    let size = 0;
    return {
      ...againstMotion({ id: load.id, coordinate, place: placeOf(load, coordinate), size: () => size, lost: true }),
      get friction() {
        return size;
      },
      feel(fx, fy, fz, mx, my, mz, ax, ay, az) {
        const along = fx * ax + fy * ay + fz * az;
        const [x, y, z] = [fx - along * ax, fy - along * ay, fz - along * az];
        let pressed = Math.hypot(x, y, z);
        if (length > NO_LENGTH) {
          const [px, py, pz] = [(my * az - mz * ay) / length, (mz * ax - mx * az) / length, (mx * ay - my * ax) / length];
          pressed = Math.hypot(x / 2 + px, y / 2 + py, z / 2 + pz) + Math.hypot(x / 2 - px, y / 2 - py, z / 2 - pz);
        }
        const was = size;
        size = mu * (pressed * radius + Math.abs(along) * collar);
        return Math.abs(size - was);
      },
    };
  },
};
