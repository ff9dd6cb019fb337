import { problem } from '../findings/index';
import type { Element, Exact } from '../fields/types';
import { type Stated, moduleField, flagField, choiceField, numberField, wholeField } from '../fields/fields';
import { type Ratio, exactly, toNumber } from '../math/index';
import {
  GearData,
  formRadius,
  outlineCrosses,
  gearData,
  gearCurve,
  isUndercut,
  pointedTip,
  spanOverTeeth,
  spanTeeth,
  undercutLimit,
} from '../teeth/index';
import { type Solid, bar, circle } from '../solids/index';
import { KEYWAY_FIELD, boreOutline, keywayProblems } from './keyway';
import { RATING_FIELDS } from './rating-fields';
import { SERIES_FIELDS, thicknessOf, thicknessProblems } from './thickness';
import { roundTeeth } from './simplified';
import { DENSITY_STEEL, Derived, ElementKind, ElementProblem, otherHand } from './protocol';

const RAD = Math.PI / 180;

/** Number of an optional exact field. */
export const num = (v: Exact | null | undefined, otherwise = 0): number => (v === undefined || v === null ? otherwise : toNumber(exactly(v)));
/** Exact value of an optional exact field; nothing stated is nothing. */
export const exactOf = (v: Exact | null | undefined, otherwise: Exact = 0): Ratio => exactly(v ?? otherwise);

/** Geometry of a gear element, mm and rad. */
export function gearOf(e: Gear): GearData {
  const had = known.get(e);
  if (had) return had;
  const g = gearData({
    teeth: num(e.teeth),
    module: num(e.module),
    alpha: num(e.pressureAngle, 20) * RAD,
    beta: num(e.helix, 0) * RAD * (e.hand === 'left' ? -1 : 1),
    shift: num(e.shift),
    internal: e.internal === true,
    addendum: num(e.addendum, 1),
    dedendum: num(e.dedendum, 1.25),
    fillet: num(e.fillet, 0.38),
    tipCut: num(e.tipCut),
    thinning: num(e.thinning),
  });
  known.set(e, g);
  return g;
}
/** Elements are never changed in place: an edit makes a new one, so its data can be kept with it. */
const known = new WeakMap<Element, GearData>();

/** The thickest and the thinnest teeth that a gear may have by its stated limits; undefined where it states none. */
export function toothLimits(e: Gear): { readonly thick: GearData; readonly thin: GearData } | undefined {
  const g = gearOf(e);
  const limits = thicknessOf(e, 2 * g.pitchRadius);
  return limits && { thick: gearData({ ...g, thinning: 0 - limits.upper }), thin: gearData({ ...g, thinning: 0 - limits.lower }) };
}

/** The fields of the basic rack, shared by gears and racks. */
export const TOOTH_FIELDS = [
  moduleField('Module', 'm', { required: true, help: 'Normal module; 25.4 mm over the diametral pitch.' }),
  numberField('pressureAngle', 'Pressure angle', {
    unit: 'deg',
    symbol: 'α',
    initial: 20,
    min: 5,
    max: 40,
    help: 'Of the basic rack, in the normal section (ISO 53: 20°).',
  }),
  numberField('helix', 'Helix angle', { unit: 'deg', symbol: 'β', initial: 0, min: 0, max: 60 }),
  choiceField('hand', 'Hand of helix', ['right', 'left'], { initial: 'right', when: (e: { helix?: Exact }) => num(e.helix) !== 0 }),
];
export const FORM_FIELDS = [
  numberField('addendum', 'Addendum factor', { rare: true, symbol: 'haP*', initial: 1, min: 0.2, max: 2 }),
  numberField('dedendum', 'Dedendum factor', { rare: true, symbol: 'hfP*', initial: 1.25, min: 0.3, max: 2.5 }),
  numberField('fillet', 'Root fillet factor', { rare: true, symbol: 'ρfP*', initial: 0.38, min: 0, max: 1 }),
];
export const DENSITY_FIELD = numberField('density', 'Density', {
  rare: true,
  unit: 'kg/m3',
  symbol: 'ρ',
  initial: DENSITY_STEEL,
  min: 0,
  max: 30000,
});

const FIELDS = [
  wholeField('teeth', 'Teeth', { symbol: 'z', required: true, min: 4, max: 2000 }),
  ...TOOTH_FIELDS,
  numberField('shift', 'Profile shift', { symbol: 'x', initial: 0, min: -2, max: 3, help: 'Positive away from the axis.' }),
  numberField('width', 'Face width', { unit: 'mm', symbol: 'b', required: true, above: 0, max: 1e5 }),
  numberField('bore', 'Bore', { unit: 'mm', symbol: 'd₀', initial: 0, min: 0, max: 1e5, when: (e: { internal?: boolean }) => !e.internal }),
  KEYWAY_FIELD,
  flagField('internal', 'Internal teeth', { initial: false }),
  numberField('rim', 'Outside diameter of rim', { unit: 'mm', min: 0, max: 1e6, when: (e: { internal?: boolean }) => e.internal === true }),
  ...FORM_FIELDS,
  numberField('tipCut', 'Tip shortening', { rare: true, unit: 'mm', initial: 0, min: 0, max: 1000 }),
  numberField('thinning', 'Tooth thinning for backlash', { rare: true, unit: 'mm', initial: 0, min: 0, max: 100 }),
  numberField('phase', 'Phase', {
    unit: 'deg',
    symbol: 'φ',
    initial: 0,
    min: -360,
    max: 360,
    help: 'Angle of a tooth centre from the gear’s own zero.',
  }),
  ...SERIES_FIELDS,
  DENSITY_FIELD,
  ...RATING_FIELDS,
];
/** What is stated of one, from its fields. */
export type Gear = Element & Stated<typeof FIELDS>;

/** How deep the straight flanks of the cutter reach, in modules: to where its corner is rounded. */
const straightDepth = (g: GearData): number => g.dedendum - g.fillet * (1 - Math.sin(g.alpha));

/** Outside radius of an internal gear, mm. */
const internalRim = (e: Gear, g: GearData): number => Math.max(num(e.rim) / 2, g.rootRadius + 1.5 * g.module);

export const gear: ElementKind<Gear> = {
  type: 'gear',
  label: 'Gear',
  mirrored: (e) => ({ phase: -num(e.phase), ...(num(e.helix) !== 0 && { hand: otherHand(e.hand) }) }),
  fields: FIELDS,
  shape(e): Solid[] {
    const g = gearOf(e);
    const b = num(e.width);
    const outline = gearCurve(g, num(e.phase) * RAD);
    const twist = g.beta === 0 ? 0 : (b * Math.tan(g.beta)) / g.pitchRadius;
    if (g.internal) {
      return [{ kind: 'prism', outline: circle(internalRim(e, g)), holes: [outline], from: -b / 2, to: b / 2, twist }];
    }
    const bore = num(e.bore) / 2;
    return [{ kind: 'prism', outline, holes: bore > 0 ? [boreOutline(bore, e.keyway)] : [], from: -b / 2, to: b / 2, twist }];
  },
  simplified(e) {
    const g = gearOf(e),
      b = num(e.width) / 2,
      bore = num(e.bore) / 2;
    if (!g.internal) return roundTeeth(g.tipRadius, g.rootRadius, g.pitchRadius, b, bore > 0 ? [boreOutline(bore, e.keyway)] : []);
    return {
      whole: [bar(internalRim(e, g), -b, b, g.tipRadius)],
      ring: [bar(g.rootRadius, -b, b, g.tipRadius)],
      lines: [{ kind: 'pitch', from: [g.pitchRadius, -b], to: [g.pitchRadius, b] }],
    };
  },
  plain(e) {
    const g = gearOf(e),
      b = num(e.width) / 2;
    return [g.internal ? bar(internalRim(e, g), -b, b, g.rootRadius) : bar(g.rootRadius, -b, b, Math.min(num(e.bore) / 2, 0.9 * g.rootRadius))];
  },
  derived(e): Derived[] {
    const g = gearOf(e);
    // Anvils square to helical teeth need a face wide enough to bear on both.
    const k = g.internal ? undefined : spanTeeth(g, formRadius(g));
    const W = k === undefined ? 0 : spanOverTeeth(g, k);
    const spans = k !== undefined && num(e.width) > W * Math.sin(Math.abs(g.beta)) * Math.cos(g.alpha);
    const limits = toothLimits(e);
    const limit = (key: string, label: string, symbol: string, of: GearData): Derived[] =>
      k === undefined
        ? []
        : [{ key, label: `${label} span over ${k} teeth`, symbol, value: spanOverTeeth(of, k), unit: 'mm', formula: 'W + Esn·cos α' }];
    return [
      {
        key: 'pitchDiameter',
        label: 'Pitch diameter',
        symbol: 'd',
        value: 2 * g.pitchRadius,
        unit: 'mm',
        formula: g.beta ? 'd = z·m / cos β' : 'd = z·m',
      },
      { key: 'baseDiameter', label: 'Base diameter', symbol: 'db', value: 2 * g.baseRadius, unit: 'mm', formula: 'db = d·cos αt' },
      {
        key: 'tipDiameter',
        label: 'Tip diameter',
        symbol: 'da',
        value: 2 * g.tipRadius,
        unit: 'mm',
        formula: g.internal ? 'da = d − 2·m·(haP* − x)' : 'da = d + 2·m·(haP* + x)',
      },
      {
        key: 'rootDiameter',
        label: 'Root diameter',
        symbol: 'df',
        value: 2 * g.rootRadius,
        unit: 'mm',
        formula: g.internal ? 'df = d + 2·m·(hfP* + x)' : 'df = d − 2·m·(hfP* − x)',
      },
      { key: 'pitch', label: 'Pitch', symbol: 'p', value: g.pitch, unit: 'mm', formula: 'p = π·m' },
      { key: 'diametralPitch', label: 'Diametral pitch', symbol: 'P', value: 25.4 / g.module, unit: '1/in', formula: 'P = 25.4 mm / m' },
      {
        key: 'span',
        label: `Span over ${k} teeth`,
        symbol: 'W',
        value: W,
        unit: 'mm',
        formula: 'W = m·cos α·[(k − ½)·π + z·inv αt + 2·x·tan α]',
      },
      ...(limits
        ? [
            ...limit('spanMost', 'Greatest', 'Wmax', limits.thick),
            ...limit('spanLeast', 'Least', 'Wmin', limits.thin),
            {
              key: 'middleThinning',
              label: 'Thinning in the middle of the limits',
              value: (limits.thick.thinning + limits.thin.thinning) / 2,
              unit: 'mm',
              formula: '−(Esns + Esni)/2',
            },
          ]
        : []),
    ].filter((d) => spans || !d.key.startsWith('span'));
  },
  problems(e): ElementProblem[] {
    const g = gearOf(e);
    const out: ElementProblem[] = thicknessProblems(e, 2 * g.pitchRadius);
    if (!g.internal && num(e.bore) / 2 >= g.rootRadius) {
      out.push(problem('bore-too-large', { bore: num(e.bore), rootRadius: (2 * g.rootRadius).toFixed(2) }));
    } else if (!g.internal) out.push(...keywayProblems(e.keyway, num(e.bore), g.rootRadius));
    if (g.internal && num(e.rim) > 0 && num(e.rim) / 2 <= g.rootRadius) {
      out.push(problem('rim-too-small', { size: num(e.rim), least: Number((2 * g.rootRadius).toFixed(2)) }));
    }
    const height = Math.abs(g.tipRadius - g.rootRadius);
    if ((g.internal ? g.rootRadius - g.tipRadius : g.tipRadius - g.rootRadius) <= 1e-9 * g.module) {
      out.push(problem('no-tooth', { why: 'the tips are cut down to the roots' }, 'tipCut'));
    } else if (g.halfTooth <= 0) {
      out.push(problem('no-tooth', { why: 'thinning and profile shift take all of their thickness' }, num(e.thinning) > 0 ? 'thinning' : 'shift'));
    } else if (g.halfTooth >= Math.PI / g.teeth) out.push(problem('no-tooth', { why: 'their spaces are filled: less profile shift' }, 'shift'));
    else if (height > 0 && outlineCrosses(g)) {
      out.push(problem('no-tooth', { why: 'their flanks cross each other at the root: a smaller dedendum or fillet' }, 'dedendum'));
    }
    if (g.internal && g.tipRadius < g.baseRadius) {
      out.push(problem('tip-inside-base', {}));
    }
    if (!g.internal && g.rootRadius <= 0) {
      out.push(problem('no-root', {}));
    } else if (!g.internal && isUndercut(g)) {
      const limit = Math.ceil(undercutLimit(g.alpha, g.beta, g.shift, straightDepth(g)) - 1e-9);
      out.push(problem('undercut', { teeth: g.teeth, limit }));
    }
    if (!g.internal && g.rootRadius > 0 && pointedTip(g, g.tipRadius) < g.tipRadius - 1e-9) {
      out.push(problem('pointed-tip', {}));
    }
    return out;
  },
};
