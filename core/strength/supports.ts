import { type SolidMesh } from './mesh';

/** A node held in one direction (0 x, 1 y, 2 z). */
export interface Support {
  node: number;
  direction: 0 | 1 | 2;
}

/** Directions of which some node is the outermost: along the axes and the corners between them. */
const OUTWARD = [-1, 0, 1].flatMap((x) => [-1, 0, 1].flatMap((y) => [-1, 0, 1].map((z) => [x, y, z]))).filter((d) => d.some((v) => v !== 0));

/**
 * Six supports that hold a body and no more: forces that add up to nothing load none of them, however stiff they are.
 * Taken one after the other from the body's outermost nodes, each where it holds best what the ones before leave free.
 */
export function supportsOf({ points, tets }: SolidMesh): Support[] {
  const corners = new Set<number>();
  for (let o = 0; o < tets.length; o += 10) for (let n = 0; n < 4; n++) corners.add(tets[o + n]);
  const outermost = new Set<number>();
  for (const d of OUTWARD) {
    let best = -1,
      most = -Infinity;
    for (const n of corners) {
      const v = d[0] * points[3 * n] + d[1] * points[3 * n + 1] + d[2] * points[3 * n + 2];
      if (v > most + 1e-9) [best, most] = [n, v];
    }
    outermost.add(best);
  }
  const nodes = [...outermost];
  const mean = [0, 1, 2].map((k) => nodes.reduce((s, n) => s + points[3 * n + k], 0) / nodes.length);
  const size = Math.max(...nodes.map((n) => Math.hypot(...[0, 1, 2].map((k) => points[3 * n + k] - mean[k])))) || 1;
  // Each support's row in the body's six freedoms, turns taken by the body's size.
  const rows = nodes.flatMap((node) => {
    const [x, y, z] = [0, 1, 2].map((k) => (points[3 * node + k] - mean[k]) / size);
    return [
      { node, direction: 0 as const, row: [1, 0, 0, 0, z, -y] },
      { node, direction: 1 as const, row: [0, 1, 0, -z, 0, x] },
      { node, direction: 2 as const, row: [0, 0, 1, y, -x, 0] },
    ];
  });
  const out: Support[] = [];
  for (let k = 0; k < 6; k++) {
    const best = rows.reduce((a, b) => (Math.hypot(...b.row) > Math.hypot(...a.row) + 1e-12 ? b : a));
    out.push({ node: best.node, direction: best.direction });
    const length = Math.hypot(...best.row);
    const along = best.row.map((v) => v / length);
    for (const r of rows) {
      const part = r.row.reduce((s, v, i) => s + v * along[i], 0);
      r.row = r.row.map((v, i) => v - part * along[i]);
    }
  }
  return out;
}
