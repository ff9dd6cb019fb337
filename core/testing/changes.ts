import { analyse } from '../checks/index';
import { COUPLING_KINDS } from '../couplings/index';
import { type Design, type Field, JOINT_STOPS, MECHANICS_LISTS, MEMBER_FIELDS, SOURCE_KINDS, readDesign } from '../document/index';
import { ELEMENT_KINDS } from '../elements/index';
import { statedBy } from '../fields/fields';
import { JOINT_KINDS } from '../joints/index';
import { LOAD_KINDS } from '../loads/index';
import { settle } from '../edits/index';
import { ALIKE, LAWS, alike, asked, figures, inARun, interactions, letGo, reflected, steadily, swept } from './laws';
import { longer } from './longer';
import { slidesAt } from '../kinematics/index';

/** What may be changed in a design, and what must hold of it all the same. */
export const LISTS = MECHANICS_LISTS;
export type List = (typeof LISTS)[number];

export const KINDS: Record<List, readonly { type: string; fields?: readonly Field[] }[]> = {
  members: [{ type: 'member', fields: MEMBER_FIELDS }],
  joints: JOINT_KINDS.map((k) => ({
    type: k.type,
    fields: [...(k.fields ?? []), ...JOINT_STOPS.filter((f) => !f.when || f.when({ type: k.type }))],
  })),
  elements: ELEMENT_KINDS,
  couplings: COUPLING_KINDS,
  sources: SOURCE_KINDS,
  loads: LOAD_KINDS,
};

/** Fields that name what an item is on or of: another one makes another mechanism, which the rigs are. */
export const NAMES_OTHERS = new Set(['ref', 'refs']);
/** Fields that no law of forces sees, and why. */
export const ELSEWHERE: Readonly<Record<string, string>> = {
  kind: 'a word for the drawing',
  restitution: 'impacts: motion/impact.spec.ts',
  colour: 'the picture',
  material: 'a word for parts lists',
  steel: 'the rating: rating/shafts.spec.ts',
  tensileStrength: 'as steel',
  yieldStrength: 'as steel',
  loadCourse: 'as steel',
  notches: 'as steel',
  keys: 'as steel',
  fits: 'as steel',
  splines: 'as steel',
  pins: 'as steel',
  freeLength: 'the rating: rating/screws.spec.ts',
  ends: 'as freeLength',
  nutMaterial: 'as freeLength',
  pressureLimit: 'as freeLength',
  dynamicRating: 'as freeLength',
  bandStiffness: 'natural frequencies: vibration/vibration.spec.ts',
  stiffness: 'as bandStiffness',
  transmissionError: 'natural frequencies: vibration/forced.spec.ts',
  ripple: 'as transmissionError',
  rippleOrder: 'as transmissionError',
  play: 'lost motion: vibration/lost-motion.spec.ts',
  strandLimit: 'the rating: rating/bands.spec.ts',
  ratedPower: 'as strandLimit',
  belts: 'as strandLimit',
  strands: 'as strandLimit',
  massPerLength: 'as strandLimit',
  breakingForce: 'as strandLimit',
  mechanismClass: 'as strandLimit',
  wheelLoad: 'the rating: rating/contacts.spec.ts',
  adhesion: 'as wheelLoad',
  contactLimit: 'as wheelLoad',
  clutchTorque: 'as wheelLoad',
  shoeSpacing: 'the rating: rating/guides.spec.ts',
  railSpacing: 'as shoeSpacing',
  railsAlong: 'as shoeSpacing',
  shoesOn: 'as shoeSpacing',
  shoesAt: 'as shoeSpacing',
  shoeArea: 'as shoeSpacing',
  shoeMaterial: 'as shoeSpacing',
  shoeDynamic: 'as shoeSpacing',
  shoeStatic: 'as shoeSpacing',
  bronze: 'the rating: rating/worm.spec.ts',
  mounting: 'the rating: rating/bevel.spec.ts',
  coil: 'the rating: rating/springs.spec.ts',
  wireDiameter: 'as coil',
  coilDiameter: 'as coil',
  coils: 'as coil',
  coilLength: 'as coil',
  wire: 'as coil',
  wireStrength: 'as coil',
  ratedTorque: 'the rating: rating/sources.spec.ts',
  thermalTime: 'as ratedTorque',
  torqueLimits: 'as ratedTorque',
  mostInertiaRatio: 'as ratedTorque',
  mostStarts: 'as ratedTorque',
  brakeSafety: 'as ratedTorque',
  agma: 'the rating: rating/agma.spec.ts',
  thicknessAllowance: 'limits of backlash: couplings/gear-pair/backlash.spec.ts',
  thicknessTolerance: 'as thicknessAllowance',
  thicknessUpper: 'as thicknessAllowance',
  thicknessLower: 'as thicknessAllowance',
  distanceTolerance: 'as thicknessAllowance',
  cost: 'a figure for parts lists',
  note: 'a word for parts lists',
  content: 'names and places of an imported shape: edits/shapes.spec.ts',
  file: 'a name',
  part: 'a name',
  places: 'edits/shapes.spec.ts',
  lost: 'edits/shapes.spec.ts',
  least: 'how far an imported shape reaches: shapes/shapes.spec.ts',
  most: 'as least',
};
/** What is stated for a field for which no small change of a number will do. */
const VALUES: Readonly<Record<string, unknown>> = {
  mass: 3.5,
  massCentre: [12, -7, 9],
  inertia: [0.02, 0.03, 0.025],
  inertiaProducts: [0.003, -0.002, 0.004],
  lower: -500,
  upper: 500,
  lower2: -500,
  upper2: 500,
  lower3: -500,
  upper3: 500,
  home: 4,
  home2: 4,
  home3: 4,
  bearings: [
    { at: -30, thrust: 'free', form: 'plain', inner: 20, outer: 40, width: 15, block: 'no' },
    { at: 25, thrust: 'takes', form: 'rolling', inner: 20, outer: 40, width: 15, block: 'yes' },
    { at: 60, thrust: 'free', form: 'plain', inner: 20, outer: 40, width: 15, block: 'no' },
  ],
  profile: 'to and fro',
  amount: 90,
  ramps: [
    { time: 0, speed: 0 },
    { time: 1, speed: 30 },
  ],
  table: [
    { time: 0, value: 0 },
    { time: 1, value: 30 },
    { time: 2, value: 10 },
  ],
  line: [
    { speed: -100, torque: 8 },
    { speed: 100, torque: 5 },
    { speed: 400, torque: 0 },
  ],
  points: [
    { angle: 0, value: 0 },
    { angle: 90, value: 6 },
    { angle: 180, value: 14 },
    { angle: 270, value: 7 },
  ],
  module: '33/16',
};

/** Values that a field may have instead of the one that it has. */
export function othersOf(f: Field, now: unknown): unknown[] {
  if (f.key in VALUES) return [VALUES[f.key]];
  const inside = (x: number): boolean =>
    (f.min === undefined || x >= f.min) &&
    (f.max === undefined || x <= f.max) &&
    (f.above === undefined || x > f.above) &&
    (f.below === undefined || x < f.below);
  const from = typeof now === 'number' ? now : typeof f.initial === 'number' ? f.initial : 20;
  switch (f.kind) {
    case 'exact':
    case 'number':
      return [from * 1.1, from * 0.9, from + 0.05, from + 1, from - 1, from + 10, from + 40].filter((x) => inside(x) && x !== f.initial && x !== now);
    case 'whole':
      return [from + 1, from - 1, from + 2, from + 10].filter((x) => inside(x) && x !== f.initial);
    case 'choice':
      return f.choices!.filter((x) => x !== (now ?? f.initial));
    case 'flag':
      return [!(now ?? f.initial ?? false)];
    case 'vector':
      return [
        [3, -4, 5],
        [7, 2, -6],
      ].map((v) => (Array.isArray(now) ? v.map((x, k) => x * 0.2 + Number(now[k])) : v));
    default:
      return [];
  }
}

/** The same design with another value in a field of an item. */
export const withField = (d: Design, list: List, at: number, key: string, value: unknown): Design => ({
  ...d,
  [list]: d[list].map((x: object, k: number) => (k === at ? { ...x, [key]: value } : x)),
});

/** A design that the schema passes, that no fault makes pointless, and whose wheels stand where they mesh. */
export function sound(d: Design): Design | undefined {
  if (readDesign(d).problems) return undefined;
  const set = settle(d).design;
  for (const x of [set, d]) if (!analyse(x).findings.some((f) => f.severity === 'fault')) return x;
  return undefined;
}

/** The same design with its lists the other way round. */
const reversed = (d: Design): Design => ({
  ...d,
  members: [...d.members].reverse(),
  joints: [...d.joints].reverse(),
  elements: [...d.elements].reverse(),
  couplings: [...d.couplings].reverse(),
  sources: [...d.sources].reverse(),
  loads: [...d.loads].reverse(),
});

/** Fields that hold a force, a torque, a power or a mass. */
const FORCES: Readonly<Record<List, readonly string[]>> = {
  members: ['mass', 'inertia', 'inertiaProducts'],
  joints: [],
  elements: ['density'],
  couplings: ['pretension'],
  sources: ['torque', 'power', 'stall', 'rotor', 'brake', 'line'],
  loads: ['force', 'torque', 'value', 'rate', 'preload', 'damping'],
};
/** The same design with all of them so many times as large. */
function scaledBy(d: Design, k: number): Design {
  const times = (v: unknown): unknown => {
    if (typeof v === 'number') return v * k;
    if (!Array.isArray(v)) return v;
    return v.map((x: unknown) => (typeof x === 'number' ? x * k : { ...(x as object), torque: k * Number(statedBy(x as object)['torque']) }));
  };
  const scaled = Object.fromEntries(
    LISTS.map((list) => [
      list,
      d[list].map((x: object) => {
        const steel = list === 'elements' ? { density: 7850 } : {};
        const all = { ...steel, ...x };
        return { ...all, ...Object.fromEntries(FORCES[list].flatMap((key) => (key in all ? [[key, times(statedBy(all)[key])]] : []))) };
      }),
    ]),
  );
  return { ...d, ...scaled };
}

/** What must hold of a design. Each throws where it does not, and says whether it could be asked. */
export const PROPERTIES: Readonly<Record<string, (d: Design) => boolean>> = {
  ...Object.fromEntries(Object.entries(LAWS).map(([name, law]) => [name, (d: Design) => (law(steadily(d)), true)])),
  /** Moved away and back, the same position gives the same figures. */
  'away and back'(d) {
    const s = steadily(d);
    let moved = 0;
    for (const by of [-1, 1]) {
      let back = true,
        tried = 0;
      const again = steadily(d, (pose) => {
        const led = pose.compiled.sources.map((x) => x.coordinate);
        const at = led.map((c) => pose.q[c]);
        const home = pose.q.slice();
        for (const [k, c] of led.entries()) {
          const away = at.map((q, i) => (i === k ? q + by * (slidesAt(pose.kinematics, c) ? 1e-3 : 0.02) : q));
          if (pose.solve(led, away) !== 'ok') continue;
          if (pose.solve(led, at) !== 'ok') throw new Error('away and back: cannot come back');
          tried++;
        }
        back = home.every((q, i) => Math.abs(q - pose.q[i]) <= ALIKE * Math.max(1, Math.abs(q)));
        // What a one-way clutch took along stays there.
        if (!back && !pose.kinematics.grips.length) throw new Error('away and back: it came back to another position');
      });
      if (!back) continue;
      moved += tried;
      if (s.forces.state.indeterminate === 0) alike('away and back', interactions(again), interactions(s), 1e-6);
      alike('away and back', figures(again), figures(s), 1e-6);
    }
    return moved > 0;
  },
  /** Stated in another order, it is the same mechanism. */
  order(d) {
    const [s, again] = [steadily(d), steadily(reversed(d))];
    alike('order', figures(again), figures(s), 1e-6);
    if (s.forces.state.indeterminate === 0 && again.forces.state.indeterminate === 0) alike('order', interactions(again), interactions(s), 1e-6);
    return true;
  },
  /** Everything that pulls, weighs and rubs half as large again: the same motion, all forces half as large again. */
  scaled(d) {
    const k = 1.5;
    const [s, more] = [steadily(d), steadily(scaledBy(d, k))];
    const due = new Map([...figures(s)].map(([key, v]) => [key, key.startsWith('speed of') ? v : k * v]));
    alike('scaled', figures(more), due, 1e-6);
    return true;
  },
  /** A run begins with the forces of its first instant. */
  run(d) {
    const both = inARun(d);
    if (both) alike('run', both.run, both.here, 1e-6);
    return both !== undefined;
  },
  /** All lengths twice as large under the same forces: the same turning, twice the travel, torque and power. */
  longer(d) {
    const k = 2;
    // A pointer is drawn as thick as it is, whatever its length.
    // Keyways, grooves and teeth of a standard are those of its table, which knows no scale.
    const ownForm = (e: object): object => ({ ...('keyway' in e && { keyway: 'none' }), ...('standard' in e && { standard: 'general' }) });
    const thin = {
      ...d,
      elements: d.elements.filter((e) => e.type !== 'pointer').map((e) => ({ ...e, ...ownForm(e) })),
    };
    const [s, more] = [steadily(thin), steadily(longer(thin, k))];
    // Where homes leave a freedom open, any place will do.
    const there = [...s.pose.q].map((q, i) => (slidesAt(s.pose.kinematics, i) ? k * q : q));
    if (there.some((q, i) => Math.abs(q - more.pose.q[i]) > 1e-7 * Math.max(1, Math.abs(q)))) return false;
    const slides = (id: string): boolean => s.compiled.sources.some((x) => x.source.id === id && slidesAt(s.pose.kinematics, x.coordinate));
    const glides = (id: string): boolean => s.ledger.lines.some((x) => x.member === id && x.motion === 'slide');
    const times = (key: string): number => {
      const [what, , of] = key.split(' ');
      const straight = key.startsWith('source')
        ? slides(key.slice(7))
        : key.startsWith('speed of') || what === 'load'
          ? slides(of) || glides(of)
          : false;
      return key.startsWith('speed of') === straight ? k : 1;
    };
    const due = new Map([...figures(s)].map(([key, v]) => [key, times(key) * v]));
    alike('longer', figures(more), due, 1e-6);
    return true;
  },
  /** Freed from what leads it, it obeys the laws as it falls. */
  'let go': letGo,
  sweep: swept,
  'led run': asked,
  'drive load': reflected,
};

/** The kind of an item of a list. */
export const typeOf = (list: List, item: object): string => (list === 'members' ? 'member' : String(statedBy(item)['type']));

/** The laws that a design breaks, by name; tells which of them could be asked of it. */
export function violations(name: string, d: Design, asked?: (property: string) => void): string[] {
  const out: string[] = [];
  for (const [property, holds] of Object.entries(PROPERTIES)) {
    try {
      if (holds(d)) asked?.(property);
    } catch (e) {
      out.push(`${name}: ${property}: ${(e as Error).message}`);
    }
  }
  return out;
}
