import { problem } from '../findings/index';
import type { Element } from '../fields/types';
import { type Stated, moduleField, numberField, wholeField } from '../fields/fields';
import { type GearData, gearData, gearCurve } from '../teeth/index';
import { DENSITY_FIELD, num } from './gear';
import { ElementKind, holeProblem } from './protocol';
import { RATING_FIELDS } from './rating-fields';
import { type Solid, circle, polygon } from '../solids/index';

const RAD = Math.PI / 180;

/** Heights of teeth at the outer end, of the module. */
export const BEVEL_HEIGHTS = { addendum: 1, dedendum: 1.2 } as const;

export interface BevelGiven {
  teeth: number;
  module: number;
  alpha: number;
  /** Pitch cone angle, rad. */
  cone: number;
  width: number;
}

/** Geometry of a bevel gear element: module at the outer end, mm and rad. */
export const bevelOf = (e: BevelGear): BevelGiven => ({
  teeth: num(e.teeth),
  module: num(e.module),
  alpha: num(e.pressureAngle, 20) * RAD,
  cone: num(e.coneAngle, 45) * RAD,
  width: num(e.width),
});

const FIELDS = [
  wholeField('teeth', 'Teeth', { symbol: 'z', required: true, min: 6, max: 500 }),
  moduleField('Outer module', 'me', { required: true }),
  numberField('pressureAngle', 'Pressure angle', { unit: 'deg', symbol: 'α', initial: 20, min: 5, max: 40 }),
  numberField('coneAngle', 'Pitch cone angle', { unit: 'deg', symbol: 'δ', required: true, above: 0, below: 90 }),
  numberField('width', 'Face width', { unit: 'mm', symbol: 'b', required: true, above: 0, max: 1e5 }),
  numberField('bore', 'Bore', { unit: 'mm', initial: 0, min: 0, max: 1e5 }),
  numberField('phase', 'Phase', { unit: 'deg', symbol: 'φ', initial: 0, min: -360, max: 360 }),
  ...RATING_FIELDS,
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type BevelGear = Element & Stated<typeof FIELDS>;

/**
 * What is drawn of one: its outline at the outer end, how far that
 * is from the apex, and the inner end as a part of the outer.
 */
function drawn(e: BevelGear): { flat: GearData; height: number; inner: number } {
  const g = bevelOf(e);
  const k = Math.cos(g.cone);
  const flat = gearData({
    teeth: g.teeth,
    module: g.module,
    alpha: g.alpha,
    beta: 0,
    shift: 0,
    internal: false,
    addendum: BEVEL_HEIGHTS.addendum * k,
    dedendum: BEVEL_HEIGHTS.dedendum * k,
    fillet: 0.2 * k,
    tipCut: 0,
    thinning: 0,
  });
  const outer = flat.pitchRadius / Math.sin(g.cone);
  return { flat, height: outer * Math.cos(g.cone), inner: Math.max(0.05, 1 - g.width / outer) };
}

/**
 * A straight bevel gear: the apex of its pitch cone at the element's origin, the cone
 * opening along +z. Teeth are drawn by the transverse outline of the outer end, tapered
 * to the apex (an approximation: Tredgold's back cone gives the tooth heights).
 */
export const bevelGear: ElementKind<BevelGear> = {
  type: 'bevel-gear',
  label: 'Bevel gear',
  mirrored: (e) => ({ phase: -num(e.phase) }),
  fields: FIELDS,
  shape(e): Solid[] {
    const { flat, height, inner } = drawn(e);
    const bore = num(e.bore) / 2;
    return [
      {
        kind: 'taper',
        outline: gearCurve(flat, num(e.phase) * RAD),
        holes: bore > 0 ? [circle(Math.min(bore / inner, flat.rootRadius * 0.9))] : [],
        height,
        inner,
      },
    ];
  },
  simplified(e) {
    const { flat, height, inner } = drawn(e);
    const bore = Math.min(num(e.bore) / 2, 0.9 * inner * flat.rootRadius);
    const between = (least: number, innerLeast: number): Solid => ({
      kind: 'turned',
      section: polygon([innerLeast, inner * height, inner * flat.tipRadius, inner * height, flat.tipRadius, height, least, height]),
    });
    return {
      whole: [between(bore, bore)],
      ring: [between(flat.rootRadius, inner * flat.rootRadius)],
      lines: [{ kind: 'pitch', from: [inner * flat.pitchRadius, inner * height], to: [flat.pitchRadius, height] }],
    };
  },
  plain(e) {
    const { flat, height, inner } = drawn(e);
    const root = flat.rootRadius,
      bore = Math.min(num(e.bore) / 2, 0.9 * inner * root);
    return [{ kind: 'turned', section: polygon([bore, inner * height, inner * root, inner * height, root, height, bore, height]) }];
  },
  derived(e) {
    const g = bevelOf(e);
    const d = g.module * g.teeth;
    return [
      { key: 'pitchDiameter', label: 'Outer pitch diameter', symbol: 'de', value: d, unit: 'mm', formula: 'de = me·z' },
      {
        key: 'coneDistance',
        label: 'Outer cone distance',
        symbol: 'Re',
        value: d / 2 / Math.sin(g.cone),
        unit: 'mm',
        formula: 'Re = de / (2·sin δ)',
      },
      { key: 'virtualTeeth', label: 'Virtual teeth', symbol: 'zv', value: g.teeth / Math.cos(g.cone), formula: 'zv = z / cos δ (Tredgold)' },
    ];
  },
  problems: (e) => {
    const g = bevelOf(e);
    const outer = (g.module * g.teeth) / 2 / Math.sin(g.cone);
    if (g.width > outer) return [problem('face-too-wide/gear', {})];
    // The bore is straight, the roots taper to the inner end.
    const inner = Math.max(0.05, 1 - g.width / outer);
    return holeProblem('a bore', num(e.bore), 2 * inner * (g.module * g.teeth * 0.5 - 1.25 * g.module * Math.cos(g.cone)));
  },
};
