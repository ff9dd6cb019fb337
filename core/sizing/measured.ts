import { Field, numberField, wholeField } from '../fields/fields';

/** A helper at a field: asks for what can be measured and gives the field's value. */
export interface Measure {
  key: string;
  label: string;
  /** What it is worked out by, to be shown. */
  formula: string;
  fields: readonly Field[];
  /** The size that follows from what was measured; undefined where it does not. */
  value(given: Record<string, number>): number | undefined;
}

const count = (key: string, label: string, initial: number): Field => wholeField(key, label, { initial, min: 1, max: 5000, required: true });
const length = (key: string, label: string, initial: number): Field =>
  numberField(key, label, { unit: 'mm', initial, above: 0, max: 1e6, required: true });

/** Module from the outside diameter over the tips of a gear without profile shift: m = da/(z + 2). Common practice. */
const fromOutside: Measure = {
  key: 'outside',
  label: 'from outside diameter and teeth',
  formula: 'm = da / (z + 2)',
  fields: [length('da', 'Outside diameter', 80), count('z', 'Teeth', 38)],
  value: (g) => g['da'] / (g['z'] + 2),
};

/**
 * Module from the span over k teeth of a spur gear at 20° without
 * profile shift; ISO 21771: Wk = m cos α ((k − ½) π + z inv α).
 */
const fromSpan: Measure = {
  key: 'span',
  label: 'from span over teeth',
  formula: 'm = Wk / (cos α·((k − ½)·π + z·inv α)), α = 20°',
  fields: [length('w', 'Span', 15.34), count('k', 'over teeth', 3), count('z', 'Teeth', 20)],
  value(g) {
    const a = Math.PI / 9;
    return g['w'] / (Math.cos(a) * ((g['k'] - 0.5) * Math.PI + g['z'] * (Math.tan(a) - a)));
  },
};

/** Module of an internal gear from the diameter inside its tips: m = da/(z − 2). Common practice. */
const fromInside: Measure = {
  key: 'inside',
  label: 'internal: from the diameter inside its tips',
  formula: 'm = da / (z − 2)',
  fields: [length('da', 'Diameter inside the tips', 116), count('z', 'Teeth', 60)],
  value: (g) => (g['z'] > 2 ? g['da'] / (g['z'] - 2) : undefined),
};

const angle = (key: string, label: string, initial: number, most: number): Field =>
  numberField(key, label, { unit: 'deg', initial, min: 0, max: most, required: true });
const RAD = Math.PI / 180;

/** Normal module of a helical or shifted gear over its tips: da = z·m/cos β + 2·m·(1 + x); ISO 21771. */
const fromHelical: Measure = {
  key: 'helical',
  label: 'with helix and profile shift, from outside diameter',
  formula: 'm = da / (z / cos β + 2·(1 + x))',
  fields: [
    length('da', 'Outside diameter', 84.2),
    count('z', 'Teeth', 38),
    angle('beta', 'Helix angle', 15, 60),
    numberField('x', 'Profile shift', { initial: 0, min: -2, max: 3, required: true }),
  ],
  value: (g) => g['da'] / (g['z'] / Math.cos(g['beta'] * RAD) + 2 * (1 + g['x'])),
};

/** Outer module of a bevel wheel from the diameter over its tips and its cone: da = m·(z + 2·cos δ). Common practice. */
const fromCone: Measure = {
  key: 'cone',
  label: 'bevel: from outside diameter and cone',
  formula: 'm = da / (z + 2·cos δ)',
  fields: [length('da', 'Outside diameter', 64.2), count('z', 'Teeth', 20), angle('delta', 'Cone angle', 26.565, 90)],
  value: (g) => g['da'] / (g['z'] + 2 * Math.cos(g['delta'] * RAD)),
};
/** Cone angle of a bevel wheel from the counts of a pair: tan δ = sin Σ / (z′/z + cos Σ). */
const coneFromCounts: Measure = {
  key: 'counts',
  label: 'from the teeth of both',
  formula: 'tan δ = sin Σ / (z′/z + cos Σ)',
  fields: [count('z', 'Teeth', 20), count('other', 'Teeth of the other', 40), angle('sigma', 'Angle between the axes', 90, 179)],
  value: (g) => Math.atan2(Math.sin(g['sigma'] * RAD), g['other'] / g['z'] + Math.cos(g['sigma'] * RAD)) / RAD,
};

/** Axial module of a worm from the travel of its thread for one turn: m = lead/(π·starts). */
const fromLead: Measure = {
  key: 'lead',
  label: 'worm: from travel of the thread and starts',
  formula: 'm = Ph / (π·z1)',
  fields: [length('lead', 'Travel for one turn', 9.425), count('starts', 'Starts', 1)],
  value: (g) => g['lead'] / (Math.PI * g['starts']),
};

/** Pitch of a screw from turns over a length, as it is often said: turns per travel. */
const fromTurnsPerTravel: Measure = {
  key: 'turns-per-travel',
  label: 'from turns per travel',
  formula: 'P = s / (n·starts)',
  fields: [
    numberField('n', 'Turns', { initial: 8, above: 0, max: 1e6, required: true }),
    length('s', 'for a travel of', 25.4),
    count('starts', 'Starts', 1),
  ],
  value: (g) => g['s'] / (g['n'] * g['starts']),
};

/** Module from the spacing of teeth along the pitch line: m = p/π. */
const fromSpacing: Measure = {
  key: 'spacing',
  label: 'from the spacing of teeth',
  formula: 'm = p / π',
  fields: [length('p', 'Spacing', 6.28)],
  value: (g) => g['p'] / Math.PI,
};

/** Module from the centre distance of a pair without profile shift: m = 2a/(z1 + z2). */
const fromCentres: Measure = {
  key: 'centres',
  label: 'from centre distance and teeth',
  formula: 'm = 2·a / (z1 + z2)',
  fields: [length('a', 'Centre distance', 80), count('z1', 'Teeth', 20), count('z2', 'Teeth of the other', 60)],
  value: (g) => (2 * g['a']) / (g['z1'] + g['z2']),
};

/** Pitch diameter of a toothed wheel from spacing and teeth: z·p/π. */
const pitchDiameter: Measure = {
  key: 'pitch-diameter',
  label: 'from tooth spacing and teeth',
  formula: 'd = z·p / π',
  fields: [length('p', 'Spacing', 12.566), count('z', 'Teeth', 18)],
  value: (g) => (g['z'] * g['p']) / Math.PI,
};

/** Pulley diameter from the other one and the turns both make: d = d' · n'/n. */
const fromTurns: Measure = {
  key: 'turns',
  label: 'from the other rim and turns',
  formula: 'd = d′·n′ / n',
  fields: [
    length('other', 'Diameter of the other', 100),
    numberField('n1', 'Turns of the other', { initial: 5, above: 0, max: 1e6, required: true }),
    numberField('n2', 'Turns of this one', { initial: 2, above: 0, max: 1e6, required: true }),
  ],
  value: (g) => (g['other'] * g['n1']) / g['n2'],
};

/** Diameter of a rim from the length round it: d = U/π. */
const fromRim: Measure = {
  key: 'rim',
  label: 'from the length round the rim',
  formula: 'd = U / π',
  fields: [length('u', 'Round the rim', 314.16)],
  value: (g) => g['u'] / Math.PI,
};

/** Pitch of a screw from travel and turns: P = s/(n·starts). */
const fromTravel: Measure = {
  key: 'travel',
  label: 'from travel and turns',
  formula: 'P = s / (n·starts)',
  fields: [length('s', 'Travel', 60), numberField('n', 'Turns', { initial: 12, above: 0, max: 1e6, required: true }), count('starts', 'Starts', 1)],
  value: (g) => g['s'] / (g['n'] * g['starts']),
};

/** Helpers that give a field of an element from what was measured, or none. */
export function measuresFor(type: string, key: string): readonly Measure[] {
  if (key === 'module') {
    if (type === 'worm') return [fromLead, fromSpacing];
    if (type === 'worm-wheel') return [fromSpacing];
    if (type === 'bevel-gear') return [fromCone];
    if (type === 'rack') return [fromSpacing];
    return [fromOutside, fromSpan, fromSpacing, fromCentres, fromHelical, fromInside];
  }
  if (key === 'coneAngle') return [coneFromCounts];
  if (key === 'diameter' && (type === 'pulley' || type === 'wheel')) return [fromRim, fromTurns, pitchDiameter];
  if (key === 'pitch' && type === 'screw') return [fromTravel, fromTurnsPerTravel];
  return [];
}
