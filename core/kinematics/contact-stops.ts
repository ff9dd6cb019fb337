import { finding } from '../findings/index';
import { FRAME, type Design, type Element, type Finding, type Id } from '../fields/types';
import { type Bulk, bulksOf, common } from '../interference/index';
import { type Frame, type Vec3, cross, dot, norm, vadd, vscale, vsub, within } from '../math/index';
import type { Coordinate, Structure } from './structure';

interface Part {
  bulk: Bulk;
  frame: Frame;
}

/** The radius of a ball from which on two parts stand in each other, mm; and what of it the place of touching is worked out from. */
const ENTERED = 0.02;
/** Steps on the way from the reference position, so that nothing is passed over. */
const MOST_STEPS = 20_000;
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
    for (const b of standing) most = Math.max(most, common(a.bulk, fa, b.bulk, b.frame, ENTERED)?.depth ?? 0);
  }
  return most;
}

/** How far a part reaches from a point, mm. */
const reachFrom = (p: Part, point: Vec3): number =>
  norm(vsub(p.frame.o, point)) + Math.hypot(p.bulk.reach, Math.max(Math.abs(p.bulk.from), Math.abs(p.bulk.to)));

/** Value of a freedom, deg or mm, at which parts that it moves first touch others on the way from the reference position. */
function touchOn(c: Coordinate, moving: readonly Part[], standing: readonly Part[], way: 1 | -1): number | undefined {
  const least = Math.min(...[...moving, ...standing].map((p) => p.bulk.least));
  const reach = Math.max(...moving.map((p) => reachFrom(p, c.point)));
  const span = c.motion === 'slide' ? reach + Math.max(...standing.map((p) => reachFrom(p, c.point))) : TURN;
  const step = Math.max(c.motion === 'slide' ? least / 3 : Math.min(2, least / 3 / reach / RAD), span / MOST_STEPS);
  for (let at = step; at < span + step; at += step) {
    if (!sharedBy(moving, standing, c, way * at)) continue;
    let [free, entered] = [at - step, at];
    while (entered - free > 1e-3 * step) {
      const mid = (free + entered) / 2;
      if (sharedBy(moving, standing, c, way * mid)) entered = mid;
      else free = mid;
    }
    // What is shared grows evenly at first: back to where it is nothing.
    const more = entered + 0.05 * step;
    const [d0, d1] = [sharedBy(moving, standing, c, way * entered), sharedBy(moving, standing, c, way * more)];
    const back = d1 > d0 ? (d0 * (more - entered)) / (d1 - d0) : 0;
    return way * Math.max(0, entered - back);
  }
  return undefined;
}

/**
 * Puts the stops of members that stop each other into the coordinates: where they touch, from either side of the reference position. They follow when a part grows. For
 * members that one freedom alone moves against each other; of others it says so.
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
      const ends = ([1, -1] as const).map((way) => touchOn(c, moving, standing, way)).flatMap((x) => (x === undefined ? [] : [x * c.sign + 0]));
      if (!ends.length) out.push(finding('stop-pair-misses', ids, names, 'stopsAt'));
      for (const at of ends) {
        const which = at > 0 || (at === 0 && ends.some((x) => x < 0)) ? 'upper' : 'lower';
        const stated = c[which];
        const had = stated === undefined ? undefined : Number(stated);
        if (had === undefined || (which === 'upper' ? at < had - NEAR : at > had + NEAR)) c[which] = Number(at.toFixed(6)) + 0;
      }
    }
  }
  return out;
}
