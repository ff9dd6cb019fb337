import { MM } from '../couplings/index';
import type { Id } from '../fields/types';
import { PLACEMENT, moveVector } from '../math/index';
import type { Closure } from './structure';
import { SLIDES, TURNS } from './motions';

/** Size that a rotation error is weighed with against a position error, m per rad. */
export const ARM = 0.1;

/** The rows of a joint that closes a loop: the body that its coordinates reach must coincide with the child's. */
export interface ClosureRows {
  readonly joint: Id;
  readonly reached: number;
  readonly child: number;
  /** Body that carries the whole loop: directions of the rows stand still in it. */
  readonly root: number;
  /** Point in the reference position, m. */
  readonly px: number;
  readonly py: number;
  readonly pz: number;
  /** Row directions in the reference position: position rows first, then rotation rows; three numbers each. */
  readonly position: Float64Array;
  readonly rotation: Float64Array;
  readonly rows: number;
  /**
   * Coordinates round the loop: from the reached end to the root, then
   * from the child to the root; the first `turned` of them count forward.
   */
  readonly chain: Int32Array;
  readonly turned: number;
}

interface Tree {
  readonly parentOf: Int32Array;
  readonly bodyCoordinate: Int32Array;
  readonly motion: Uint8Array;
  readonly axis: Float64Array;
}

const ALL = Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1);
const NONE = new Float64Array(0);

/** Which rows a loop needs: three where everything turns about one direction and slides across it, else six. */
export function closureRows(c: Closure, tree: Tree): ClosureRows {
  const { parentOf, bodyCoordinate, motion, axis: a } = tree;
  const above = new Set<number>([0]);
  for (let b = c.reached; b; b = parentOf[b]) above.add(b);
  let root = c.child;
  while (!above.has(root)) root = parentOf[root];
  const chain: number[] = [];
  for (let b = c.reached; b !== root; b = parentOf[b]) chain.push(bodyCoordinate[b]);
  const turned = chain.length;
  for (let b = c.child; b !== root; b = parentOf[b]) chain.push(bodyCoordinate[b]);
  const make = (position: Float64Array, rotation: Float64Array): ClosureRows => ({
    joint: c.joint.id,
    reached: c.reached,
    child: c.child,
    root,
    px: c.frame.o[0] * MM,
    py: c.frame.o[1] * MM,
    pz: c.frame.o[2] * MM,
    position,
    rotation,
    rows: (position.length + rotation.length) / 3,
    chain: Int32Array.from(chain),
    turned,
  });
  const turning = chain.find((i) => motion[i] !== SLIDES);
  if (turning === undefined) return make(ALL, NONE);
  const t = 3 * turning;
  const nx = a[t],
    ny = a[t + 1],
    nz = a[t + 2];
  const plane = chain.every((i) => {
    const k = 3 * i;
    const along = a[k] * nx + a[k + 1] * ny + a[k + 2] * nz;
    return motion[i] === TURNS ? Math.abs(Math.abs(along) - 1) < 1e-12 : motion[i] === SLIDES && Math.abs(along) < 1e-12;
  });
  if (!plane) return make(ALL, ALL);
  const across = Math.abs(nx) < 0.7 ? [0, nz, -ny] : [-nz, 0, nx];
  const len = Math.hypot(across[0], across[1], across[2]);
  const u = across.map((v) => v / len);
  const v = [ny * u[2] - nz * u[1], nz * u[0] - nx * u[2], nx * u[1] - ny * u[0]];
  return make(Float64Array.of(...u, ...v), Float64Array.of(nx, ny, nz));
}

/** A pose as the closures read it. */
export interface Closing {
  readonly placements: Float64Array;
  readonly axisNow: Float64Array;
  readonly pointNow: Float64Array;
}

const dirs = new Float64Array(18);
const tip = new Float64Array(6);

/**
 * Writes what a pose misses of one closure into `residuals` from `row`,
 * and its gradient into `values` from `at`, row by row along the chain.
 */
export function writeClosure(
  c: ClosureRows,
  motion: Uint8Array,
  lead: Float64Array,
  pose: Closing,
  residuals: Float64Array,
  row: number,
  values: Float64Array,
  at: number,
): void {
  const { placements: t, axisNow: a, pointNow: o } = pose;
  const np = c.position.length,
    nr = c.rotation.length;
  if (c.root === 0) {
    dirs.set(c.position, 0);
    dirs.set(c.rotation, np);
  } else {
    for (let k = 0; k < np; k += 3) moveVector(dirs, k, t, PLACEMENT * c.root, c.position[k], c.position[k + 1], c.position[k + 2]);
    for (let k = 0; k < nr; k += 3) moveVector(dirs, np + k, t, PLACEMENT * c.root, c.rotation[k], c.rotation[k + 1], c.rotation[k + 2]);
  }
  const A = PLACEMENT * c.reached,
    B = PLACEMENT * c.child;
  for (let k = 0; k < 3; k++) {
    tip[k] = t[A + 4 * k] * c.px + t[A + 4 * k + 1] * c.py + t[A + 4 * k + 2] * c.pz + t[A + 4 * k + 3];
    tip[3 + k] = t[B + 4 * k] * c.px + t[B + 4 * k + 1] * c.py + t[B + 4 * k + 2] * c.pz + t[B + 4 * k + 3];
  }
  const rows = np / 3;
  for (let k = 0; k < rows; k++) {
    residuals[row + k] = dirs[3 * k] * (tip[0] - tip[3]) + dirs[3 * k + 1] * (tip[1] - tip[4]) + dirs[3 * k + 2] * (tip[2] - tip[5]);
  }
  if (nr) {
    // Half the sum of cross products of matching axes: the rotation error, sin of the angle about its axis.
    let ex = 0,
      ey = 0,
      ez = 0;
    for (let k = 0; k < 3; k++) {
      const bx = t[B + k],
        by = t[B + 4 + k],
        bz = t[B + 8 + k],
        ax = t[A + k],
        ay = t[A + 4 + k],
        az = t[A + 8 + k];
      ex += 0.5 * (by * az - bz * ay);
      ey += 0.5 * (bz * ax - bx * az);
      ez += 0.5 * (bx * ay - by * ax);
    }
    for (let k = 0; k < nr; k += 3) residuals[row + rows + k / 3] = ARM * (dirs[np + k] * ex + dirs[np + k + 1] * ey + dirs[np + k + 2] * ez);
  }
  const x = (tip[0] + tip[3]) / 2,
    y = (tip[1] + tip[4]) / 2,
    z = (tip[2] + tip[5]) / 2;
  const n = c.chain.length;
  for (let e = 0; e < n; e++) {
    const i = c.chain[e],
      k = 3 * i,
      m = motion[i],
      s = e < c.turned ? 1 : -1;
    const ax = s * a[k],
      ay = s * a[k + 1],
      az = s * a[k + 2];
    let vx = 0,
      vy = 0,
      vz = 0;
    if (m !== 1) {
      const dx = x - o[k],
        dy = y - o[k + 1],
        dz = z - o[k + 2];
      vx = ay * dz - az * dy;
      vy = az * dx - ax * dz;
      vz = ax * dy - ay * dx;
    }
    if (m !== 0) {
      const l = m === 1 ? 1 : lead[i];
      vx += ax * l;
      vy += ay * l;
      vz += az * l;
    }
    for (let r = 0; r < rows; r++) values[at + r * n + e] = dirs[3 * r] * vx + dirs[3 * r + 1] * vy + dirs[3 * r + 2] * vz;
    for (let r = 0; r < nr; r += 3) {
      values[at + (rows + r / 3) * n + e] = m === 1 ? 0 : ARM * (dirs[np + r] * ax + dirs[np + r + 1] * ay + dirs[np + r + 2] * az);
    }
  }
}
