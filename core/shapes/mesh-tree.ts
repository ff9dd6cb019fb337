import type { Mesh } from '../solids/index';

/** Triangles in a leaf. */
const LEAF = 8;
/** A direction along which no edges of parts lie. */
const RAY = [0.5373871, 0.6157213, 0.5763221] as const;

/**
 * A tree of boxes about a closed surface: how deep a point lies inside it is asked of it (bounding volume hierarchy, median
 * split; from memory). Made once of a mesh.
 */
export class MeshTree {
  private readonly order: Uint32Array;
  /** Of each node: least x, y, z, greatest x, y, z. */
  private readonly boxes: Float64Array;
  /** Of each node: its first triangle in the order, and how many; the children of node k are 2k + 1 and 2k + 2. */
  private readonly first: Int32Array;
  private readonly count: Int32Array;
  private best = 0;
  private readonly p = [0, 0, 0];

  constructor(private readonly mesh: Mesh) {
    const n = mesh.triangles.length / 3;
    this.order = Uint32Array.from({ length: n }, (_, i) => i);
    const depth = Math.max(0, Math.ceil(Math.log2(Math.max(1, n / LEAF))));
    const nodes = 2 ** (depth + 1) - 1;
    this.boxes = new Float64Array(6 * nodes);
    this.first = new Int32Array(nodes);
    this.count = new Int32Array(nodes);
    const middles = new Float64Array(3 * n);
    for (let t = 0; t < n; t++) {
      for (let k = 0; k < 3; k++) {
        for (let i = 0; i < 3; i++) middles[3 * t + i] += mesh.points[3 * mesh.triangles[3 * t + k] + i] / 3;
      }
    }
    this.build(0, 0, n, middles);
  }

  private build(node: number, from: number, count: number, middles: Float64Array): void {
    this.first[node] = from;
    this.count[node] = count;
    const { points, triangles } = this.mesh;
    const b = 6 * node;
    this.boxes.fill(Infinity, b, b + 3);
    this.boxes.fill(-Infinity, b + 3, b + 6);
    for (let k = from; k < from + count; k++) {
      for (let c = 0; c < 3; c++) {
        const p = 3 * triangles[3 * this.order[k] + c];
        for (let i = 0; i < 3; i++) {
          if (points[p + i] < this.boxes[b + i]) this.boxes[b + i] = points[p + i];
          if (points[p + i] > this.boxes[b + 3 + i]) this.boxes[b + 3 + i] = points[p + i];
        }
      }
    }
    if (2 * node + 2 >= this.first.length) return;
    const sizes = [0, 1, 2].map((i) => this.boxes[b + 3 + i] - this.boxes[b + i]);
    const axis = sizes.indexOf(Math.max(...sizes));
    const part = this.order.subarray(from, from + count);
    part.sort((s, t) => middles[3 * s + axis] - middles[3 * t + axis]);
    const half = count >> 1;
    this.build(2 * node + 1, from, half, middles);
    this.build(2 * node + 2, from + half, count - half, middles);
  }

  private leaf(node: number): boolean {
    return 2 * node + 2 >= this.first.length;
  }

  /** Square of the distance from the point to a node's box. */
  private away(node: number): number {
    let sum = 0;
    for (let i = 0; i < 3; i++) {
      const d = Math.max(this.boxes[6 * node + i] - this.p[i], 0, this.p[i] - this.boxes[6 * node + 3 + i]);
      sum += d * d;
    }
    return sum;
  }

  private nearest(node: number): void {
    if (this.count[node] === 0 || this.away(node) >= this.best) return;
    if (this.leaf(node)) {
      for (let k = this.first[node]; k < this.first[node] + this.count[node]; k++) this.best = Math.min(this.best, this.toTriangle(this.order[k]));
      return;
    }
    const [l, r] = [2 * node + 1, 2 * node + 2];
    const leftFirst = this.away(l) <= this.away(r);
    this.nearest(leftFirst ? l : r);
    this.nearest(leftFirst ? r : l);
  }

  /** Square of the distance to a triangle (Ericson, Real-Time Collision Detection, 5.1.5; from memory). */
  private toTriangle(t: number): number {
    const { points: q, triangles } = this.mesh;
    const [a, b, c] = [3 * triangles[3 * t], 3 * triangles[3 * t + 1], 3 * triangles[3 * t + 2]];
    const [px, py, pz] = this.p;
    const [ax, ay, az] = [q[a], q[a + 1], q[a + 2]];
    const [ux, uy, uz] = [q[b] - ax, q[b + 1] - ay, q[b + 2] - az];
    const [vx, vy, vz] = [q[c] - ax, q[c + 1] - ay, q[c + 2] - az];
    const to = (s: number, r: number): number => {
      const [x, y, z] = [px - ax - s * ux - r * vx, py - ay - s * uy - r * vy, pz - az - s * uz - r * vz];
      return x * x + y * y + z * z;
    };
    const [wx, wy, wz] = [px - ax, py - ay, pz - az];
    const d1 = ux * wx + uy * wy + uz * wz,
      d2 = vx * wx + vy * wy + vz * wz;
    if (d1 <= 0 && d2 <= 0) return to(0, 0);
    const uu = ux * ux + uy * uy + uz * uz,
      uv = ux * vx + uy * vy + uz * vz,
      vv = vx * vx + vy * vy + vz * vz;
    const d3 = d1 - uu,
      d4 = d2 - uv;
    if (d3 >= 0 && d4 <= d3) return to(1, 0);
    const vc = d1 * d4 - d3 * d2;
    if (vc <= 0 && d1 >= 0 && d3 <= 0) return to(d1 / (d1 - d3), 0);
    const d5 = d1 - uv,
      d6 = d2 - vv;
    if (d6 >= 0 && d5 <= d6) return to(0, 1);
    const vb = d5 * d2 - d1 * d6;
    if (vb <= 0 && d2 >= 0 && d6 <= 0) return to(0, d2 / (d2 - d6));
    const va = d3 * d6 - d5 * d4;
    if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
      const w = (d4 - d3) / (d4 - d3 + (d5 - d6));
      return to(1 - w, w);
    }
    const k = 1 / (va + vb + vc);
    return to(vb * k, vc * k);
  }

  /** How often a ray from the point crosses the surface of a node. */
  private crossings(node: number): number {
    if (this.count[node] === 0) return 0;
    // Slabs (Kay and Kajiya 1986).
    let [near, far] = [0, Infinity];
    for (let i = 0; i < 3; i++) {
      const [s, e] = [(this.boxes[6 * node + i] - this.p[i]) / RAY[i], (this.boxes[6 * node + 3 + i] - this.p[i]) / RAY[i]];
      near = Math.max(near, Math.min(s, e));
      far = Math.min(far, Math.max(s, e));
    }
    if (near > far) return 0;
    if (!this.leaf(node)) return this.crossings(2 * node + 1) + this.crossings(2 * node + 2);
    let n = 0;
    for (let k = this.first[node]; k < this.first[node] + this.count[node]; k++) if (this.crosses(this.order[k])) n++;
    return n;
  }

  /** Möller and Trumbore 1997. */
  private crosses(t: number): boolean {
    const { points: q, triangles } = this.mesh;
    const [a, b, c] = [3 * triangles[3 * t], 3 * triangles[3 * t + 1], 3 * triangles[3 * t + 2]];
    const [ux, uy, uz] = [q[b] - q[a], q[b + 1] - q[a + 1], q[b + 2] - q[a + 2]];
    const [vx, vy, vz] = [q[c] - q[a], q[c + 1] - q[a + 1], q[c + 2] - q[a + 2]];
    const [hx, hy, hz] = [RAY[1] * vz - RAY[2] * vy, RAY[2] * vx - RAY[0] * vz, RAY[0] * vy - RAY[1] * vx];
    const det = ux * hx + uy * hy + uz * hz;
    if (det === 0) return false;
    const [sx, sy, sz] = [this.p[0] - q[a], this.p[1] - q[a + 1], this.p[2] - q[a + 2]];
    const s = (sx * hx + sy * hy + sz * hz) / det;
    if (s < 0 || s > 1) return false;
    const [kx, ky, kz] = [sy * uz - sz * uy, sz * ux - sx * uz, sx * uy - sy * ux];
    const r = (RAY[0] * kx + RAY[1] * ky + RAY[2] * kz) / det;
    return r >= 0 && s + r <= 1 && (vx * kx + vy * ky + vz * kz) / det > 0;
  }

  /** How deep a point lies inside the surface: the distance to it, negative outside, mm. */
  depth(x: number, y: number, z: number): number {
    this.p[0] = x;
    this.p[1] = y;
    this.p[2] = z;
    this.best = Infinity;
    this.nearest(0);
    const d = Math.sqrt(this.best);
    return this.crossings(0) % 2 ? d : -d;
  }
}
