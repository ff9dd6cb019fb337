import { type Vec3, dot, norm } from '../math/index';
import { type Mesh, normalOf } from '../solids/index';

/** Cosine of the angle at which triangles that meet are still one round surface: 30°. */
const SMOOTH = 0.866;

/** Three corners a triangle with normals for drawing: round surfaces look round, edges sharp. */
export function creased(mesh: Mesh): { positions: Float32Array<ArrayBuffer>; normals: Float32Array<ArrayBuffer> } {
  const { points: p, triangles: t } = mesh;
  const count = t.length / 3;
  const faces = Array.from({ length: count }, (_, f) => normalOf(mesh, f));
  const sizes = faces.map((n) => norm(n) || 1);
  const [heads, next] = [new Int32Array(p.length / 3).fill(-1), new Int32Array(t.length).fill(-1)];
  for (let i = 0; i < t.length; i++) {
    next[i] = heads[t[i]];
    heads[t[i]] = i;
  }
  const positions = new Float32Array(3 * t.length),
    normals = new Float32Array(3 * t.length);
  for (let i = 0; i < t.length; i++) {
    const f = Math.floor(i / 3);
    let [x, y, z] = [0, 0, 0];
    for (let k = heads[t[i]]; k >= 0; k = next[k]) {
      const g = Math.floor(k / 3);
      if (dot(faces[f], faces[g]) < SMOOTH * sizes[f] * sizes[g]) continue;
      const n: Vec3 = faces[g];
      x += n[0];
      y += n[1];
      z += n[2];
    }
    const l = Math.hypot(x, y, z) || 1;
    normals.set([x / l, y / l, z / l], 3 * i);
    positions.set([p[3 * t[i]], p[3 * t[i] + 1], p[3 * t[i] + 2]], 3 * i);
  }
  return { positions, normals };
}
