import { problem } from '../findings/index';
import type { Element } from '../fields/types';
import { type Stated, choiceField, numberField, wholeField } from '../fields/fields';
import { DENSITY_FIELD, num } from './gear';
import { KEYWAY_FIELD, boreOutline, keywayProblems } from './keyway';
import { Derived, ElementKind, holeProblem } from './protocol';
import { type Outline, type Piece, type Point, arc, bar, eachPiece, line, mirrored, outline, placeOn, polygon, reversed } from '../solids/index';

const RAD = Math.PI / 180;

/** Outside diameter, mm: as stated, or module times teeth. */
export const ratchetDiameter = (e: RatchetWheel): number => num(e.diameter) || num(e.module) * num(e.teeth);
const depthOf = (e: RatchetWheel): number => {
  const d = ratchetDiameter(e);
  return num(e.depth) || Math.min(0.25 * d, (0.8 * Math.PI * d) / (2 * num(e.teeth)));
};

/** Radius at the roots, mm. */
export function ratchetRoot(e: RatchetWheel): number {
  const R = ratchetDiameter(e) / 2;
  return Math.max(0.05 * R, R - depthOf(e));
}

const RATCHET_WHEEL_FIELDS = [
  wholeField('teeth', 'Teeth', { symbol: 'z', required: true, min: 3, max: 1000 }),
  numberField('diameter', 'Outside diameter', {
    unit: 'mm',
    symbol: 'da',
    above: 0,
    max: 1e5,
    help: 'Or state a module: it is then the module times the teeth.',
  }),
  numberField('module', 'or module', {
    perInch: { label: 'or diametral pitch', symbol: 'P' },
    unit: 'mm',
    symbol: 'm',
    above: 0,
    max: 1000,
    when: (e: { diameter?: number }) => !e.diameter,
  }),
  numberField('depth', 'Depth of teeth', { unit: 'mm', min: 0, max: 1e4, help: 'Left open, it follows from the pitch.' }),
  numberField('land', 'Land of the tip', { unit: 'mm', initial: 0, min: 0, max: 1e4, help: 'Width of the tip along the outside circle.' }),
  numberField('faceAngle', 'Angle of the face', {
    unit: 'deg',
    symbol: 'κ',
    initial: 0,
    min: -60,
    max: 45,
    help: 'From the radius: 0 is radial; hooked faces (more than 0) draw the pawl in, faces that lean back (less than 0) push it out under load.',
  }),
  choiceField('back', 'Back', ['straight', 'curved'], { initial: 'straight' }),
  numberField('backRadius', 'Radius of the back', {
    unit: 'mm',
    min: 0,
    max: 1e6,
    when: (e: { back?: string }) => e.back === 'curved',
    help: 'Left open, it is half the outside diameter.',
  }),
  numberField('width', 'Width', { unit: 'mm', symbol: 'b', required: true, above: 0, max: 1e4 }),
  numberField('bore', 'Bore', { unit: 'mm', initial: 0, min: 0, max: 1e5 }),
  KEYWAY_FIELD,
  choiceField('free', 'Free to turn', ['forward', 'back'], {
    initial: 'forward',
    help: 'The sense about its axis in which the pawl lets it pass.',
  }),
  numberField('bendingLimit', 'Permissible bending stress', { rare: true, unit: 'MPa', above: 0, max: 3000, help: 'Of its teeth, for the rating.' }),
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type RatchetWheel = Element & Stated<typeof RATCHET_WHEEL_FIELDS>;

/**
 * The back of a tooth from p to q: an arc that bulges outward with a radius; straight where the radius is too small for
 * the way.
 */
function backOf(p: Point, q: Point, radius: number): Piece {
  const [dx, dy] = [q[0] - p[0], q[1] - p[1]];
  const chord = Math.hypot(dx, dy);
  if (!(radius > chord / 2)) return line(q);
  const h = Math.sqrt(radius * radius - (chord / 2) ** 2);
  const centre: Point = [(p[0] + q[0]) / 2 - (h * dy) / chord, (p[1] + q[1]) / 2 + (h * dx) / chord];
  return { kind: 'arc', to: q, centre, angle: 2 * Math.asin(chord / 2 / radius) };
}

/**
 * Outline of a ratchet wheel, counter-clockwise, mm, with a steep face at +x. Free
 * forward, the faces look clockwise: they hold the wheel from turning clockwise. From
 * the root of a face up to its tip, over the land, and down the back to the next root.
 */
function forwardCurve(e: RatchetWheel): Outline {
  const z = num(e.teeth),
    R = ratchetDiameter(e) / 2,
    r = ratchetRoot(e);
  const pitch = (2 * Math.PI) / z;
  // A hooked face: its tip hangs over its root. Tip and root lie on a line at the face angle to the radius of the tip.
  const kappa = num(e.faceAngle) * RAD;
  const lean = kappa === 0 ? 0 : Math.asin(Math.max(-1, Math.min(1, (R / r) * Math.sin(kappa)))) - kappa;
  const land = Math.min(num(e.land) / R, 0.9 * pitch);
  const at = (radius: number, angle: number): Point => [radius * Math.cos(angle), radius * Math.sin(angle)];
  const bulge = e.back === 'curved' ? num(e.backRadius) || R : 0;
  const pieces: Piece[] = [];
  for (let k = 0; k < z; k++) {
    const a = k * pitch;
    // Written for a wheel that is free forward, its faces looking clockwise: face at a, land, back down to the next face's
    // root.
    const tip = at(R, a),
      end = at(R, a + land),
      next = at(r, a + pitch + lean);
    pieces.push(line(tip));
    if (land > 0) pieces.push(arc(tip, [0, 0], land));
    pieces.push(backOf(end, next, bulge));
  }
  return outline(at(r, lean), pieces);
}

/** The outline of a ratchet wheel; faces that look the other way are the mirror of those of a wheel that is free forward. */
const ratchetCurve = (e: RatchetWheel): Outline => (e.free === 'back' ? reversed(mirrored(forwardCurve(e))) : forwardCurve(e));

/** The same by points, for finding where a pawl touches: lands straight, six points on a curved back. */
export function ratchetOutline(e: RatchetWheel): number[] {
  const out: Point[] = [];
  eachPiece(forwardCurve(e), (from, p) => {
    const n = p.kind === 'arc' && Math.hypot(...p.centre) > 0 ? 7 : 1;
    for (let k = 0; k < n; k++) out.push(placeOn(from, p, k / n));
  });
  return (e.free === 'back' ? out.map(([x, y]): Point => [x, -y]).reverse() : out).flat();
}

/**
 * A ratchet wheel about z. Seen against its axis, teeth that are steep on the clockwise side hold it from turning
 * clockwise.
 */
export const ratchetWheel: ElementKind<RatchetWheel> = {
  type: 'ratchet-wheel',
  label: 'Ratchet wheel',
  mirrored: (e) => ({ free: e.free === 'back' ? 'forward' : 'back' }),
  fields: RATCHET_WHEEL_FIELDS,
  shape(e) {
    const R = ratchetDiameter(e) / 2,
      r = ratchetRoot(e);
    if (!(R > 0)) return [];
    const bore = Math.min(num(e.bore) / 2, 0.8 * r),
      w = num(e.width) / 2;
    return [{ kind: 'prism', outline: ratchetCurve(e), holes: bore > 0 ? [boreOutline(bore, e.keyway)] : undefined, from: -w, to: w }];
  },
  plain(e) {
    const r = ratchetRoot(e);
    return r > 0 ? [bar(r, -num(e.width) / 2, num(e.width) / 2, Math.min(num(e.bore) / 2, 0.8 * r))] : [];
  },
  problems(e) {
    if (!(ratchetDiameter(e) > 0)) return [problem('ratchet-size', {})];
    const R = ratchetDiameter(e) / 2;
    const land = (num(e.land) * num(e.teeth)) / (2 * Math.PI * R);
    if (land >= 0.9) return [problem('no-tooth', { why: 'their lands take the whole pitch' }, 'land')];
    const deep = holeProblem('a depth', 2 * num(e.depth), 2 * R, 'depth');
    if (deep.length) return deep;
    const bore = holeProblem('a bore', num(e.bore), 2 * (R - depthOf(e)));
    return bore.length ? bore : keywayProblems(e.keyway, num(e.bore), R - depthOf(e));
  },
  derived(e): Derived[] {
    return [
      { key: 'pitch', label: 'Lost motion up to', value: 360 / num(e.teeth), unit: 'deg', formula: '360°/z' },
      { key: 'depthUsed', label: 'Depth of teeth', value: depthOf(e), unit: 'mm' },
    ];
  },
};

const PAWL_FIELDS = [
  numberField('length', 'Length', { unit: 'mm', required: true, above: 0, max: 1e4 }),
  numberField('width', 'Width', { unit: 'mm', symbol: 'b', required: true, above: 0, max: 1e4 }),
  numberField('press', 'Moment that presses it in', {
    unit: 'N·m',
    initial: 0,
    min: 0,
    max: 1e9,
    help: 'Of its spring or weight, about its pin: what riding over the teeth takes follows from it.',
  }),
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type Pawl = Element & Stated<typeof PAWL_FIELDS>;

/**
 * A pawl: its pin at the origin, its nose along x as it is drawn
 * by itself. On a wheel it swings about its pin (see `pawlSwing`).
 */
export const pawl: ElementKind<Pawl> = {
  type: 'pawl',
  label: 'Pawl',
  fields: PAWL_FIELDS,
  shape(e) {
    const l = num(e.length),
      t = 0.14 * l,
      w = num(e.width) / 2;
    return [{ kind: 'prism', outline: polygon([-t, -t, 0.5 * l, -t, l, -0.3 * t, l, 0.3 * t, 0.5 * l, t, -t, t]), from: -w, to: w }];
  },
};
