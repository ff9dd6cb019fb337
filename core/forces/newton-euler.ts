import type { Kinematics } from '../kinematics/index';
import { PLACEMENT, movePoint } from '../math/index';
import type { BodyMasses } from './body-masses';
import { slidesAt, SLIDES, SCREWS } from '../kinematics/index';

/** What the passes read of a train, and of a pose of it. */
export type Tree = Pick<Kinematics, 'bodies' | 'bodyCoordinate' | 'parentOf' | 'motion' | 'lead'>;
export interface Posed {
  readonly kinematics: Tree;
  readonly axisNow: Float64Array;
  readonly pointNow: Float64Array;
  readonly placements: Float64Array;
}

/** How all bodies move, six numbers each about the world's origin: rotation, then the point that passes through it. */
export interface BodyMotion {
  readonly twist: Float64Array;
  readonly accel: Float64Array;
}

/** Six numbers for what is worked out on the way: the passes run one after the other. */
const h = new Float64Array(6);

/**
 * Twists of all bodies about the world's origin (rotation, then velocity of the point there;
 * rad/s, m/s) from the rates of the coordinates and, where their accelerations are given, spatial
 * accelerations: parents first (Featherstone, Rigid Body Dynamics Algorithms, section 5.3).
 */
export function moveBodies(m: Posed, velocity: Float64Array, acceleration: Float64Array | undefined, out: BodyMotion): void {
  const { twist: V, accel: A } = out;
  const { axisNow: a, pointNow: o, kinematics: tree } = m;
  for (let b = 1; b < tree.bodies; b++) {
    const i = tree.bodyCoordinate[b];
    const p = 6 * tree.parentOf[b],
      t = 6 * b,
      k = 3 * i;
    const turn = slidesAt(tree, i) ? 0 : 1;
    const l = slidesAt(tree, i) ? 1 : tree.lead[i];
    const wx = turn * a[k],
      wy = turn * a[k + 1],
      wz = turn * a[k + 2];
    const vx = turn * (o[k + 1] * a[k + 2] - o[k + 2] * a[k + 1]) + l * a[k];
    const vy = turn * (o[k + 2] * a[k] - o[k] * a[k + 2]) + l * a[k + 1];
    const vz = turn * (o[k] * a[k + 1] - o[k + 1] * a[k]) + l * a[k + 2];
    const q = velocity[i];
    V[t] = V[p] + wx * q;
    V[t + 1] = V[p + 1] + wy * q;
    V[t + 2] = V[p + 2] + wz * q;
    V[t + 3] = V[p + 3] + vx * q;
    V[t + 4] = V[p + 4] + vy * q;
    V[t + 5] = V[p + 5] + vz * q;
    if (!acceleration) continue;
    const qq = acceleration[i];
    const Wx = V[t],
      Wy = V[t + 1],
      Wz = V[t + 2],
      Ux = V[t + 3],
      Uy = V[t + 4],
      Uz = V[t + 5];
    A[t] = A[p] + wx * qq + q * (Wy * wz - Wz * wy);
    A[t + 1] = A[p + 1] + wy * qq + q * (Wz * wx - Wx * wz);
    A[t + 2] = A[p + 2] + wz * qq + q * (Wx * wy - Wy * wx);
    A[t + 3] = A[p + 3] + vx * qq + q * (Wy * vz - Wz * vy + Uy * wz - Uz * wy);
    A[t + 4] = A[p + 4] + vy * qq + q * (Wz * vx - Wx * vz + Uz * wx - Ux * wz);
    A[t + 5] = A[p + 5] + vz * qq + q * (Wx * vy - Wy * vx + Ux * wy - Uy * wx);
  }
}

/** The wrench (moment about the world's origin, force) that every body's own motion needs, by Newton and Euler. */
export function inertialWrenches(m: Posed, masses: BodyMasses, motion: BodyMotion, own: Float64Array): void {
  for (let b = 1; b < m.kinematics.bodies; b++) if (masses.heavy[b]) inertialWrench(m, masses, motion, own, b);
}

function inertialWrench(m: Posed, { mass, centre, inertia }: BodyMasses, motion: BodyMotion, W: Float64Array, b: number): void {
  const T = m.placements,
    t = PLACEMENT * b,
    k = 3 * b,
    j = 6 * b;
  const V = motion.twist,
    A = motion.accel,
    w = mass[b];
  const cx = T[t] * centre[k] + T[t + 1] * centre[k + 1] + T[t + 2] * centre[k + 2] + T[t + 3];
  const cy = T[t + 4] * centre[k] + T[t + 5] * centre[k + 1] + T[t + 6] * centre[k + 2] + T[t + 7];
  const cz = T[t + 8] * centre[k] + T[t + 9] * centre[k + 1] + T[t + 10] * centre[k + 2] + T[t + 11];
  const ox = V[j],
    oy = V[j + 1],
    oz = V[j + 2],
    ux = V[j + 3],
    uy = V[j + 4],
    uz = V[j + 5];
  // Acceleration of the centre of mass: spatial acceleration moved there, plus ω × v of the centre.
  const vx = ux + oy * cz - oz * cy,
    vy = uy + oz * cx - ox * cz,
    vz = uz + ox * cy - oy * cx;
  const ax = A[j + 3] + A[j + 1] * cz - A[j + 2] * cy + oy * vz - oz * vy;
  const ay = A[j + 4] + A[j + 2] * cx - A[j] * cz + oz * vx - ox * vz;
  const az = A[j + 5] + A[j] * cy - A[j + 1] * cx + ox * vy - oy * vx;
  const fx = w * ax,
    fy = w * ay,
    fz = w * az;
  // R I Rᵀ times angular acceleration and velocity, through body coordinates.
  turnInertia(T, t, inertia, j, A[j], A[j + 1], A[j + 2], 0);
  turnInertia(T, t, inertia, j, ox, oy, oz, 3);
  W[j] = h[0] + oy * h[5] - oz * h[4] + cy * fz - cz * fy;
  W[j + 1] = h[1] + oz * h[3] - ox * h[5] + cz * fx - cx * fz;
  W[j + 2] = h[2] + ox * h[4] - oy * h[3] + cx * fy - cy * fx;
  W[j + 3] = fx;
  W[j + 4] = fy;
  W[j + 5] = fz;
}

/** Inertia of a body at the present pose times a vector of the world, into `h` at o. */
function turnInertia(T: Float64Array, t: number, I: Float64Array, j: number, x: number, y: number, z: number, o: number): void {
  const bx = T[t] * x + T[t + 4] * y + T[t + 8] * z,
    by = T[t + 1] * x + T[t + 5] * y + T[t + 9] * z,
    bz = T[t + 2] * x + T[t + 6] * y + T[t + 10] * z;
  const ix = I[j] * bx + I[j + 3] * by + I[j + 5] * bz,
    iy = I[j + 3] * bx + I[j + 1] * by + I[j + 4] * bz,
    iz = I[j + 5] * bx + I[j + 4] * by + I[j + 2] * bz;
  h[o] = T[t] * ix + T[t + 1] * iy + T[t + 2] * iz;
  h[o + 1] = T[t + 4] * ix + T[t + 5] * iy + T[t + 6] * iz;
  h[o + 2] = T[t + 8] * ix + T[t + 9] * iy + T[t + 10] * iz;
}

/** Wrench that each body's own motion needs beyond its external wrench, then summed towards the frame. */
export function sumTowardsFrame(m: Tree, own: Float64Array | undefined, E: Float64Array, W: Float64Array): void {
  const { parentOf } = m;
  if (own) for (let i = 6; i < W.length; i++) W[i] = own[i] - E[i];
  else for (let i = 6; i < W.length; i++) W[i] = -E[i];
  for (let b = m.bodies - 1; b > 0; b--) {
    const p = 6 * parentOf[b];
    if (p === 0) continue;
    const t = 6 * b;
    for (let k = 0; k < 6; k++) W[p + k] += W[t + k];
  }
}

/** Projection of a body's wrench on the freedom that moves it. */
export function alongFreedom(m: Posed, W: Float64Array, i: number, body: number): number {
  const t = 6 * body,
    k = 3 * i;
  const a = m.axisNow,
    o = m.pointNow;
  const ax = a[k],
    ay = a[k + 1],
    az = a[k + 2];
  const fa = W[t + 3] * ax + W[t + 4] * ay + W[t + 5] * az;
  const { motion, lead } = m.kinematics;
  if (motion[i] === SLIDES) return fa;
  const mx = W[t] - (o[k + 1] * W[t + 5] - o[k + 2] * W[t + 4]),
    my = W[t + 1] - (o[k + 2] * W[t + 3] - o[k] * W[t + 5]),
    mz = W[t + 2] - (o[k] * W[t + 4] - o[k + 1] * W[t + 3]);
  return mx * ax + my * ay + mz * az + (motion[i] === SCREWS ? lead[i] * fa : 0);
}

/** Kinetic energy of all bodies, J. */
export function kineticEnergy(m: Posed, { mass, centre, inertia: I, heavy }: BodyMasses, { twist: V }: BodyMotion): number {
  const T = m.placements;
  let e = 0;
  for (let b = 1; b < m.kinematics.bodies; b++) {
    if (!heavy[b]) continue;
    const j = 6 * b,
      t = PLACEMENT * b;
    movePoint(h, 0, T, t, centre[3 * b], centre[3 * b + 1], centre[3 * b + 2]);
    const vx = V[j + 3] + V[j + 1] * h[2] - V[j + 2] * h[1],
      vy = V[j + 4] + V[j + 2] * h[0] - V[j] * h[2],
      vz = V[j + 5] + V[j] * h[1] - V[j + 1] * h[0];
    const wx = T[t] * V[j] + T[t + 4] * V[j + 1] + T[t + 8] * V[j + 2],
      wy = T[t + 1] * V[j] + T[t + 5] * V[j + 1] + T[t + 9] * V[j + 2],
      wz = T[t + 2] * V[j] + T[t + 6] * V[j + 1] + T[t + 10] * V[j + 2];
    e +=
      0.5 * mass[b] * (vx * vx + vy * vy + vz * vz) +
      0.5 * (I[j] * wx * wx + I[j + 1] * wy * wy + I[j + 2] * wz * wz) +
      I[j + 3] * wx * wy +
      I[j + 4] * wy * wz +
      I[j + 5] * wz * wx;
  }
  return e;
}
