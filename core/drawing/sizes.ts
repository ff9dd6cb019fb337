import { type Gear, gearOf, num } from '../elements/index';
import type { DrawnSize } from '../fields/common';
import { type Design, type Element, FRAME, type Id } from '../fields/types';
import { type Vec3, dot, norm, toWorldPoint, vadd, vscale, vsub } from '../math/index';
import { statedBy } from '../fields/fields';
import type { Point } from '../solids/index';
import { type DrawnBody, bodyReach } from './bodies';
import { type Looking, inView } from './views';

/** A size that can be written on a drawing. */
export interface Size {
  size: DrawnSize;
  a: Id;
  b: Id;
  /** What it is of, in words. */
  name: string;
  /** mm */
  value: number;
  /** Stands before its figure: Ø of a diameter. */
  sign: 'Ø' | '';
  measured: Measured;
}

type Measured =
  /** Across the axis of a body, at a radius, between two places along it. */
  | { kind: 'round'; body: DrawnBody; r: number; from: number; to: number }
  /** Along an axis of a body's box. */
  | { kind: 'side'; body: DrawnBody; k: 0 | 1 | 2 }
  /** Between two axes. */
  | { kind: 'axes'; p: Vec3; q: Vec3 };

/** A size in a view, mm of the world: its direction, its ends along it, and how far what it is of reaches across. */
export interface InView {
  direction: Point;
  from: number;
  to: number;
  low: number;
  high: number;
}

/** Names of the sides of a body that is not round, x, y, z. */
const SIDES: Readonly<Record<string, readonly [DrawnSize, DrawnSize, DrawnSize]>> = { rack: ['length', 'height', 'width'] };
/** Round bodies that are longer than wide by nature. */
const LONG: ReadonlySet<string> = new Set(['rod', 'screw', 'worm', 'drum', 'nut']);

/** The sizes of one body. */
function sizesOfBody(b: DrawnBody, e: Element): Size[] {
  const out: Size[] = [];
  const [lo, hi] = b.extent;
  const put = (size: DrawnSize, value: number, sign: Size['sign'], measured: Measured): void => {
    if (value > 1e-6) out.push({ size, a: e.id, b: e.id, name: `${b.name}: ${size}`, value, sign, measured });
  };
  const { round } = b;
  if (!round) {
    const names = SIDES[b.type] ?? ['length', 'depth', 'height'];
    ([0, 1, 2] as const).forEach((k) => put(names[k], hi[k] - lo[k], '', { kind: 'side', body: b, k }));
    return out;
  }
  const across = (size: DrawnSize, r: number): void => put(size, 2 * r, 'Ø', { kind: 'round', body: b, r, from: round.from, to: round.to });
  const pitch = b.lines.find((l) => l.kind === 'pitch' && !l.flat);
  if (b.type === 'gear') {
    const g = gearOf(e as Gear);
    across('tip diameter', g.tipRadius);
    across('root diameter', g.rootRadius);
    if (g.internal) across('outside diameter', round.r);
  } else if (b.type !== 'cam') across(pitch ? 'tip diameter' : 'outside diameter', round.r);
  if (pitch) across('pitch diameter', Math.max(pitch.from[0], pitch.to[0]));
  const bore = statedBy(e)['bore'];
  if (typeof bore === 'number' || typeof bore === 'string') across('bore', num(bore) / 2);
  put(LONG.has(b.type) ? 'length' : 'width', round.to - round.from, '', { kind: 'side', body: b, k: 2 });
  return out;
}

/** All sizes that a drawing of these bodies can be given: of each body, and between the axes of wheels that are coupled. */
export function sizesOf(design: Design, bodies: readonly DrawnBody[]): Size[] {
  const elements = new Map(design.elements.map((e) => [e.id, e]));
  const byId = new Map(bodies.map((b) => [b.element, b]));
  const out: Size[] = [];
  const had = new Set<string>();
  for (const c of design.couplings) {
    const wheels = c.wheels ?? [c.a, c.b].filter((x) => x !== undefined);
    for (let i = 0; i + 1 < wheels.length; i++) {
      const [p, q] = [byId.get(wheels[i]), byId.get(wheels[i + 1])];
      if (!p?.round || !q?.round || Math.abs(dot(p.place.z, q.place.z)) < 1 - 1e-9) continue;
      const away = vsub(q.place.o, p.place.o);
      const between = vsub(away, vscale(p.place.z, dot(away, p.place.z)));
      const key = `${p.element} ${q.element}`;
      if (norm(between) < 1e-6 || had.has(key)) continue;
      had.add(key);
      out.push({
        size: 'centre distance',
        a: p.element,
        b: q.element,
        name: `${p.name} and ${q.name}: centre distance`,
        value: norm(between),
        sign: '',
        measured: { kind: 'axes', p: p.place.o, q: vadd(p.place.o, between) },
      });
    }
  }
  // What moves comes before what it stands in.
  const order = [...bodies].sort((p, q) => Number(p.member === FRAME) - Number(q.member === FRAME));
  return [...out, ...order.flatMap((b) => sizesOfBody(b, elements.get(b.element)!))];
}

/**
 * Where a size is seen in its true length in a view; undefined where it is not. A diameter is better seen from beside: `best`.
 */
export function sizeIn(s: Size, v: Looking): { at: InView; best: boolean } | undefined {
  const { measured: m } = s;
  const made = (direction: Point, ends: readonly Point[], reach: readonly Point[]): InView => {
    const [dx, dy] = direction;
    const along = ends.map(([x, y]) => x * dx + y * dy),
      across = reach.map(([x, y]) => y * dx - x * dy);
    return { direction, from: Math.min(...along), to: Math.max(...along), low: Math.min(...across), high: Math.max(...across) };
  };
  const flat = (d: Vec3): Point | undefined => {
    const [x, y] = inView(v, d);
    // The same whichever way round it was stated.
    return Math.hypot(x, y) < 1 - 1e-9 ? undefined : x < -1e-9 || (Math.abs(x) <= 1e-9 && y < 0) ? [-x, -y] : [x, y];
  };
  if (m.kind === 'axes') {
    const ends = [inView(v, m.p), inView(v, m.q)];
    const direction = flat(vscale(vsub(m.q, m.p), 1 / s.value));
    return direction && { at: made(direction, ends, ends), best: true };
  }
  const { place, extent } = m.body;
  if (m.kind === 'side') {
    const direction = flat([place.x, place.y, place.z][m.k]);
    if (!direction) return undefined;
    // Its ends are those of its box; across, it reaches as far as it does.
    const ends = extent.map((p): Point => inView(v, toWorldPoint(place, [m.k === 0 ? p[0] : 0, m.k === 1 ? p[1] : 0, m.k === 2 ? p[2] : 0])));
    const [dx, dy] = direction;
    const [low, high] = bodyReach(m.body, vadd(vscale(v.right, -dy), vscale(v.up, dx)));
    return { at: { ...made(direction, ends, ends), low, high }, best: true };
  }
  const c = dot(v.towards, place.z);
  const centre = inView(v, place.o);
  if (Math.abs(c) > 1 - 1e-9) {
    const ends: Point[] = [
      [centre[0] - m.r, centre[1]],
      [centre[0] + m.r, centre[1]],
    ];
    return { at: made([1, 0], ends, [centre]), best: false };
  }
  if (Math.abs(c) > 1e-9) return undefined;
  const [ax, ay] = inView(v, place.z);
  const direction: Point = ay > 1e-9 || (Math.abs(ay) <= 1e-9 && ax < 0) ? [ay, -ax] : [-ay, ax];
  const on = (z: number, r: number): Point => [centre[0] + z * ax + r * direction[0], centre[1] + z * ay + r * direction[1]];
  const ends = [on(m.from, -m.r), on(m.to, m.r)];
  return { at: made(direction, ends, ends), best: true };
}

/** Whether a size says how far things reach along a direction of the world: from there to there, mm. */
export function saysReach({ measured: m }: Size, along: Vec3, from: number, to: number): boolean {
  const near = (a: number, b: number): boolean => Math.abs(a - b) < 1e-3;
  if (m.kind === 'axes') return false;
  const { place, extent } = m.body;
  const at = dot(place.o, along);
  if (m.kind === 'round') return Math.abs(dot(place.z, along)) < 1e-9 && near(at - m.r, from) && near(at + m.r, to);
  const c = dot([place.x, place.y, place.z][m.k], along);
  const ends = extent.map((p) => at + c * p[m.k]).sort((a, b) => a - b);
  return Math.abs(c) > 1 - 1e-9 && near(ends[0], from) && near(ends[1], to);
}
