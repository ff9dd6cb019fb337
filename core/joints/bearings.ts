import { choiceField, numberField, tableField } from '../fields/fields';
import { type Solid, bar, circle, rectangle } from '../solids/index';
import type { Joint } from '../fields/types';

/** What a plain bearing's bush is made of, for its rating. */
export const BUSHES = [
  'cast bronze',
  'porous bronze',
  'porous iron',
  'phenolic',
  'polyamide',
  'PTFE',
  'reinforced PTFE',
  'PTFE fabric',
  'acetal',
  'carbon graphite',
  'wood',
] as const;
export type Bush = (typeof BUSHES)[number];

/**
 * Where a turning joint's member is carried: places along its axis
 * from the joint's own, which of them takes thrust, and how they look.
 */
export const BEARINGS_FIELD = tableField('bearings', 'Bearings', {
  columns: [
    numberField('at', 'Place along the axis', { unit: 'mm', required: true, min: -1e6, max: 1e6 }),
    choiceField('thrust', 'Thrust', ['takes', 'free'], { required: true }),
    choiceField('form', 'Sort', ['plain', 'rolling'], { required: true }),
    numberField('inner', 'Inner diameter', { unit: 'mm', required: true, above: 0, max: 1e5 }),
    numberField('outer', 'Outer diameter', { unit: 'mm', required: true, above: 0, max: 1e5 }),
    numberField('width', 'Width', { unit: 'mm', required: true, above: 0, max: 1e5 }),
    choiceField('block', 'Block', ['yes', 'no'], { required: true }),
    choiceField('rolls', 'Rolls on', ['balls', 'rollers']),
    choiceField('bush', 'Bush', BUSHES),
    numberField('dynamicRating', 'Dynamic rating C', { unit: 'N', above: 0, max: 1e9 }),
    numberField('staticRating', 'Static rating C₀', { unit: 'N', above: 0, max: 1e9 }),
    numberField('fatigueLimit', 'Fatigue load limit Cu', { unit: 'N', above: 0, max: 1e9 }),
    numberField('viscosity', 'Viscosity in operation ν', { above: 0, max: 1e5 }),
    numberField('contamination', 'Contamination factor eC', { above: 0, max: 1 }),
    numberField('speedLimit', 'Speed limit', { unit: 'rev/min', above: 0, max: 1e6 }),
    numberField('leastLoad', 'Least load, part of C', { above: 0, max: 0.2 }),
    numberField('stiffness', 'Radial stiffness', { unit: 'N/mm', above: 0, max: 1e9 }),
  ],
  most: 50,
  help: 'Forces are then given for each: of two by statics, of more as of a beam of one stiffness on stiff supports. With Cu, the viscosity (mm²/s) and eC the life is that of ISO 281 modified by aISO. A rolling bearing with less than its least load slips: 0.01 for balls and 0.02 for rollers are common practice.',
});
/** A bearing as stated. Places and sizes mm. */
export interface Bearing {
  at: number;
  thrust: 'takes' | 'free';
  form: 'plain' | 'rolling';
  inner: number;
  outer: number;
  width: number;
  block: 'yes' | 'no';
  /** For its rating: balls where nothing is stated; basic ratings, N. */
  rolls?: 'balls' | 'rollers';
  /** Of a plain one. */
  bush?: Bush;
  dynamicRating?: number;
  staticRating?: number;
  /** For the modified life: N, mm²/s, and ISO 281's factor of contamination. */
  fatigueLimit?: number;
  viscosity?: number;
  contamination?: number;
  /** rev/min; and the part of the dynamic rating that it needs to roll. */
  speedLimit?: number;
  leastLoad?: number;
  /** With its seat, N/mm: for wind-up and natural frequencies. */
  stiffness?: number;
}
/**
 * What a bearing is made of, in its joint's frame, mm: a bush, or two rings with
 * the gap in which the balls run, and a square block round it where stated.
 */
export function bearingSolids(b: Bearing): Solid[] {
  const [from, to] = [b.at - b.width / 2, b.at + b.width / 2];
  const [ri, ro] = [b.inner / 2, b.outer / 2];
  const ring = (ro - ri) * RING;
  const rings = b.form === 'plain' ? [bar(ro, from, to, ri)] : [bar(ro, from, to, ro - ring), bar(ri + ring, from, to, ri)];
  if (b.block === 'no') return rings;
  const half = BLOCK * ro;
  return [
    ...rings,
    { kind: 'prism', outline: rectangle(-half, -half, half, half), holes: [circle(ro)], from: b.at - 0.4 * b.width, to: b.at + 0.4 * b.width },
  ];
}
/**
 * How thick a ring of a rolling bearing is, of the way between its
 * diameters; how large a block is, of the outer radius. For the eye.
 */
const RING = 0.3;
const BLOCK = 1.3;

/** A joint whose kind may state bearings. */
export type CarriedJoint = Joint & { bearings?: readonly Bearing[] };
