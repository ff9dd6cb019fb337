import { problem } from '../findings/index';
import type { Element } from '../fields/types';
import { type Stated, numberField, wholeField } from '../fields/fields';
import { RackGiven, rackCurve } from '../teeth/index';
import { DENSITY_FIELD, FORM_FIELDS, TOOTH_FIELDS, num } from './gear';
import { RATING_FIELDS } from './rating-fields';
import { THICKNESS_FIELDS, thicknessProblems } from './thickness';
import { ElementKind, otherHand } from './protocol';
import { rectangle } from '../solids/index';

const RAD = Math.PI / 180;

/** Geometry of a rack element, mm and rad. */
export const rackOf = (e: Rack): RackGiven => ({
  module: num(e.module),
  alpha: num(e.pressureAngle, 20) * RAD,
  beta: num(e.helix) * RAD * (e.hand === 'left' ? -1 : 1),
  teeth: num(e.teeth),
  addendum: num(e.addendum, 1),
  dedendum: num(e.dedendum, 1.25),
  fillet: num(e.fillet, 0.38),
  height: Math.max(num(e.height), num(e.dedendum, 1.25) * num(e.module) * 1.2),
});

const FIELDS = [
  wholeField('teeth', 'Teeth', { symbol: 'z', required: true, min: 1, max: 5000 }),
  ...TOOTH_FIELDS,
  numberField('width', 'Face width', { unit: 'mm', symbol: 'b', required: true, above: 0, max: 1e5 }),
  numberField('height', 'Body height', {
    unit: 'mm',
    symbol: 'h',
    required: true,
    above: 0,
    max: 1e5,
    help: 'From the reference line to the back.',
  }),
  ...FORM_FIELDS,
  numberField('phase', 'Phase', {
    unit: 'mm',
    symbol: 'φ',
    initial: 0,
    min: -1e5,
    max: 1e5,
    help: 'Place of a tooth centre from the middle of the rack.',
  }),
  ...THICKNESS_FIELDS,
  DENSITY_FIELD,
  ...RATING_FIELDS,
];
/** What is stated of one, from its fields. */
export type Rack = Element & Stated<typeof FIELDS>;

/** A rack: its reference line along the element's x axis, teeth towards +y, face width along z. */
export const rack: ElementKind<Rack> = {
  type: 'rack',
  label: 'Rack',
  turnedInMirror: true,
  mirrored: (e) => ({ phase: -num(e.phase), ...(num(e.helix) !== 0 && { hand: otherHand(e.hand) }) }),
  fields: FIELDS,
  shape(e) {
    const b = num(e.width);
    const k = rackOf(e);
    const lean = k.beta === 0 ? undefined : -Math.tan(k.beta);
    return [{ kind: 'prism', outline: rackCurve(k, num(e.phase)), from: -b / 2, to: b / 2, lean }];
  },
  simplified(e) {
    const k = rackOf(e);
    const {
      start: [from, back],
      pieces,
    } = rackCurve(k, num(e.phase));
    const [to] = pieces[0].to;
    const b = num(e.width) / 2,
      tip = k.addendum * k.module;
    return {
      whole: [{ kind: 'prism', outline: rectangle(from, back, to, tip), from: -b, to: b }],
      ring: [{ kind: 'prism', outline: rectangle(from, -k.dedendum * k.module, to, tip), from: -b, to: b }],
      lines: [{ kind: 'pitch', flat: true, from: [from, 0], to: [to, 0], z: [-b, b] }],
    };
  },
  plain(e) {
    const k = rackOf(e);
    // The outline begins along the back.
    const {
      start: [from, back],
      pieces,
    } = rackCurve(k, num(e.phase));
    const [to] = pieces[0].to;
    const b = num(e.width) / 2;
    return [{ kind: 'prism', outline: rectangle(from, back, to, -k.dedendum * k.module), from: -b, to: b }];
  },
  problems(e) {
    const least = num(e.dedendum, 1.25) * num(e.module);
    const low = num(e.height) <= least ? [problem('height-too-small', { size: num(e.height), least: Number(least.toFixed(3)) })] : [];
    return [...thicknessProblems(e, 0), ...low];
  },
  derived(e) {
    const k = rackOf(e);
    const p = (Math.PI * k.module) / Math.cos(k.beta);
    return [
      { key: 'pitch', label: 'Pitch', symbol: 'p', value: p, unit: 'mm', formula: k.beta ? 'p = π·m / cos β' : 'p = π·m' },
      { key: 'length', label: 'Toothed length', symbol: 'L', value: p * k.teeth, unit: 'mm', formula: 'L = z·p' },
      { key: 'diametralPitch', label: 'Diametral pitch', symbol: 'P', value: 25.4 / k.module, unit: '1/in', formula: 'P = 25.4 mm / m' },
    ];
  },
};
