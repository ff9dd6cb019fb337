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
}

/** Lays the band round its wheels in the order as listed, which may run either way round: inside means to the left of the way. */
export function bandGeometry(c: Run, wheels: readonly Placed<Pulley>[]): BandGeometry {
  const plane = wheels[0].frame;
  const crossed = c.crossed === true && wheels.length === 2;
  const outside = new Set(c.outside ?? []);
  const flat = wheels.map((w) => toLocalPoint(plane, w.frame.o));
  let area = 0;
  flat.forEach((p, i) => {
    const q = flat[(i + 1) % flat.length];
    area += p[0] * q[1] - p[1] * q[0];
  });
  const way = wheels.length > 2 && area < 0 ? -1 : 1;
  const run = wheels.map((w, i): BeltWheel => ({
    x: flat[i][0],
    y: flat[i][1],
    r: pulleyRadius(w.element),
    side: ((outside.has(w.element.id) || (crossed && i === 1) ? -1 : 1) * way) as 1 | -1,
  }));
  return { plane, run, path: beltPath(run) };
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
