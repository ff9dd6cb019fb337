import type { Element } from '../fields/types';
import { type Stated, exactField, numberField } from '../fields/fields';
import { DENSITY_FIELD, num } from './gear';
import type { Frame } from '../math/index';
import { problem } from '../findings/index';
import { ElementKind, holeProblem } from './protocol';
import { type Point, type Solid, arc, bar, circle, line, outline, rectangle } from '../solids/index';

const WHEEL_FIELDS = [
  exactField('diameter', 'Rolling diameter', { unit: 'mm', symbol: 'd', required: true, above: 0, max: 1e5 }),
  numberField('width', 'Width', { unit: 'mm', symbol: 'b', required: true, above: 0, max: 1e5 }),
  numberField('bore', 'Bore', { unit: 'mm', initial: 0, min: 0, max: 1e5 }),
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type Wheel = Element & Stated<typeof WHEEL_FIELDS>;

/** A smooth wheel about z that rolls on a track or on another wheel. */
export const wheel: ElementKind<Wheel> = {
  type: 'wheel',
  label: 'Wheel',
  fields: WHEEL_FIELDS,
  problems: (e) => holeProblem('a bore', num(e.bore), num(e.diameter)),
  shape: (e) => [bar(num(e.diameter) / 2, -num(e.width) / 2, num(e.width) / 2, Math.min(num(e.bore), 0.9 * num(e.diameter)) / 2)],
  derived: (e) => [{ key: 'perTurn', label: 'Way per turn', value: Math.PI * num(e.diameter), unit: 'mm', formula: 'π·d' }],
};

const TRACK_FIELDS = [
  numberField('length', 'Length', { unit: 'mm', required: true, above: 0, max: 1e6, help: 'Along its running line.' }),
  numberField('width', 'Width', { unit: 'mm', required: true, above: 0, max: 1e5 }),
  numberField('height', 'Height', { unit: 'mm', required: true, above: 0, max: 1e5 }),
  exactField('curve', 'Radius of its curve', {
    unit: 'mm',
    symbol: 'R',
    min: -1e7,
    max: 1e7,
    help: 'Of the running line. Empty or 0: straight. The middle lies on the side to which its own z looks; negative: on the other.',
  }),
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type Track = Element & Stated<typeof TRACK_FIELDS>;

/**
 * The curve of a track in its own frame: the radius of the running line, the side of z on which
 * its middle lies, and half of the angle over which it goes (rad); undefined where it is straight.
 */
export function curveOf(e: Track): { radius: number; side: number; half: number } | undefined {
  const R = num(e.curve);
  return R === 0 ? undefined : { radius: Math.abs(R), side: Math.sign(R), half: Math.min(Math.PI, num(e.length) / Math.abs(R) / 2) };
}

/** The body of a curved track: its plan, from above, let down by its height. */
function bent(e: Track, { radius, side, half }: { radius: number; side: number; half: number }): Solid {
  const [inner, outer] = [radius - num(e.width) / 2, radius + num(e.width) / 2];
  // In plan x goes on as it does and y is the element's z.
  const place: Frame = { o: [0, 0, 0], x: [1, 0, 0], y: [0, 0, 1], z: [0, -1, 0] };
  const solid = { kind: 'prism', from: 0, to: num(e.height), place } as const;
  const middle = side * radius;
  if (half >= Math.PI * (1 - 1e-9)) return { ...solid, outline: circle(outer, 0, middle), holes: [circle(inner, 0, middle)] };
  const at = (r: number, a: number): Point => [r * Math.sin(a), middle - side * r * Math.cos(a)];
  const [right, left] = side > 0 ? [outer, inner] : [inner, outer];
  const [p, q] = [at(right, -half), at(left, half)];
  const centre: Point = [0, middle];
  return { ...solid, outline: outline(p, [arc(p, centre, 2 * half * side), line(q), arc(q, centre, -2 * half * side)]) };
}

/** A track: its running line along x, or on a curve that begins so, the running face towards +y, its width along z. */
export const track: ElementKind<Track> = {
  type: 'track',
  turnedInMirror: true,
  label: 'Track',
  fields: TRACK_FIELDS,
  problems(e) {
    const curve = curveOf(e);
    if (!curve) return [];
    const least = Number((num(e.width) / 2).toFixed(3)),
      round = 2 * Math.PI * curve.radius;
    return [
      ...(curve.radius <= num(e.width) / 2 ? [problem('curve-too-tight', { least }, 'curve')] : []),
      ...(num(e.length) > round * (1 + 1e-6) ? [problem('track-too-long', { round: Number(round.toFixed(2)) }, 'length')] : []),
    ];
  },
  shape(e) {
    const curve = curveOf(e);
    if (curve) return [bent(e, curve)];
    const outline = rectangle(-num(e.length) / 2, -num(e.height), num(e.length) / 2, 0);
    return [{ kind: 'prism', outline, from: -num(e.width) / 2, to: num(e.width) / 2 }];
  },
};
