import { jointKind } from '../joints/index';
import { PLACE_ALONG } from '../loads/index';
import type { Settings, Source, Wanted } from '../fields/types';
import { type ChosenUnits, QUANTIFIED, type Quantified, UNIT_CHOICES, Units } from '../units/index';
import {
  type Field,
  type Stated,
  refsField,
  tableField,
  choiceField,
  flagField,
  textField,
  numberField,
  refField,
  exactField,
  vectorField,
  wholeField,
} from '../fields/fields';

/** A kind of source or wanted output: what may be stated of it. */
export interface StatedKind {
  readonly type: string;
  readonly label: string;
  readonly fields: readonly Field[];
}

const SPEED = numberField('speed', 'Nominal speed', {
  unit: 'rev/min',
  symbol: 'n',
  required: true,
  min: -1e6,
  max: 1e6,
  help: 'rev/min of a turning joint, mm/s of a sliding one; the sign is the sense.',
});
const DRIVEN = refField('joint', 'Drives', 'coordinate', { required: true });

const COMMON_OF_SOURCES = [
  numberField('rotor', 'Inertia of its rotor', {
    unit: 'kg·m²',
    symbol: 'J',
    initial: 0,
    min: 0,
    max: 1e6,
    rare: true,
    help: 'Fast on the member that it drives; kg of a linear motor’s slider, with its weight.',
  }),
  numberField('brake', 'Holding brake', {
    unit: 'N·m',
    initial: 0,
    min: 0,
    max: 1e7,
    rare: true,
    help: 'N·m or N with which it holds once it lets go.',
  }),
  PLACE_ALONG,
];

/** What a source may not go beyond; runs and the ledger are held against it. */
const LIMITS = [
  numberField('mostSpeed', 'Speed limit', { above: 0, max: 1e6, rare: true, help: 'rev/min or mm/s. Ledger and runs say where it is exceeded.' }),
  numberField('mostTorque', 'Torque or force limit', {
    unit: 'N·m',
    above: 0,
    max: 1e7,
    rare: true,
    help: 'N·m or N. Ledger and runs say where more is needed.',
  }),
];

const profile = (e: { profile?: string }): string => e.profile ?? 'constant speed';
const isWay = (e: { profile?: string }): boolean => ['part turn', 'to and fro'].includes(profile(e));
const timing = (e: { timing?: string }): string => e.timing ?? 'time';
/** How a source moves in time. deg or mm, s; rev/min or mm/s. */
const PROFILE = [
  choiceField('profile', 'Motion profile', ['constant speed', 'part turn', 'to and fro', 'ramps', 'table'], { initial: 'constant speed' }),
  refField('motionOf', 'Motion of', 'coordinate', {
    help: 'The joint whose motion this is; the source follows it through the train. Left open, it is the motion of the source itself.',
    when: (e: { profile?: string }) => profile(e) !== 'constant speed',
  }),
  numberField('amount', 'Distance or angle', {
    required: false,
    min: -1e7,
    max: 1e7,
    help: 'deg of a turning joint, mm of a sliding one; the sign is the sense.',
    when: isWay,
  }),
  choiceField('timing', 'Defined by', ['time', 'speed', 'acceleration', 'speed and acceleration'], { initial: 'time', when: isWay }),
  numberField('time', 'Time', {
    unit: 's',
    initial: 1,
    above: 0,
    max: 1e6,
    help: 'Time of the part turn; of to and fro together, without the time at rest.',
    when: (e: { profile?: string; timing?: string }) => isWay(e) && timing(e) === 'time',
  }),
  numberField('topSpeed', 'Maximum speed', {
    above: 0,
    max: 1e6,
    help: 'rev/min of a turning joint, mm/s of a sliding one.',
    when: (e: { profile?: string; timing?: string }) => isWay(e) && timing(e).includes('speed'),
  }),
  numberField('topAcceleration', 'Maximum acceleration', {
    above: 0,
    max: 1e9,
    help: 'rad/s² of a turning joint, mm/s² of a sliding one.',
    when: (e: { profile?: string; timing?: string }) => isWay(e) && timing(e).includes('acceleration'),
  }),
  choiceField('speedShape', 'Speed curve', ['trapezoid', 'S-shaped', 'harmonic', 'polynomial 3-4-5'], { initial: 'trapezoid', when: isWay }),
  numberField('jerk', 'Jerk', {
    above: 0,
    max: 1e9,
    help: 'rad/s³ of a turning joint, mm/s³ of a sliding one: how quickly the acceleration rises.',
    when: (e: { profile?: string; timing?: string; speedShape?: string }) =>
      isWay(e) && timing(e) === 'speed and acceleration' && e.speedShape === 'S-shaped',
  }),
  numberField('dwell', 'Dwell', { unit: 's', initial: 0, min: 0, max: 1e6, help: 'At the end of each way.', when: isWay }),
  wholeField('repeats', 'Repetitions', { min: 1, max: 1e6, help: 'Left open, a part turn is done once, to and fro without end.', when: isWay }),
  tableField('ramps', 'Speed over time', {
    columns: [
      numberField('time', 'Time', { unit: 's', required: true, min: 0, max: 1e6 }),
      numberField('speed', 'Speed', { required: true, min: -1e6, max: 1e6, help: 'rev/min or mm/s' }),
    ],
    help: 'Speeds run evenly from row to row.',
    when: (e: { profile?: string }) => profile(e) === 'ramps',
  }),
  tableField('table', 'Place over time', {
    columns: [
      numberField('time', 'Time', { unit: 's', required: true, min: 0, max: 1e6 }),
      numberField('value', 'Place', { required: true, min: -1e7, max: 1e7, help: 'deg or mm from the place where the run begins' }),
    ],
    help: 'A smooth curve goes through all points.',
    when: (e: { profile?: string }) => profile(e) === 'table',
  }),
];
const FREE_SPEED = { ...SPEED, required: false, help: 'Speed with which the search for the working point begins; rev/min or mm/s.' };

export const SOURCE_KINDS = [
  {
    type: 'crank',
    label: 'Hand crank',
    fields: [DRIVEN, SPEED, refField('element', 'Crank', 'element'), ...COMMON_OF_SOURCES, ...LIMITS, ...PROFILE],
  },
  { type: 'motor', label: 'Motor', fields: [DRIVEN, SPEED, ...COMMON_OF_SOURCES, ...LIMITS, ...PROFILE] },
  {
    type: 'torque',
    label: 'Constant torque',
    fields: [
      DRIVEN,
      numberField('torque', 'Torque', {
        unit: 'N·m',
        symbol: 'T',
        required: true,
        min: -1e7,
        max: 1e7,
        help: 'N·m of a turning joint, N of a sliding one.',
      }),
      FREE_SPEED,
      ...COMMON_OF_SOURCES,
    ],
  },
  {
    type: 'power',
    label: 'Constant power',
    fields: [DRIVEN, numberField('power', 'Power', { unit: 'W', symbol: 'P', required: true, above: 0, max: 1e8 }), SPEED, ...COMMON_OF_SOURCES],
  },
  {
    type: 'torque-line',
    label: 'Motor with a torque-speed line',
    fields: [
      DRIVEN,
      numberField('stall', 'Torque at standstill', { unit: 'N·m', symbol: 'T0', required: true, above: 0, max: 1e7 }),
      numberField('noLoad', 'Speed without load', { unit: 'rev/min', symbol: 'n0', required: true, min: -1e6, max: 1e6 }),
      tableField('line', 'or the line by points', {
        columns: [
          numberField('speed', 'Speed', { required: true, min: -1e6, max: 1e6 }),
          numberField('torque', 'Torque', { required: true, min: -1e7, max: 1e7 }),
        ],
        help: 'Where points are stated, the line goes through them; speeds rise from row to row.',
      }),
      ...COMMON_OF_SOURCES,
    ],
  },
];
/** A source with what any kind of source may state. */
export type DrivingSource = Source & Stated<(typeof SOURCE_KINDS)[number]['fields']>;

const SENSE = choiceField('sense', 'Must be', ['equal', 'at least', 'at most'], { initial: 'equal' });
const TOLERANCE = numberField('tolerance', 'Tolerance ±', { initial: 0, min: 0, max: 1e9 });
const wanted = <F extends Field>(type: string, label: string, unit: string, of: F) => ({
  type,
  label,
  fields: [of, numberField('value', 'Wanted value', { unit, required: true, min: -1e9, max: 1e9 }), { ...TOLERANCE, unit }, SENSE],
});
const JOINT = refField('joint', 'Of joint', 'coordinate', { help: 'Left open, the next stage that fits takes it up.' });
const SOURCE = refField('source', 'Of source', 'source');
export const WANTED_KINDS = [
  wanted('speed', 'Speed', 'rev/min', JOINT),
  wanted('linear-speed', 'Linear speed', 'mm/s', JOINT),
  wanted('travel', 'Travel between stops', 'mm', JOINT),
  wanted('angle', 'Angle between stops', 'deg', JOINT),
  wanted('time', 'Time from stop to stop', 's', JOINT),
  wanted('torque', 'Torque at', 'N·m', JOINT),
  wanted('force', 'Force at', 'N', JOINT),
  wanted('input-torque', 'Torque of the source', 'N·m', SOURCE),
  wanted('hand-force', 'Force of the hand', 'N', SOURCE),
];

/** Freedoms of a joint beyond its first, and how they are called. */
const FURTHER = [
  [2, 'second'],
  [3, 'third'],
] as const;
const hasFreedom =
  (n: number) =>
  (j: { type?: string }): boolean =>
    (jointKind(j.type ?? '')?.freedoms.length ?? 0) >= n;

/** What may be stated of every joint besides its kind's own fields. */
/** A wanted output with what its kind may state. */
export type WantedOutput = Wanted & Stated<(typeof WANTED_KINDS)[number]['fields']>;

export const JOINT_FIELDS: readonly Field[] = [
  exactField('lower', 'Lower stop', { min: -1e9, max: 1e9 }),
  exactField('upper', 'Upper stop', { min: -1e9, max: 1e9 }),
  refsField('lowerFaces', 'Lower stop where faces meet', 'face', { help: 'Two faces, such as “collar:+z”: the stop follows them when they change.' }),
  refsField('upperFaces', 'Upper stop where faces meet', 'face', { help: 'Two faces: the stop follows them when they change.' }),
  exactField('home', 'Home', { min: -1e9, max: 1e9 }),
  numberField('restitution', 'Restitution at its stops', {
    initial: 0,
    min: 0,
    max: 1,
    rare: true,
    when: hasFreedom(1),
    help: 'Coefficient of restitution of what comes to a stop: 0 stays there, 1 rebounds in full.',
  }),
  ...FURTHER.flatMap(([n, word]) => [
    exactField(`lower${n}`, `Lower stop of the ${word} freedom`, { min: -1e9, max: 1e9, when: hasFreedom(n), rare: true }),
    exactField(`upper${n}`, `Upper stop of the ${word} freedom`, { min: -1e9, max: 1e9, when: hasFreedom(n), rare: true }),
    exactField(`home${n}`, `Home of the ${word} freedom`, { min: -1e9, max: 1e9, when: hasFreedom(n), rare: true }),
  ]),
];

/** Where a member, a joint or an element stands. */
export const PLACE_FIELDS: readonly Field[] = [
  vectorField('at', 'Place', { unit: 'mm', help: 'Origin: of a member in the world, of an element or a joint in its member.' }),
  vectorField('axis', 'Axis', { direction: true, help: 'Direction of the local z axis.' }),
  vectorField('up', 'Up', { direction: true, help: 'Direction near which the local x axis lies.' }),
];
/** What a load case states beside its name. */
export const CASE_FIELDS: readonly Field[] = [
  tableField('loads', 'Loads', {
    columns: [refField('load', 'Load', 'load', { required: true }), numberField('factor', 'Factor', { required: true, min: -1000, max: 1000 })],
    most: 2000,
    help: 'Loads that are scaled in this case; a factor of 0 leaves one out. Others are as stated.',
  }),
  tableField('speeds', 'Speeds', {
    columns: [
      refField('source', 'Source', 'source', { required: true }),
      numberField('speed', 'Nominal speed', { required: true, min: -1e6, max: 1e6 }),
    ],
    most: 2000,
    help: 'Nominal speeds of sources in this case, rev/min or mm/s. Others are as stated.',
  }),
];
/** How long a run of the design takes, and into how many instants it is cut. */
export const RUN_FIELDS: readonly Field[] = [
  numberField('duration', 'Duration', { unit: 's', above: 0, max: 1e6 }),
  wholeField('frames', 'Instants', { min: 2, max: 20_000 }),
];
/** When a run is over. */
export const RUN_ENDS = ['time', 'turn', 'stop to stop', 'rest'] as const;
/** What a kept run states beside its name. */
export const KEPT_RUN_FIELDS: readonly Field[] = [
  choiceField('until', 'Until', RUN_ENDS, {
    help: 'The duration is over; one turn of the first source; the first source from stop to stop, both at its nominal speed; or until everything stands still, at most for the duration.',
  }),
  ...RUN_FIELDS,
  flagField('letGo', 'Let go', { help: 'Sources let go: what moves then moves by weight, springs and loads alone.' }),
  refField('case', 'Load case', 'case'),
  tableField('starts', 'Starts at', {
    columns: [refField('joint', 'Joint', 'coordinate', { required: true }), numberField('at', 'Place', { required: true, min: -1e9, max: 1e9 })],
    most: 2000,
    help: 'Places of joints where it begins, deg or mm; at home where none are stated.',
  }),
  tableField('recorded', 'Recorded', {
    columns: [
      numberField('time', 'Time', { unit: 's', required: true, min: 0, max: 1e6 }),
      numberField('value', 'Place', { required: true, min: -1e7, max: 1e7, help: 'deg or mm from the place where the run begins' }),
    ],
    most: 2000,
    help: 'The first source follows this place over time, which came from a drive or an instrument, whatever its motion profile is.',
  }),
];
/** What a kept load sheet states beside its name. */
export const KEPT_SHEET_FIELDS: readonly Field[] = [
  refField('member', 'Member', 'member', { required: true }),
  refField('run', 'Run', 'run', { help: 'The kept run of which it is an instant; none where it is of a place under the hand.' }),
  numberField('time', 'At', { unit: 's', min: 0, max: 1e9 }),
  refField('case', 'Load case', 'case'),
  tableField('starts', 'Stands at', {
    columns: [refField('joint', 'Joint', 'coordinate', { required: true }), numberField('at', 'Place', { required: true, min: -1e9, max: 1e9 })],
    most: 2000,
    help: 'Places of joints where no run is named, deg or mm; at home where none are stated.',
  }),
  numberField('stress', 'Greatest equivalent stress', {
    unit: 'MPa',
    min: 0,
    max: 1e9,
    help: 'Of a strength analysis of the member with this sheet.',
  }),
  vectorField('stressAt', 'where', { unit: 'mm', help: 'In the frame of the member.' }),
  numberField('change', 'Greatest change of shape', { unit: 'mm', min: 0, max: 1e9 }),
  numberField('yieldStrength', 'Yield strength', { unit: 'MPa', above: 0, max: 1e7 }),
  numberField('size', 'Size of elements', { unit: 'mm', above: 0, max: 1e4 }),
  numberField('young', 'Young’s modulus', { unit: 'MPa', above: 0, max: 1e7 }),
  numberField('poisson', 'Poisson’s ratio', { min: 0, max: 0.49 }),
  textField('madeOf', 'Made of', {
    most: 40,
    help: 'Which state of the design was analysed: a mark of its members, elements, joints, couplings, sources and loads.',
  }),
];
export const VIEW_FIELDS: readonly Field[] = [
  vectorField('from', 'From', { direction: true, required: true, help: 'Direction from which it is seen.' }),
  vectorField('up', 'Up', { direction: true, required: true }),
  vectorField('target', 'Middle', { unit: 'mm', required: true }),
  numberField('height', 'Height', { unit: 'mm', required: true, above: 0, max: 1e9 }),
];

/** Colours that an element may be given; how they look is the page's. */
export const COLOURS = ['brass', 'bronze', 'graphite', 'steel', 'verdigris', 'oxide', 'sand', 'oak', 'slate'] as const;
/** What may be stated of every element, whatever its kind. */
export const ELEMENT_FIELDS: readonly Field[] = [
  choiceField('colour', 'Colour', COLOURS, { rare: true, help: 'Shown where the layout is coloured by member; as its member where none is given.' }),
];

export const MEMBER_FIELDS: readonly Field[] = [
  { key: 'kind', label: 'Kind', kind: 'choice', choices: ['shaft', 'slide', 'carrier', 'lever', 'body'], required: true },
  {
    key: 'mass',
    label: 'Mass',
    kind: 'number',
    unit: 'kg',
    symbol: 'm',
    min: 0,
    max: 1e7,
    help: 'Left open, it is the sum of the elements’ shapes times their density.',
  },
  { key: 'massCentre', label: 'Centre of mass', kind: 'vector', unit: 'mm', rare: true },
  {
    key: 'inertia',
    label: 'Moments of inertia',
    kind: 'vector',
    unit: 'kg·m²',
    min: 0,
    rare: true,
    help: 'About the centre of mass, along the member’s own axes. None of the three is more than the other two together.',
  },
  refsField('mayOverlap', 'May overlap', 'member', { rare: true, help: 'Members that this one may stand in, as where a bore is not drawn.' }),
  refsField('stopsAt', 'Stops against', 'member', {
    rare: true,
    help: 'Members that this one cannot pass: it stops where they touch, from either side.',
  }),
];

/** Units in which the page shows each quantity; documents always keep the first. Key in the settings, quantity. */
export const UNIT_FIELDS: readonly [keyof Settings & string, Quantified, Field][] = QUANTIFIED.map((q) => {
  const key = `${q}Unit` as const;
  return [key, q, choiceField(key, `Unit of ${q}`, UNIT_CHOICES[q])];
});

export const SETTINGS_FIELDS: readonly Field[] = [
  vectorField('gravity', 'Weight', { unit: 'm/s²', help: 'Acceleration of weight.' }),
  ...RUN_FIELDS,
  ...UNIT_FIELDS.map(([, , f]) => f),
  wholeField('decimals', 'Decimals', { min: 0, max: 9, help: 'Digits behind the point; those that matter where none are stated.' }),
];

/** Settings by which quantities are shown in these units; those in which documents keep them are not stated. */
export const unitSettings = (units: Required<ChosenUnits>): Partial<Settings> =>
  Object.fromEntries(UNIT_FIELDS.map(([key, q]) => [key, units[q] === UNIT_CHOICES[q][0] ? undefined : units[q]]));

/** The units that a design shows its quantities in. */
export function unitsOf(settings: Settings | undefined): Units {
  const chosen: ChosenUnits = {};
  for (const [key, q] of UNIT_FIELDS) {
    const unit = settings?.[key];
    if (typeof unit === 'string') chosen[q] = unit;
  }
  return new Units(chosen, settings?.decimals);
}
