import { MeshoptSimplifier } from 'meshoptimizer/simplifier';
import type { ShapeData } from '../shapes/index';

/** Triangles of one shape that are drawn at most. */
export const MOST_DRAWN = 1_000_000;
/** How far the drawn surface may be from the real one, as part of its reach. */
const OFF = 0.01;

/** A shape whose mesh is no finer than can be drawn; mass and places stay those of the whole. */
export async function drawable(d: ShapeData, most = MOST_DRAWN): Promise<ShapeData> {
  const { points, triangles } = d.mesh;
  if (triangles.length <= 3 * most) return d;
  await MeshoptSimplifier.ready;
  const [kept] = MeshoptSimplifier.simplify(triangles, Float32Array.from(points), 3, 3 * most, OFF);
  const [, used] = MeshoptSimplifier.compactMesh(kept);
  const out = new Float64Array(3 * used);
  const to = new Map<number, number>();
  const again = kept.map((i) => {
    let k = to.get(i);
    if (k === undefined) {
      to.set(i, (k = to.size));
      out.set(points.subarray(3 * i, 3 * i + 3), 3 * k);
    }
    return k;
  });
  return { ...d, mesh: { points: out, triangles: again } };
}
