/**
 * STL, binary: a header of 80 bytes, the number of triangles, then 50 bytes each (normal, three corners, an unused word).
 * No unit, no names.
 */
import { norm } from '../math/index';
import { type Mesh, normalOf } from '../solids/index';
import { type DrawingUnit, UNIT } from './drawing';

export function writeStl(meshes: readonly Mesh[], unit: DrawingUnit = 'mm'): Uint8Array<ArrayBuffer> {
  const count = meshes.reduce((n, m) => n + m.triangles.length / 3, 0);
  const out = new Uint8Array(84 + 50 * count);
  const view = new DataView(out.buffer);
  // Readers take a file that begins with “solid” for the text form.
  new TextEncoder().encodeInto(`Unirota, ${unit}`, out.subarray(0, 80));
  view.setUint32(80, count, true);
  let at = 84;
  const put = (x: number): void => {
    view.setFloat32(at, x, true);
    at += 4;
  };
  for (const mesh of meshes) {
    const { points, triangles } = mesh;
    for (let i = 0; 3 * i < triangles.length; i++) {
      const normal = normalOf(mesh, i);
      const size = norm(normal) || 1;
      for (const x of normal) put(x / size);
      for (let k = 0; k < 3; k++) for (let x = 0; x < 3; x++) put(points[3 * triangles[3 * i + k] + x] / UNIT[unit]);
      at += 2;
    }
  }
  return out;
}
