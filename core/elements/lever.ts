import type { Element } from '../fields/types';
import { type Stated, choiceField, numberField } from '../fields/fields';
import { DENSITY_FIELD, num } from './gear';
import { ElementKind, holeProblem } from './protocol';
import { type Outline, arc, bar, circle, line, outline, polygon } from '../solids/index';

/** Outline of a bar of length l along x from the origin, with round ends of radius r. */
const eyeBar = (l: number, r: number): Outline => outline([l, -r], [arc([l, -r], [l, 0], Math.PI), line([0, r]), arc([0, r], [0, 0], Math.PI)]);

const LEVER_FIELDS = [
  numberField('length', 'Length between eyes', { unit: 'mm', symbol: 'l', required: true, above: 0, max: 1e5 }),
  numberField('eye', 'Eye diameter', { unit: 'mm', required: true, above: 0, max: 1e4 }),
  numberField('hole', 'Hole diameter', { unit: 'mm', initial: 0, min: 0, max: 1e4 }),
  numberField('thickness', 'Thickness', { unit: 'mm', required: true, above: 0, max: 1e4 }),
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type Lever = Element & Stated<typeof LEVER_FIELDS>;

/** A lever: a bar with an eye at each end, from the origin along x. */
export const lever: ElementKind<Lever> = {
  type: 'lever',
  label: 'Lever',
  fields: LEVER_FIELDS,
  problems: (e) => holeProblem('a hole', num(e.hole), num(e.eye), 'hole'),
  shape(e) {
    const l = num(e.length),
      r = num(e.eye) / 2,
      h = Math.min(num(e.hole) / 2, 0.8 * r),
      t = num(e.thickness) / 2;
    return [{ kind: 'prism', outline: eyeBar(l, r), holes: h > 0 ? [circle(h), circle(h, l)] : undefined, from: -t, to: t }];
  },
};

const POINTER_FIELDS = [numberField('length', 'Length', { unit: 'mm', required: true, above: 0, max: 1e5 }), DENSITY_FIELD];
/** What is stated of one, from its fields. */
export type Pointer = Element & Stated<typeof POINTER_FIELDS>;

/** A pointer from the origin along x, over a dial. */
export const pointer: ElementKind<Pointer> = {
  type: 'pointer',
  label: 'Pointer',
  fields: POINTER_FIELDS,
  shape(e) {
    const l = num(e.length);
    return [
      {
        kind: 'prism',
        outline: polygon([-0.2 * l, -0.03 * l, 0, -0.05 * l, l, 0, 0, 0.05 * l, -0.2 * l, 0.03 * l]),
        from: 0,
        to: Math.max(1, 0.02 * l),
      },
      bar(0.07 * l, 0, Math.max(1.5, 0.04 * l)),
    ];
  },
};

const DIAL_FIELDS = [
  numberField('diameter', 'Diameter', { unit: 'mm', required: true, above: 0, max: 1e5 }),
  numberField('divisions', 'Divisions', { initial: 12, min: 1, max: 720 }),
  numberField('thickness', 'Thickness', { unit: 'mm', initial: 4, above: 0, max: 1e4 }),
  choiceField('scale', 'Scale goes', ['clockwise', 'counter-clockwise'], { initial: 'clockwise' }),
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type Dial = Element & Stated<typeof DIAL_FIELDS>;

/** A dial about z with divisions on its rim; a pointer or a mark reads against it. */
export const dial: ElementKind<Dial> = {
  mirrored: (e) => ({ scale: e.scale === 'counter-clockwise' ? 'clockwise' : 'counter-clockwise' }),
  type: 'dial',
  label: 'Dial',
  fields: DIAL_FIELDS,
  shape(e) {
    const R = num(e.diameter) / 2,
      t = num(e.thickness, 4),
      n = Math.round(num(e.divisions, 12));
    const marks = Array.from({ length: n }, (_, k) => {
      const a = ((2 * Math.PI * k) / n) * (e.scale === 'counter-clockwise' ? 1 : -1),
        c = Math.cos(a),
        s = Math.sin(a),
        h = Math.min(0.012 * R, (0.3 * Math.PI * R) / n);
      const p = (r: number, y: number): [number, number] => [r * c - y * s, r * s + y * c];
      return {
        kind: 'prism' as const,
        outline: polygon([...p(k ? 0.88 * R : 0.78 * R, -h), ...p(0.97 * R, -h), ...p(0.97 * R, h), ...p(k ? 0.88 * R : 0.78 * R, h)]),
        from: 0,
        to: 0.15 * t,
      };
    });
    return [bar(R, -t, 0), ...marks];
  },
  plain: (e) => [bar(num(e.diameter) / 2, -num(e.thickness, 4), 0)],
  derived: (e) => [{ key: 'division', label: 'One division', value: 360 / num(e.divisions, 12), unit: 'deg', formula: '360°/n' }],
};
