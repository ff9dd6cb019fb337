import { jointKind } from '../joints/index';
import { PLACE_ALONG } from '../loads/index';
import type { Settings, Source, Wanted } from '../fields/types';
import { type ChosenUnits, UNIT_CHOICES, Units } from '../units/index';
import { DRIVES_FIELD, SPEED_FIELD, JOINT_FIELDS, UNIT_FIELDS } from '../fields/common';
import { type Field, type Stated, choiceField, numberField, refField, tableField, wholeField } from '../fields/fields';

/** A kind of source or wanted output: what may be stated of it. */
export interface StatedKind {
  readonly type: string;
  readonly label: string;
  readonly fields: readonly Field[];
}

const commonOfSources = <P extends Field>(place: P) => [
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
  place,
];
const COMMON_OF_SOURCES = commonOfSources(PLACE_ALONG);
/** A hand acts where its crank stands. */
const AT_ITS_CRANK = {
  ...PLACE_ALONG,
  initial: undefined,
  help: 'From the joint’s own point; left open, where its crank stands. It counts for the torsion of the shaft between.',
};

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

/** How warm a motor may get. */
const WARMING = [
  numberField('ratedTorque', 'Rated torque or force', {
    unit: 'N·m',
    symbol: 'TN',
    above: 0,
    max: 1e7,
    rare: true,
    help: 'N·m or N that it gives without end; for the rating of how warm it gets.',
  }),
  numberField('thermalTime', 'Thermal time constant', {
    unit: 's',
    symbol: 'τ',
    above: 0,
    max: 1e6,
    rare: true,
    help: 'In which it has warmed by 63 %. Left open, a run counts by its root mean square.',
  }),
  tableField('torqueLimits', 'Torque limit over speed', {
    rare: true,
    columns: [
      numberField('speed', 'Speed', { required: true, min: 0, max: 1e6 }),
      numberField('torque', 'Torque or force', { required: true, min: 0, max: 1e7 }),
    ],
    most: 100,
    help: 'rev/min or mm/s, and N·m or N for a short time; straight between rows, nothing above the last speed. For the rating.',
  }),
  numberField('mostInertiaRatio', 'Inertia ratio limit', {
    above: 0,
    max: 1e6,
    rare: true,
    help: 'How many times the inertia of its rotor the train may have as it feels it; for the rating.',
  }),
  numberField('ripple', 'Torque ripple', {
    above: 0,
    max: 10,
    rare: true,
    help: 'Its amplitude as a part of the torque that the source gives: for forced vibration.',
  }),
  wholeField('rippleOrder', 'Ripples in a turn', {
    initial: 1,
    min: 1,
    max: 10_000,
    rare: true,
    help: 'As the poles of a motor or the cylinders of an engine have it.',
  }),
  numberField('mostStarts', 'Starts per hour limit', { above: 0, max: 1e5, rare: true, help: 'For the rating of runs, which repeat.' }),
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
const FREE_SPEED = { ...SPEED_FIELD, required: false, help: 'Speed with which the search for the working point begins; rev/min or mm/s.' };

export const SOURCE_KINDS = [
  {
    type: 'crank',
    label: 'Hand crank',
    fields: [DRIVES_FIELD, SPEED_FIELD, refField('element', 'Crank', 'element'), ...commonOfSources(AT_ITS_CRANK), ...LIMITS, ...PROFILE],
  },
  { type: 'motor', label: 'Motor', fields: [DRIVES_FIELD, SPEED_FIELD, ...COMMON_OF_SOURCES, ...LIMITS, ...WARMING, ...PROFILE] },
  {
    type: 'torque',
    label: 'Constant torque',
    fields: [
      DRIVES_FIELD,
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
    fields: [
      DRIVES_FIELD,
      numberField('power', 'Power', { unit: 'W', symbol: 'P', required: true, above: 0, max: 1e8 }),
      SPEED_FIELD,
      ...COMMON_OF_SOURCES,
    ],
  },
  {
    type: 'torque-line',
    label: 'Motor with a torque-speed line',
    fields: [
      DRIVES_FIELD,
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

/** A wanted output with what its kind may state. */
export type WantedOutput = Wanted & Stated<(typeof WANTED_KINDS)[number]['fields']>;

/** Which freedom of a joint a field of stops is of: the first where its key has no number. */
export const freedomOf = (f: Field): number => Number(/\d$/.exec(f.key)?.[0] ?? 1);
/** Fields of stops, each while the joint has the freedom that it is of. */
export const JOINT_STOPS: readonly Field[] = JOINT_FIELDS.map((f) => ({
  ...f,
  when: (j: { type?: string }) => (jointKind(j.type ?? '')?.freedoms.length ?? 0) >= freedomOf(f),
}));

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
