import type { Element } from '../fields/types';
import { type Stated, choiceField, moduleField, numberField, wholeField } from '../fields/fields';
import { type GearData, gearData, gearCurve } from '../teeth/index';
import { DENSITY_FIELD, num } from './gear';
import { KEYWAY_FIELD, boreOutline, keywayProblems } from './keyway';
import { roundTeeth } from './simplified';
import { ElementKind, holeProblem, otherHand } from './protocol';
import { type Solid, bar, threaded } from '../solids/index';

const RAD = Math.PI / 180;

export interface WormGiven {
  starts: number;
  /** Axial module and reference diameter, mm. */
  module: number;
  diameter: number;
  alpha: number;
  leadAngle: number;
  hand: 1 | -1;
  length: number;
}

/** Geometry of a worm, mm and rad; α in the normal section. */
export const wormOf = (e: Worm): WormGiven => {
  const starts = num(e.starts, 1),
    module = num(e.module),
    diameter = num(e.diameter);
  return {
    starts,
    module,
    diameter,
    alpha: num(e.pressureAngle, 20) * RAD,
    leadAngle: Math.atan((starts * module) / diameter),
    hand: e.hand === 'left' ? -1 : 1,
    length: num(e.length),
  };
};

/** Radius at the root of a worm's thread, mm. */
const wormCore = (g: WormGiven): number => Math.max(g.diameter / 2 - 1.2 * g.module, 0.1 * g.diameter);

const WORM_FIELDS = [
  wholeField('starts', 'Starts', { symbol: 'z1', initial: 1, min: 1, max: 20 }),
  moduleField('Axial module', 'mx', { required: true, max: 500 }),
  numberField('diameter', 'Reference diameter', { unit: 'mm', symbol: 'd1', required: true, above: 0, max: 1e5 }),
  numberField('pressureAngle', 'Pressure angle', { unit: 'deg', symbol: 'αn', initial: 20, min: 5, max: 40 }),
  choiceField('hand', 'Hand', ['right', 'left'], { initial: 'right' }),
  numberField('length', 'Length', { unit: 'mm', symbol: 'b1', required: true, above: 0, max: 1e5 }),
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type Worm = Element & Stated<typeof WORM_FIELDS>;

/** A cylindrical worm along z. It is weighed by its reference cylinder, and drawn with its helices. */
export const worm: ElementKind<Worm> = {
  type: 'worm',
  label: 'Worm',
  mirrored: (e) => ({ hand: otherHand(e.hand) }),
  fields: WORM_FIELDS,
  // As much stands out of the reference cylinder, about, as is cut into it.
  shape(e): Solid[] {
    const g = wormOf(e);
    return [bar(g.diameter / 2, -g.length / 2, g.length / 2)];
  },
  thread(e) {
    const g = wormOf(e);
    return {
      outside: g.diameter / 2 + g.module,
      pitch: g.diameter / 2,
      from: -g.length / 2,
      to: g.length / 2,
      lead: Math.PI * g.module * g.starts * g.hand,
      starts: g.starts,
    };
  },
  simplified(e) {
    const g = wormOf(e);
    return roundTeeth(g.diameter / 2 + g.module, wormCore(g), g.diameter / 2, g.length / 2);
  },
  plain(e) {
    const g = wormOf(e);
    return [bar(wormCore(g), -g.length / 2, g.length / 2)];
  },
  // Straight flanks in the axial section: form A of ISO/TR 10828.
  threaded(e) {
    const g = wormOf(e);
    const slope = Math.tan(g.alpha) / Math.cos(g.leadAngle);
    const pitch = Math.PI * g.module;
    const profile = {
      crest: g.diameter / 2 + g.module,
      root: g.diameter / 2 - 1.2 * g.module,
      pitch,
      crestFlat: pitch / 2 - 2 * g.module * slope,
      rootFlat: pitch / 2 - 2.4 * g.module * slope,
      starts: g.starts,
    };
    const made = threaded(profile, -g.length / 2, g.length / 2, g.hand);
    return made && [made];
  },
  derived(e) {
    const g = wormOf(e);
    return [
      { key: 'lead', label: 'Lead', symbol: 'pz', value: Math.PI * g.module * g.starts, unit: 'mm', formula: 'pz = π·mx·z1' },
      { key: 'leadAngle', label: 'Lead angle', symbol: 'γ', value: g.leadAngle / RAD, unit: 'deg', formula: 'tan γ = z1·mx / d1' },
      { key: 'quotient', label: 'Diameter quotient', symbol: 'q', value: g.diameter / g.module, formula: 'q = d1 / mx' },
    ];
  },
};

/** How a bronze wheel is cast, for the rating of worm drives (AGMA 6034). */
export const WORM_BRONZES = ['sand-cast bronze', 'chill-cast bronze', 'centrifugally cast bronze'] as const;
export type WormBronze = (typeof WORM_BRONZES)[number];

const WORM_WHEEL_FIELDS = [
  wholeField('teeth', 'Teeth', { symbol: 'z2', required: true, min: 8, max: 1000 }),
  moduleField('Transverse module', 'mt', { required: true, max: 500 }),
  numberField('width', 'Face width', { unit: 'mm', symbol: 'b2', required: true, above: 0, max: 1e5 }),
  numberField('bore', 'Bore', { unit: 'mm', initial: 0, min: 0, max: 1e5 }),
  KEYWAY_FIELD,
  numberField('twist', 'Helix angle', {
    unit: 'deg',
    symbol: 'β',
    initial: 0,
    min: -60,
    max: 60,
    help: 'As drawn: the worm’s lead angle, positive right hand.',
  }),
  numberField('phase', 'Phase', { unit: 'deg', symbol: 'φ', initial: 0, min: -360, max: 360 }),
  choiceField('bronze', 'Bronze', WORM_BRONZES, { rare: true, help: 'For the rating by AGMA 6034, with a worm of hardened steel.' }),
  numberField('bendingLimit', 'Permissible bending stress', { rare: true, unit: 'MPa', above: 0, max: 3000, help: 'Of its teeth, for the rating.' }),
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type WormWheel = Element & Stated<typeof WORM_WHEEL_FIELDS>;

/** Pitch radius of a worm wheel, mm. */
export const wormWheelRadius = (e: WormWheel): number => (num(e.teeth) * num(e.module)) / 2;

const wormWheelOf = (e: WormWheel): GearData =>
  gearData({
    teeth: num(e.teeth),
    module: num(e.module),
    alpha: 20 * RAD,
    beta: 0,
    shift: 0,
    internal: false,
    addendum: 1,
    dedendum: 1.2,
    fillet: 0.2,
    tipCut: 0,
    thinning: 0,
  });

/** The wheel of a worm drive: teeth and face width; everything else it takes from its worm. */

export const wormWheel: ElementKind<WormWheel> = {
  type: 'worm-wheel',
  label: 'Worm wheel',
  mirrored: (e) => ({ phase: -num(e.phase), twist: -num(e.twist) }),
  fields: WORM_WHEEL_FIELDS,
  shape(e): Solid[] {
    const b = num(e.width);
    const g = wormWheelOf(e);
    const bore = num(e.bore) / 2;
    return [
      {
        kind: 'prism',
        outline: gearCurve(g, num(e.phase) * RAD),
        holes: bore > 0 ? [boreOutline(Math.min(bore, g.rootRadius * 0.9), e.keyway)] : [],
        from: -b / 2,
        to: b / 2,
        twist: (b * Math.tan(num(e.twist) * RAD)) / g.pitchRadius,
      },
    ];
  },
  simplified(e) {
    const g = wormWheelOf(e),
      bore = Math.min(num(e.bore) / 2, g.rootRadius * 0.9);
    return roundTeeth(g.tipRadius, g.rootRadius, g.pitchRadius, num(e.width) / 2, bore > 0 ? [boreOutline(bore, e.keyway)] : []);
  },
  plain(e) {
    const root = wormWheelOf(e).rootRadius,
      b = num(e.width) / 2;
    return [bar(root, -b, b, Math.min(num(e.bore) / 2, root * 0.9))];
  },
  problems(e) {
    const root = num(e.module) * (num(e.teeth) - 2.4);
    const bore = holeProblem('a bore', num(e.bore), root);
    return bore.length ? bore : keywayProblems(e.keyway, num(e.bore), root / 2);
  },
  derived: (e) => [
    { key: 'pitchDiameter', label: 'Pitch diameter', symbol: 'd2', value: num(e.teeth) * num(e.module), unit: 'mm', formula: 'd2 = z2·mt' },
  ],
};
