import { Field, refsField, choiceField, numberField, refField, exactField, flagField, vectorField } from './fields';

/** A kind of source, load or wanted output: what may be stated of it. */
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

export const SOURCE_KINDS: readonly StatedKind[] = [
  { type: 'crank', label: 'Hand crank', fields: [DRIVEN, SPEED, refField('element', 'Crank', 'element')] },
  { type: 'motor', label: 'Motor', fields: [DRIVEN, SPEED] },
];

const MEMBER = refField('member', 'Acts on', 'member', { required: true });
export const LOAD_KINDS: readonly StatedKind[] = [
  {
    type: 'force',
    label: 'Force',
    fields: [
      MEMBER,
      vectorField('at', 'Point on the member', { unit: 'mm' }),
      vectorField('force', 'Force', { unit: 'N', required: true }),
      flagField('follows', 'Turns with the member', { initial: false }),
    ],
  },
  {
    type: 'torque',
    label: 'Torque',
    fields: [
      MEMBER,
      vectorField('torque', 'Torque', { unit: 'N·m', required: true }),
      flagField('follows', 'Turns with the member', { initial: false }),
    ],
  },
  {
    type: 'joint-load',
    label: 'Load on a joint',
    fields: [
      refField('joint', 'Joint', 'coordinate', { required: true }),
      numberField('value', 'Load', {
        unit: 'N·m',
        required: true,
        help: 'N·m of a turning joint, N of a sliding one; positive drives the joint forward.',
      }),
    ],
  },
  {
    type: 'spring',
    label: 'Spring between points',
    fields: [
      refField('member', 'From', 'member', { required: true }),
      vectorField('at', 'Point on it', { unit: 'mm' }),
      refField('other', 'To', 'member', { help: 'The frame where nothing is chosen.' }),
      vectorField('otherAt', 'Point on it', { unit: 'mm' }),
      numberField('rate', 'Rate', { unit: 'N/mm', symbol: 'c', required: true, min: 0, max: 1e6 }),
      numberField('free', 'Free length', { unit: 'mm', symbol: 'L0', initial: 0, min: 0, max: 1e6 }),
      numberField('preload', 'Preload', { unit: 'N', initial: 0, min: -1e7, max: 1e7, help: 'Tension at the free length.' }),
      numberField('damping', 'Damping', { unit: 'N*s/mm', initial: 0, min: 0, max: 1e6 }),
    ],
  },
  {
    type: 'joint-spring',
    label: 'Spring of a joint',
    fields: [
      refField('joint', 'Joint', 'coordinate', { required: true }),
      numberField('rate', 'Rate', { required: true, min: 0, max: 1e6, help: 'N·m/deg of a turning joint, N/mm of a sliding one.' }),
      numberField('free', 'Unloaded at', { initial: 0, min: -1e6, max: 1e6, help: 'deg or mm.' }),
      numberField('preload', 'Preload', { initial: 0, min: -1e7, max: 1e7, help: 'N·m or N on the joint at the unloaded place.' }),
      numberField('damping', 'Damping', { initial: 0, min: 0, max: 1e6, help: 'N·m·s/deg or N·s/mm.' }),
    ],
  },
  {
    type: 'joint-friction',
    label: 'Friction of a joint',
    fields: [
      refField('joint', 'Joint', 'coordinate', { required: true }),
      numberField('value', 'Friction', { required: true, min: 0, max: 1e7, help: 'N·m or N against the motion, whichever way it goes.' }),
    ],
  },
];

const SENSE = choiceField('sense', 'Must be', ['equal', 'at least', 'at most'], { initial: 'equal' });
const TOLERANCE = numberField('tolerance', 'Tolerance ±', { initial: 0, min: 0, max: 1e9 });
const wanted = (type: string, label: string, unit: string, of: Field): StatedKind => ({
  type,
  label,
  fields: [of, numberField('value', 'Wanted value', { unit, required: true, min: -1e9, max: 1e9 }), { ...TOLERANCE, unit }, SENSE],
});
const JOINT = refField('joint', 'Of joint', 'coordinate', { required: true });
const SOURCE = refField('source', 'Of source', 'source', { required: true });
export const WANTED_KINDS: readonly StatedKind[] = [
  wanted('speed', 'Speed', 'rev/min', JOINT),
  wanted('linear-speed', 'Linear speed', 'mm/s', JOINT),
  wanted('travel', 'Travel between stops', 'mm', JOINT),
  wanted('angle', 'Angle between stops', 'deg', JOINT),
  wanted('time', 'Time from stop to stop', 's', JOINT),
  wanted('input-torque', 'Torque of the source', 'N·m', SOURCE),
  wanted('hand-force', 'Force of the hand', 'N', SOURCE),
];

/** What may be stated of every joint besides its kind's own fields. */
export const JOINT_FIELDS: readonly Field[] = [
  exactField('lower', 'Lower stop', { min: -1e9, max: 1e9 }),
  exactField('upper', 'Upper stop', { min: -1e9, max: 1e9 }),
  refsField('lowerFaces', 'Lower stop where faces meet', 'face', { help: 'Two faces, such as “collar:+z”: the stop follows them when they change.' }),
  refsField('upperFaces', 'Upper stop where faces meet', 'face', { help: 'Two faces: the stop follows them when they change.' }),
  exactField('home', 'Home', { min: -1e9, max: 1e9 }),
];
