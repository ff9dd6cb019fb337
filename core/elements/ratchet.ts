import type { Element } from '../fields/types';
import { type Stated, choiceField, numberField, wholeField } from '../fields/fields';
import { DENSITY_FIELD, num } from './gear';
import { Derived, ElementKind, holeProblem } from './protocol';
import { circle } from './solid';

const depthOf = (e: RatchetWheel): number => num(e.depth) || Math.min(0.25 * num(e.diameter), (0.8 * Math.PI * num(e.diameter)) / (2 * num(e.teeth)));

const RATCHET_WHEEL_FIELDS = [
  wholeField('teeth', 'Teeth', { symbol: 'z', required: true, min: 3, max: 1000 }),
  numberField('diameter', 'Outside diameter', { unit: 'mm', symbol: 'da', required: true, above: 0, max: 1e5 }),
  numberField('depth', 'Depth of teeth', { unit: 'mm', min: 0, max: 1e4, help: 'Left open, it follows from the pitch.' }),
  numberField('width', 'Width', { unit: 'mm', symbol: 'b', required: true, above: 0, max: 1e4 }),
  numberField('bore', 'Bore', { unit: 'mm', initial: 0, min: 0, max: 1e5 }),
  choiceField('free', 'Free to turn', ['forward', 'back'], {
    initial: 'forward',
    help: 'The sense about its axis in which the pawl lets it pass.',
  }),
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type RatchetWheel = Element & Stated<typeof RATCHET_WHEEL_FIELDS>;

/** A ratchet wheel about z. Seen against its axis, teeth that are steep on the clockwise side hold it from turning clockwise. */
export const ratchetWheel: ElementKind<RatchetWheel> = {
  type: 'ratchet-wheel',
  label: 'Ratchet wheel',
  fields: RATCHET_WHEEL_FIELDS,
  shape(e) {
    const z = num(e.teeth),
      R = num(e.diameter) / 2,
      r = Math.max(0.3 * R, R - depthOf(e));
    const outline: number[] = [];
    for (let k = 0; k < z; k++) {
      const a = (2 * Math.PI * k) / z,
        p = (2 * Math.PI) / z;
      // Steep flank behind the tip: forward-free teeth lead with the slope.
      const pts: [number, number][] =
        e.free === 'back'
          ? [
              [R, a],
              [r, a + 0.96 * p],
            ]
          : [
              [r, a],
              [R, a + 0.96 * p],
            ];
      for (const [q, t] of pts) outline.push(q * Math.cos(t), q * Math.sin(t));
    }
    const bore = Math.min(num(e.bore) / 2, 0.8 * r),
      w = num(e.width) / 2;
    return [{ kind: 'prism', outline, holes: bore > 0 ? [circle(bore, 32)] : undefined, from: -w, to: w }];
  },
  problems(e) {
    const R = num(e.diameter) / 2;
    const deep = holeProblem('a depth', 2 * num(e.depth), 2 * R, 'depth');
    return deep.length ? deep : holeProblem('a bore', num(e.bore), 2 * (R - depthOf(e)));
  },
  derived(e): Derived[] {
    return [
      { key: 'pitch', label: 'Lost motion up to', value: 360 / num(e.teeth), unit: 'deg', formula: '360°/z' },
      { key: 'depthUsed', label: 'Depth of teeth', value: depthOf(e), unit: 'mm' },
    ];
  },
};

const PAWL_FIELDS = [
  numberField('length', 'Length', { unit: 'mm', required: true, above: 0, max: 1e4 }),
  numberField('width', 'Width', { unit: 'mm', symbol: 'b', required: true, above: 0, max: 1e4 }),
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type Pawl = Element & Stated<typeof PAWL_FIELDS>;

/** A pawl: its pin at the origin, its nose along x. Its own small swing is not followed; it stands with the member that carries it. */
export const pawl: ElementKind<Pawl> = {
  type: 'pawl',
  label: 'Pawl',
  fields: PAWL_FIELDS,
  shape(e) {
    const l = num(e.length),
      t = 0.14 * l,
      w = num(e.width) / 2;
    return [{ kind: 'prism', outline: [-t, -t, 0.5 * l, -t, l, -0.3 * t, l, 0.3 * t, 0.5 * l, t, -t, t], from: -w, to: w }];
  },
};
