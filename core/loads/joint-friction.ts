import type { Load } from '../fields/types';
import { type Stated, flagField, numberField, refField } from '../fields/fields';
import { againstMotion } from './dry';
import type { LoadKind } from './protocol';
import { MM, PLACE_ALONG, number, placeOf } from './stated';

const FIELDS = [
  refField('joint', 'Joint', 'coordinate', { required: true }),
  numberField('value', 'Friction', { required: true, min: 0, max: 1e7, help: 'N·m or N against the motion, whichever way it goes.' }),
  PLACE_ALONG,
];
/** What is stated of one, from its fields. */
export type JointFriction = Load & Stated<typeof FIELDS>;

/** Dry friction along a joint: against the motion, whichever way it goes. */
export const jointFriction: LoadKind<JointFriction> = {
  type: 'joint-friction',
  label: 'Friction of a joint',
  fields: FIELDS,
  bind(load, bodies) {
    const coordinate = bodies.coordinateOf(load.joint);
    const stated = number(load.value);
    return coordinate && againstMotion({ id: load.id, coordinate, place: placeOf(load, coordinate), size: () => stated, lost: true });
  },
};

const RESISTANCE_FIELDS = [
  refField('joint', 'Joint', 'coordinate', { required: true }),
  numberField('value', 'Load', {
    required: true,
    min: 0,
    max: 1e7,
    help: 'N·m or N against the motion, whichever way it goes: what a cutter, a rake or a fan resists with. It is work that is done, not a loss.',
  }),
  PLACE_ALONG,
];
/** What is stated of one, from its fields. */
export type JointResistance = Load & Stated<typeof RESISTANCE_FIELDS>;

/** A resisting load: always against the motion, and nothing at rest. */
export const jointResistance: LoadKind<JointResistance> = {
  type: 'joint-resistance',
  label: 'Resisting load on a joint',
  fields: RESISTANCE_FIELDS,
  bind(load, bodies) {
    const coordinate = bodies.coordinateOf(load.joint);
    const stated = number(load.value);
    return coordinate && againstMotion({ id: load.id, coordinate, place: placeOf(load, coordinate), size: () => stated, lost: false });
  },
};

const BRAKE_FIELDS = [
  refField('joint', 'Joint', 'coordinate', { required: true }),
  numberField('value', 'Torque', {
    required: true,
    min: 0,
    max: 1e7,
    help: 'N·m or N up to which it holds, and with which it slips: of a brake at a joint on the frame, of a slip clutch at the joint between two shafts on one axis.',
  }),
  flagField('released', 'Released', { initial: false }),
  PLACE_ALONG,
];
/** What is stated of one, from its fields. */
export type JointBrake = Load & Stated<typeof BRAKE_FIELDS>;

/** A brake or a slip clutch: holds a joint up to its torque and slips beyond. */
export const jointBrake: LoadKind<JointBrake> = {
  type: 'joint-brake',
  label: 'Brake or slip clutch',
  fields: BRAKE_FIELDS,
  bind(load, bodies) {
    const coordinate = bodies.coordinateOf(load.joint);
    const stated = load.released === true ? 0 : number(load.value);
    return coordinate && againstMotion({ id: load.id, coordinate, place: placeOf(load, coordinate), size: () => stated, lost: true });
  },
};

const turns = (l: { joint?: string }): boolean => l.joint !== undefined;
const RUBBING_FIELDS = [
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
export type JointRubbing = Load & Stated<typeof RUBBING_FIELDS>;

/**
 * Friction by the joint's own reaction: μ N on a slide, μ N d/2 on a journal, μ Fa dc/2 on a thrust collar. N is the force across the axis; over a guide of length L
 * its two ends carry F/2 ± M/L.
 */
export const jointRubbing: LoadKind<JointRubbing> = {
  type: 'joint-rubbing',
  label: 'Friction by coefficient',
  fields: RUBBING_FIELDS,
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
        if (length > 0) {
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
