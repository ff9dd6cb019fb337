import { type Pulley, pulleyRadius } from '../../elements/index';
import { type Frame, toLocalPoint } from '../../math/index';
import type { Placed } from '../common';
import type { Run } from './fields';
import { type BeltPath, type BeltWheel, beltPath } from './band-path';

/** A band over its wheels, in the plane of the first: mm. */
export interface BandGeometry {
  plane: Frame;
  run: BeltWheel[];
  path: BeltPath;
  /** Whether a band can run so: once round, bearing on every wheel from its side. */
  lies: boolean;
}

/** On which side of the line from a to b a point lies: the doubled area between them. */
const sideOf = (a: readonly number[], b: readonly number[], p: readonly number[]): number =>
  (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]);

/** Whether two strands cross. */
const crossing = ({ strands }: BeltPath): boolean =>
  strands.some((s, i) =>
    strands.some(
      (t, k) =>
        k > i && sideOf(s.from, s.to, t.from) * sideOf(s.from, s.to, t.to) < 0 && sideOf(t.from, t.to, s.from) * sideOf(t.from, t.to, s.to) < 0,
    ),
  );

/** Lays the band round its wheels in the order as listed, which may run either way round: inside means to the left of the way. */
export function bandGeometry(c: Run, wheels: readonly Placed<Pulley>[]): BandGeometry {
  const plane = wheels[0].frame;
  const crossed = c.crossed === true && wheels.length === 2;
  const outside = new Set(c.outside ?? []);
  const flat = wheels.map((w) => toLocalPoint(plane, w.frame.o));
  const laid = (way: 1 | -1): BandGeometry => {
    const run = wheels.map((w, i): BeltWheel => ({
      x: flat[i][0],
      y: flat[i][1],
      r: pulleyRadius(w.element),
      side: ((outside.has(w.element.id) || (crossed && i === 1) ? -1 : 1) * way) as 1 | -1,
    }));
    const path = beltPath(run);
    // A band that closes without a loop of its own turns once in all; a crossed one turns back what it turned.
    const turned = run.reduce((s, w, i) => s + w.side * path.wraps[i], 0);
    const lies = path.impossible === undefined && Math.abs(Math.abs(turned) - (crossed ? 0 : 2 * Math.PI)) < 1e-6 && (crossed || !crossing(path));
    return { plane, run, path, lies };
  };
  const one = laid(1);
  if (wheels.length < 3) return one;
  // Which way round the wheels are listed says nothing: it lies the one way or the
  // other, and where it could both ways, the shorter, unless the other is asked for.
  const other = laid(-1);
  if (one.lies !== other.lies) return one.lies ? one : other;
  return one.path.length <= other.path.length !== (c.otherWay === true) ? one : other;
}

/**
 * The distances of two wheels at which a band between them has the given whole number of pitches, mm; undefined where
 * it would be shorter than the wheels allow. The band's length rises with the distance, so that halving finds it.
 */
export function distanceFor(g: BandGeometry, length: number): number | undefined {
  const [a, b] = g.run;
  const at = (distance: number): number =>
    beltPath([
      { ...a, x: 0, y: 0 },
      { ...b, x: distance, y: 0 },
    ]).length;
  let low = (a.side === b.side ? Math.abs(a.r - b.r) : a.r + b.r) * (1 + 1e-9) + 1e-9;
  if (at(low) > length) return undefined;
  let high = low + length;
  for (let k = 0; k < 80; k++) {
    const middle = (low + high) / 2;
    if (at(middle) < length) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** The closed line of the belt, arcs in steps of about five degrees. */
export function outline(run: readonly BeltWheel[], path: BeltPath): [number, number][] {
  const out: [number, number][] = [];
  run.forEach((w, i) => {
    const into = path.strands[(i + run.length - 1) % run.length].to;
    const start = Math.atan2(into[1] - w.y, into[0] - w.x);
    const steps = Math.max(1, Math.ceil(path.wraps[i] / 0.09));
    for (let k = 0; k <= steps; k++) {
      const a = start + (w.side * path.wraps[i] * k) / steps;
      out.push([w.x + w.r * Math.cos(a), w.y + w.r * Math.sin(a)]);
    }
  });
  return out;
}
