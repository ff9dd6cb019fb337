import { finding } from '../findings/index';
import { FRAME, type Design, type Element, type Finding, type Id } from '../fields/types';
import { type Bulk, bulksOf, common, gapBetween } from '../interference/index';
import { type Frame, type Vec3, cross, dot, firstFound, norm, vadd, vscale, vsub, within } from '../math/index';
import type { Coordinate, Structure } from './structure';

interface Part {
  bulk: Bulk;
  frame: Frame;
}

/**
 * The radius of a ball from which on two parts stand in each other, mm; and what of it the place of touching is worked out from.
 */
const ENTERED = 0.02;
/** Steps on the way from the reference position before the search is given up, and the widest of a turn, deg. */
const MOST_STEPS = 5000;
const WIDEST_TURN = 20;
const TURN = 360;
const RAD = Math.PI / 180;
const NEAR = 1e-9;

/** A frame moved by one freedom from the reference position, deg or mm. */
function movedBy(c: Coordinate, f: Frame, value: number): Frame {
  if (c.motion === 'slide') return { ...f, o: vadd(f.o, vscale(c.axis, value)) };
  const a = value * RAD;
  const turn = (v: Vec3): Vec3 =>
    vadd(vadd(vscale(v, Math.cos(a)), vscale(cross(c.axis, v), Math.sin(a))), vscale(c.axis, dot(c.axis, v) * (1 - Math.cos(a))));
  return { o: vadd(c.point, turn(vsub(f.o, c.point))), x: turn(f.x), y: turn(f.y), z: turn(f.z) };
}

/** The largest ball that fits in two sets of parts, as a diameter, the first moved; 0 where they lie apart. */
function sharedBy(moving: readonly Part[], standing: readonly Part[], c: Coordinate, value: number): number {
  let most = 0;
  for (const a of moving) {
    const fa = movedBy(c, a.frame, value);
    for (const b of standing) {
      const shared = common(a.bulk, fa, b.bulk, b.frame, ENTERED);
      // What could not be decided is less than the parts are thin: the next step tells.
      if (shared && !shared.undecided) most = Math.max(most, shared.depth);
    }
  }
  return most;
}

/** How far a part reaches from a point, mm. */
const reachFrom = (p: Part, point: Vec3): number =>
  norm(vsub(p.frame.o, point)) + Math.hypot(p.bulk.reach, Math.max(Math.abs(p.bulk.from), Math.abs(p.bulk.to)));

/** By how much moving and standing parts certainly lie apart, mm. */
function gapOf(moving: readonly Part[], standing: readonly Part[], c: Coordinate, value: number): number {
  let least = Infinity;
  for (const a of moving) {
    const fa = movedBy(c, a.frame, value);
    for (const b of standing) least = Math.min(least, gapBetween(a.bulk, fa, b.bulk, b.frame));
  }
  return least;
}

/**
 * Value of a freedom, deg or mm, at which parts that it moves first touch others on the way from the reference position;
 * nothing where they never do. No step is wider than the gap that is left, or than a third of the thinnest part, so that
 * nothing is passed over.
 */
function touchOn(c: Coordinate, moving: readonly Part[], standing: readonly Part[], way: 1 | -1): number | 'undecided' | undefined {
  const thin = Math.min(...[...moving, ...standing].map((p) => p.bulk.least)) / 3;
  const reach = Math.max(...moving.map((p) => reachFrom(p, c.point)));
  const slide = c.motion === 'slide';
  const span = slide ? reach + Math.max(...standing.map((p) => reachFrom(p, c.point))) : TURN;
  /** Steps of the freedom in which no point moves farther, mm. */
  const stepFor = (far: number): number => (slide ? far : Math.min(WIDEST_TURN, far / reach / RAD));
  let [free, steps] = [0, 0];
  while (free < span) {
    if (++steps > MOST_STEPS) return 'undecided';
    const at = free + stepFor(Math.max(thin, gapOf(moving, standing, c, way * free)));
    const entered = sharedBy(moving, standing, c, way * at);
    if (!entered) {
      free = at;
      continue;
    }
    const narrow = 1e-3 * stepFor(thin);
    const first = firstFound(free, at, narrow, entered, (x) => sharedBy(moving, standing, c, way * x) || undefined);
    // What is shared grows evenly at first: back to where it is nothing.
    const more = 50 * narrow;
    const later = sharedBy(moving, standing, c, way * (first.at + more));
    const back = later > first.found ? (first.found * more) / (later - first.found) : 0;
    return way * Math.max(0, first.at - back);
  }
  return undefined;
}

/**
 * Puts the stops of members that stop each other into the coordinates: where they touch, from either side of the reference
 * position. They follow when a part grows. For members that one freedom alone moves against each other; of others it says so.
 */
export function contactStops(design: Design, structure: Structure, elements: ReadonlyMap<Id, Element>, frames: ReadonlyMap<Id, Frame>): Finding[] {
  const out: Finding[] = [];
  const carrying = new Map(structure.coordinates.map((c) => [c.body, c]));
  const wayDown = (body: number): Coordinate[] => {
    const way: Coordinate[] = [];
    for (let c = carrying.get(body); c && way.length <= structure.coordinates.length; c = carrying.get(c.parent)) way.push(c);
    return way;
  };
  const partsOf = (member: Id): Part[] =>
    [...elements.values()].flatMap((e) => {
      const at = e.member === member ? frames.get(e.id) : undefined;
      return at ? bulksOf(e).map((bulk) => ({ bulk, frame: within(at, bulk.place) })) : [];
    });
  const seen = new Set<string>();
  for (const m of design.members) {
    for (const other of m.stopsAt ?? []) {
      const key = [m.id, other].sort().join(' ');
      const [a, b] = [structure.bodyOf.get(m.id), structure.bodyOf.get(other)];
      if (seen.has(key) || a === undefined || b === undefined) continue;
      seen.add(key);
      const names = { name: structure.nameOf(m.id), name2: structure.nameOf(other) };
      const ids = other === FRAME ? [m.id] : [m.id, other];
      const [up, down] = [wayDown(a), wayDown(b)];
      const between = [...up.filter((c) => !down.includes(c)), ...down.filter((c) => !up.includes(c))];
      const [c] = between;
      if (between.length !== 1 || c.motion === 'helix') {
        out.push(finding('stop-pair-several', ids, { ...names, count: between.length }, 'stopsAt'));
        continue;
      }
      const moves = up.includes(c);
      const [moving, standing] = [partsOf(moves ? m.id : other), partsOf(moves ? other : m.id)];
      if (!moving.length || !standing.length) {
        out.push(finding('stop-pair-bodiless', ids, names, 'stopsAt'));
        continue;
      }
      if (sharedBy(moving, standing, c, 0)) {
        out.push(finding('stop-pair-overlaps', ids, names, 'stopsAt'));
        continue;
      }
      const ends = ([1, -1] as const).map((way) => ({ way, at: touchOn(c, moving, standing, way) }));
      if (ends.some((x) => x.at === 'undecided')) out.push(finding('stop-pair-undecided', ids, names, 'stopsAt'));
      else if (ends.every((x) => x.at === undefined)) out.push(finding('stop-pair-misses', ids, names, 'stopsAt'));
      for (const end of ends) {
        if (typeof end.at !== 'number') continue;
        // Whichever way it lies, also where they touch from the beginning.
        const which = end.way * c.sign > 0 ? 'upper' : 'lower';
        const at = end.at * c.sign;
        const stated = c[which];
        const had = stated === undefined ? undefined : Number(stated);
        if (had === undefined || (which === 'upper' ? at < had - NEAR : at > had + NEAR)) c[which] = Number(at.toFixed(6)) + 0;
      }
    }
  }
  return out;
}
