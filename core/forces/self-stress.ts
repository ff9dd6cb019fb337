import type { ClosureRows, JointEnds, Kinematics, Pose } from '../kinematics/index';
import { LeastSquares, type Vec3, cross, dot } from '../math/index';
import { TURNS, slidesAt, SCREWS } from '../kinematics/index';

/** A joint on the way round a loop, and the sense in which what its closing joint carries goes through it. */
interface Passed {
  readonly end: JointEnds;
  readonly sense: number;
}

/** Loops that share joints. */
interface Group {
  readonly closures: readonly ClosureRows[];
  /** For each closing joint the joints that its loop goes through, itself among them. */
  readonly loops: readonly (readonly Passed[])[];
  /** All joints of the group, and all their coordinates. */
  readonly joints: readonly JointEnds[];
  readonly coordinates: readonly number[];
}

/** Part of the largest below which figures are rounding. */
const ROUNDING = 1e-12;

/**
 * What statics leaves open in loops: forces and moments that go round a loop and do no work on any freedom
 * of its joints, such as those across the plane of a planar linkage, or between two bearings on one axis.
 * They are chosen so that joints push rather than hold against tilting: the sum of squares of all moments at
 * the joints is least, and among those that of the forces. That depends neither on the order in which joints
 * are stated nor on which of them closes a loop, and two bearings on an axis are two simple supports.
 */
export class SelfStress {
  private readonly planar: PlanarGroup[] = [];
  private readonly others: Group[] = [];
  /**
   * How many combinations of the closing joints' own rows are open, and whether that is so of loops that do not lie in
   * planes.
   */
  readonly openRows: number = 0;
  readonly outOfPlane: boolean = false;

  constructor(pose: Pose) {
    const k = pose.kinematics;
    if (!k.closures.length) return;
    pose.updateAxes();
    for (const g of groupsOf(k)) {
      const open = openStates(k, pose, g).length;
      if (open === 0) continue;
      const rows = g.closures.reduce((s, c) => s + c.rows, 0);
      this.openRows += open - (6 * g.loops.length - rows);
      if (rows > 3 * g.loops.length) this.outOfPlane = true;
      const plane = open === 3 * g.loops.length ? planarGroup(k, pose, g) : undefined;
      if (plane) this.planar.push(plane);
      else this.others.push(g);
    }
  }

  /** Restates the reactions (six numbers at each joint's first coordinate: force, and moment about its point) of the pose. */
  settle(pose: Pose, reaction: Float64Array): void {
    for (const p of this.planar) if (!settlePlanar(pose, p, reaction)) settleGroup(pose.kinematics, pose, p.group, reaction);
    for (const g of this.others) settleGroup(pose.kinematics, pose, g, reaction);
  }
}

/**
 * Loops in parallel planes, of which statics leaves open the force across the plane and the two moments
 * about directions in it: three unknowns a loop, whose normal equations are small. Allocates nothing.
 */
interface PlanarGroup {
  readonly group: Group;
  /** A coordinate that turns about the normal. */
  readonly normal: number;
  /** For each joint its first coordinate, and the sense of each loop in it: 0 where the loop does not go through it. */
  readonly first: Int32Array;
  readonly sense: Int8Array;
  /** Normal equations, row by row, and their right side. */
  readonly a: Float64Array;
  readonly b: Float64Array;
}

/** The group as one whose joints all turn about one direction and slide across it; undefined where they do not. */
function planarGroup(k: Kinematics, pose: Pose, group: Group): PlanarGroup | undefined {
  const normal = group.coordinates.find((i) => k.motion[i] === TURNS);
  if (normal === undefined) return undefined;
  const n = axisOf(pose, normal);
  const flat = group.coordinates.every((i) => {
    const along = Math.abs(dot(axisOf(pose, i), n));
    return k.motion[i] === TURNS ? Math.abs(along - 1) < 1e-9 : slidesAt(k, i) && along < 1e-9;
  });
  if (!flat) return undefined;
  const { loops, joints } = group;
  const sense = new Int8Array(joints.length * loops.length);
  loops.forEach((loop, l) => loop.forEach((p) => (sense[joints.indexOf(p.end) * loops.length + l] = p.sense)));
  const size = 3 * loops.length;
  return { group, normal, first: Int32Array.from(joints, (e) => e.first), sense, a: new Float64Array(size * size), b: new Float64Array(size) };
}

/** False where the equations are too near to singular. */
function settlePlanar(pose: Pose, p: PlanarGroup, reaction: Float64Array): boolean {
  const { first, sense, a, b, normal } = p;
  const loops = p.group.loops.length,
    size = 3 * loops;
  const { axisNow: axis, pointNow: point } = pose;
  const nx = axis[3 * normal],
    ny = axis[3 * normal + 1],
    nz = axis[3 * normal + 2];
  // Two directions in the plane.
  const flat = Math.abs(nx) < 0.7;
  let ux = flat ? 0 : -nz,
    uy = flat ? nz : 0,
    uz = flat ? -ny : nx;
  const over = 1 / Math.sqrt(ux * ux + uy * uy + uz * uz);
  ux *= over;
  uy *= over;
  uz *= over;
  const vx = ny * uz - nz * uy,
    vy = nz * ux - nx * uz,
    vz = nx * uy - ny * ux;
  a.fill(0);
  b.fill(0);
  let tilting = 0;
  const o = 3 * first[0];
  for (let e = 0; e < first.length; e++) {
    const c = 3 * first[e],
      r = 6 * first[e] + 3;
    const x = point[c] - point[o],
      y = point[c + 1] - point[o + 1],
      z = point[c + 2] - point[o + 2];
    const pu = ux * x + uy * y + uz * z,
      pv = vx * x + vy * y + vz * z;
    const mu = ux * reaction[r] + uy * reaction[r + 1] + uz * reaction[r + 2],
      mv = vx * reaction[r] + vy * reaction[r + 1] + vz * reaction[r + 2];
    tilting += mu * mu + mv * mv;
    for (let l = 0; l < loops; l++) {
      const s = sense[e * loops + l];
      if (s === 0) continue;
      // A loop's unknowns (mu, mv, f) tilt the joint by mu − f pv and mv + f pu.
      b[3 * l] -= s * mu;
      b[3 * l + 1] -= s * mv;
      b[3 * l + 2] -= s * (mv * pu - mu * pv);
      for (let h = 0; h <= l; h++) {
        const t = s * sense[e * loops + h];
        if (t === 0) continue;
        const k = 3 * l * size + 3 * h;
        a[k] += t;
        a[k + 2] -= t * pv;
        a[k + size + 1] += t;
        a[k + size + 2] += t * pu;
        a[k + 2 * size] -= t * pv;
        a[k + 2 * size + 1] += t * pu;
        a[k + 2 * size + 2] += t * (pu * pu + pv * pv);
      }
    }
  }
  if (tilting === 0) return true;
  if (!cholesky(a, b, size)) return false;
  for (let e = 0; e < first.length; e++) {
    const c = 3 * first[e],
      r = 6 * first[e];
    const x = point[c] - point[o],
      y = point[c + 1] - point[o + 1],
      z = point[c + 2] - point[o + 2];
    const pu = ux * x + uy * y + uz * z,
      pv = vx * x + vy * y + vz * z;
    let f = 0,
      mu = 0,
      mv = 0;
    for (let l = 0; l < loops; l++) {
      const s = sense[e * loops + l];
      if (s === 0) continue;
      f += s * b[3 * l + 2];
      mu += s * (b[3 * l] - b[3 * l + 2] * pv);
      mv += s * (b[3 * l + 1] + b[3 * l + 2] * pu);
    }
    reaction[r] += f * nx;
    reaction[r + 1] += f * ny;
    reaction[r + 2] += f * nz;
    reaction[r + 3] += mu * ux + mv * vx;
    reaction[r + 4] += mu * uy + mv * vy;
    reaction[r + 5] += mu * uz + mv * vz;
  }
  return true;
}

/** Part of the largest diagonal below which a pivot is none. */
const SINGULAR = 1e-10;

/** Solves A x = b in place by its lower triangle (Golub & Van Loan, section 4.2). False where it is not definite. */
function cholesky(a: Float64Array, b: Float64Array, n: number): boolean {
  let most = 0;
  for (let i = 0; i < n; i++) most = Math.max(most, a[i * n + i]);
  for (let j = 0; j < n; j++) {
    let d = a[j * n + j];
    for (let k = 0; k < j; k++) d -= a[j * n + k] * a[j * n + k];
    if (!(d > SINGULAR * most)) return false;
    const root = Math.sqrt(d);
    a[j * n + j] = root;
    for (let i = j + 1; i < n; i++) {
      let s = a[i * n + j];
      for (let k = 0; k < j; k++) s -= a[i * n + k] * a[j * n + k];
      a[i * n + j] = s / root;
    }
  }
  for (let i = 0; i < n; i++) {
    let s = b[i];
    for (let k = 0; k < i; k++) s -= a[i * n + k] * b[k];
    b[i] = s / a[i * n + i];
  }
  for (let i = n - 1; i >= 0; i--) {
    let s = b[i];
    for (let k = i + 1; k < n; k++) s -= a[k * n + i] * b[k];
    b[i] = s / a[i * n + i];
  }
  return true;
}

function groupsOf(k: Kinematics): Group[] {
  const closureOf = new Map<readonly Passed[], ClosureRows>();
  const loops = k.closures.map((c): Passed[] => {
    const seen = new Map<number, number>();
    c.chain.forEach((i, e) => seen.set(k.endOf[i], e < c.turned ? 1 : -1));
    const loop = [...seen].map(([e, sense]) => ({ end: k.ends[e], sense }));
    closureOf.set(loop, c);
    return loop;
  });
  const groupOf = new Map<string, Passed[][]>();
  for (const loop of loops) {
    const joined = new Set(loop.map((p) => groupOf.get(p.end.joint)).filter((g) => g !== undefined));
    const all = [...joined].flat();
    all.push(loop);
    for (const l of all) for (const p of l) groupOf.set(p.end.joint, all);
  }
  return [...new Set(groupOf.values())].map((ls): Group => {
    const joints = [...new Map(ls.flat().map((p) => [p.end.joint, p.end])).values()];
    return { closures: ls.map((l) => closureOf.get(l)!), loops: ls, joints, coordinates: joints.flatMap((e) => [...e.chain]) };
  });
}

const axisOf = (pose: Pose, i: number): Vec3 => [pose.axisNow[3 * i], pose.axisNow[3 * i + 1], pose.axisNow[3 * i + 2]];
const pointOf = (pose: Pose, i: number): Vec3 => [pose.pointNow[3 * i], pose.pointNow[3 * i + 1], pose.pointNow[3 * i + 2]];

/** Wrenches round the loops (moment about the world's origin, force) that no freedom feels: six numbers a loop. */
function openStates(k: Kinematics, pose: Pose, g: Group): Float64Array[] {
  const n = 6 * g.loops.length;
  const m = g.coordinates.length;
  const solver = new LeastSquares(m, n);
  solver.begin(m, n);
  const row = new Map(g.coordinates.map((i, r) => [i, r]));
  g.loops.forEach((loop, l) => {
    for (const { end, sense } of loop) {
      for (const i of end.chain) {
        const axis = axisOf(pose, i);
        const slide = slidesAt(k, i);
        const turn = cross(pointOf(pose, i), axis);
        for (let x = 0; x < 3; x++) {
          // Power of a unit moment, and of a unit force, on the freedom.
          if (!slide) solver.a[(6 * l + x) * m + row.get(i)!] += sense * axis[x];
          solver.a[(6 * l + 3 + x) * m + row.get(i)!] += sense * (slide ? axis[x] : turn[x] + (k.motion[i] === SCREWS ? k.lead[i] * axis[x] : 0));
        }
      }
    }
  });
  solver.factor(1e-9);
  return solver.nullSpace();
}

function settleGroup(k: Kinematics, pose: Pose, g: Group, reaction: Float64Array): void {
  const states = openStates(k, pose, g);
  if (!states.length) return;
  // What each state puts through each joint: force, then moment about the joint's point.
  const { joints, loops } = g;
  const place = new Map(joints.map((e, r) => [e.joint, r]));
  const through = states.map((s) => {
    const out = new Float64Array(6 * joints.length);
    loops.forEach((loop, l) => {
      const moment: Vec3 = [s[6 * l], s[6 * l + 1], s[6 * l + 2]],
        force: Vec3 = [s[6 * l + 3], s[6 * l + 4], s[6 * l + 5]];
      for (const { end, sense } of loop) {
        const r = 6 * place.get(end.joint)!;
        const off = cross(pointOf(pose, end.first), force);
        for (let x = 0; x < 3; x++) {
          out[r + x] += sense * force[x];
          out[r + 3 + x] += sense * (moment[x] - off[x]);
        }
      }
    });
    return out;
  });
  const now = new Float64Array(6 * joints.length);
  joints.forEach((e, r) => now.set(reaction.subarray(6 * e.first, 6 * e.first + 6), 6 * r));
  // Moments first; among what leaves these alike, forces.
  const y = least(through, now, 3);
  const left = freeOf(through, 3);
  add(now, through, y);
  if (left.length) {
    const rest = left.map((z) => {
      const out = new Float64Array(now.length);
      add(out, through, z);
      return out;
    });
    add(now, rest, least(rest, now, 0));
  }
  const most = now.reduce((s, x) => Math.max(s, Math.abs(x)), 0);
  joints.forEach((e, r) => {
    for (let x = 0; x < 6; x++) reaction[6 * e.first + x] = Math.abs(now[6 * r + x]) < ROUNDING * most ? 0 : now[6 * r + x];
  });
}

/** Every three of six numbers from an offset, of each column, as a matrix: 0 forces, 3 moments. */
function entered(columns: readonly Float64Array[], from: number): LeastSquares {
  const rows = columns[0].length / 2;
  const solver = new LeastSquares(rows, columns.length);
  solver.begin(rows, columns.length);
  columns.forEach((c, j) => {
    for (let r = 0; r < rows; r++) solver.a[j * rows + r] = c[6 * Math.floor(r / 3) + from + (r % 3)];
  });
  return solver;
}

/** Of what columns add to figures, the parts that make the sum of squares least. */
function least(columns: readonly Float64Array[], figures: Float64Array, from: number): Float64Array {
  const solver = entered(columns, from);
  const rows = figures.length / 2;
  for (let r = 0; r < rows; r++) solver.b[r] = -figures[6 * Math.floor(r / 3) + from + (r % 3)];
  solver.factor(1e-9);
  return solver.solve().slice(0, columns.length);
}

/** Parts of columns that leave the figures as they are. */
function freeOf(columns: readonly Float64Array[], from: number): Float64Array[] {
  const solver = entered(columns, from);
  solver.factor(1e-9);
  return solver.nullSpace();
}

function add(to: Float64Array, columns: readonly Float64Array[], parts: Float64Array): void {
  columns.forEach((c, j) => {
    if (parts[j] !== 0) for (let i = 0; i < to.length; i++) to[i] += parts[j] * c[i];
  });
}
