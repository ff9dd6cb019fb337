import { PLACEMENT, slideAlong, turnAbout, moveVector } from '../math/index';
import type { Kinematics } from './compiled';

/** q from u by the exact elimination. */
export function spread(k: Kinematics, u: Float64Array, q: Float64Array): void {
  const { start, column, value, constant } = k;
  for (let i = 0; i < q.length; i++) {
    let s = constant[i];
    for (let e = start[i]; e < start[i + 1]; e++) s += value[e] * u[column[e]];
    q[i] = s;
  }
}

/** Rates of all coordinates from rates of the free ones (velocities, or any other variation). */
export function spreadRates(k: Kinematics, rates: Float64Array, out: Float64Array): void {
  const { start, column, value, count } = k;
  for (let i = 0; i < count; i++) {
    let s = 0;
    for (let e = start[i]; e < start[i + 1]; e++) s += value[e] * rates[column[e]];
    out[i] = s;
  }
}

/** Placements of all bodies from q. */
export function place(k: Kinematics, q: Float64Array, t: Float64Array): void {
  const { axis, point, parentOf, bodyCoordinate, motion, lead } = k;
  for (let b = 1; b < k.bodies; b++) {
    const i = bodyCoordinate[b],
      c = 3 * i,
      m = motion[i],
      p = parentOf[b];
    if (m === 1) slideAlong(t, PLACEMENT * b, t, PLACEMENT * p, axis[c], axis[c + 1], axis[c + 2], q[i]);
    else {
      const travel = m === 2 ? lead[i] * q[i] : 0;
      turnAbout(t, PLACEMENT * b, p ? PLACEMENT * p : -1, axis[c], axis[c + 1], axis[c + 2], point[c], point[c + 1], point[c + 2], q[i], travel);
    }
  }
}

/** World axes and points of all coordinates for placements. */
export function moveAxes(k: Kinematics, t: Float64Array, axisNow: Float64Array, pointNow: Float64Array): void {
  const { axis, point, parentOf, bodyCoordinate } = k;
  for (let b = 1; b < k.bodies; b++) {
    const c = 3 * bodyCoordinate[b];
    const p = PLACEMENT * parentOf[b];
    if (p === 0) {
      for (let r = 0; r < 3; r++) {
        axisNow[c + r] = axis[c + r];
        pointNow[c + r] = point[c + r];
      }
      continue;
    }
    moveVector(axisNow, c, t, p, axis[c], axis[c + 1], axis[c + 2]);
    for (let r = 0; r < 3; r++) {
      pointNow[c + r] = t[p + 4 * r] * point[c] + t[p + 4 * r + 1] * point[c + 1] + t[p + 4 * r + 2] * point[c + 2] + t[p + 4 * r + 3];
    }
  }
}

/**
 * The coordinates that move when the free ones move at the given rates,
 * with their rates: of a large design most freedoms move little.
 */
export function movedBy(k: Kinematics, rates: Float64Array): Map<number, number> {
  let columns = columnsKept.get(k);
  if (!columns) columnsKept.set(k, (columns = columnsOfFree(k)));
  const out = new Map<number, number>();
  for (let j = 0; j < k.freeCount; j++) {
    if (rates[j] === 0) continue;
    const { coordinate, value } = columns[j];
    for (let e = 0; e < coordinate.length; e++) out.set(coordinate[e], (out.get(coordinate[e]) ?? 0) + value[e] * rates[j]);
  }
  return out;
}

/** The elimination by columns; it follows from the kinematics, so it is kept with them. */
const columnsKept = new WeakMap<Kinematics, { coordinate: number[]; value: number[] }[]>();
function columnsOfFree(k: Kinematics): { coordinate: number[]; value: number[] }[] {
  const columns = Array.from({ length: k.freeCount }, () => ({ coordinate: [] as number[], value: [] as number[] }));
  for (let i = 0; i < k.count; i++) {
    for (let e = k.start[i]; e < k.start[i + 1]; e++) {
      columns[k.column[e]].coordinate.push(i);
      columns[k.column[e]].value.push(k.value[e]);
    }
  }
  return columns;
}
