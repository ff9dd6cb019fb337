/** STL, binary: a header of 80 bytes, the number of triangles, then 50 bytes each (normal, three corners, an unused word). No unit, no names. */
import { movedMesh } from '../solids/index';
import type { MeshedAssembly } from '../assembly/index';
import { type DrawingUnit, UNIT } from './drawing';

export function writeStl(a: MeshedAssembly, unit: DrawingUnit = 'mm'): Uint8Array {
  const meshes = a.members.flatMap((m) => m.bodies.map((b) => movedMesh(b.mesh, b.place)));
  const count = meshes.reduce((n, m) => n + m.triangles.length / 3, 0);
  const out = new Uint8Array(84 + 50 * count);
  const view = new DataView(out.buffer);
  // Readers take a file that begins with “solid” for the text form.
  new TextEncoder().encodeInto(`Unirota, ${unit}`, out.subarray(0, 80));
  view.setUint32(80, count, true);
  let at = 84;
  const k = 1 / UNIT[unit];
  for (const { points: p, triangles: t } of meshes) {
    for (let i = 0; i < t.length; i += 3) {
      const [a3, b3, c3] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
      const u = [0, 1, 2].map((x) => p[b3 + x] - p[a3 + x]),
        v = [0, 1, 2].map((x) => p[c3 + x] - p[a3 + x]);
      const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
      const l = Math.hypot(...n) || 1;
      n.forEach((x, j) => view.setFloat32(at + 4 * j, x / l, true));
      [a3, b3, c3].forEach((c, j) => {
        for (let x = 0; x < 3; x++) view.setFloat32(at + 12 + 12 * j + 4 * x, p[c + x] * k, true);
      });
      at += 50;
    }
  }
  return out;
}
