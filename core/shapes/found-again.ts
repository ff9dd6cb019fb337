import { dot, listAt, norm, vsub } from '../math/index';
import type { ShapePlace } from './shape';

/** A place may have gone this part of the shape's reach and still be the same one. */
const FAR = 0.6;
/** Directions of the same place differ by no more: cosine of 5°. */
const ALIKE = Math.cos((5 * Math.PI) / 180);

/** How unlike two places are, 0 of the same; undefined where they cannot be one. `reach` is the size of the shape, mm. */
function unlike(a: ShapePlace, b: ShapePlace, reach: number): number | undefined {
  if (a.kind !== b.kind) return undefined;
  const sense = dot(a.direction, b.direction);
  // A face looks out of the body; axes and edges have no sense.
  if (norm(a.direction) > 0 && (a.kind === 'face' ? sense : Math.abs(sense)) < ALIKE) return undefined;
  const off = vsub(b.point, a.point);
  // Along its own line an axis or an edge may go as it likes: it is the same line.
  const along = a.kind === 'axis' || a.kind === 'edge' ? dot(off, a.direction) : 0;
  const far = Math.sqrt(Math.max(0, dot(off, off) - along * along)) / reach;
  if (far > FAR) return undefined;
  const size = Math.max(a.size, b.size);
  const other = size > 0 ? Math.abs(a.size - b.size) / size : 0;
  // A hole of another size is another hole; a face or an edge grows with its part.
  if ((a.kind === 'axis' || a.kind === 'centre') && other > 0.2) return undefined;
  return far + 0.5 * other + (0.1 * Math.abs(along)) / reach + (1 - Math.abs(sense));
}

/**
 * Places of a newer shape that stand for those of the older one: by kind, direction, size and nearness, the nearest pairs first
 * and each place once. Gives for each old place the number of the new one; undefined where there is none.
 */
export function foundAgain(old: readonly ShapePlace[], now: readonly ShapePlace[], reach: number): (number | undefined)[] {
  const pairs: [number, number, number][] = [];
  old.forEach((a, i) =>
    now.forEach((b, k) => {
      const u = unlike(a, b, reach || 1);
      if (u !== undefined) pairs.push([u, i, k]);
    }),
  );
  pairs.sort((a, b) => a[0] - b[0]);
  const out = old.map((): number | undefined => undefined);
  const taken = new Set<number>();
  for (const [, i, k] of pairs) {
    if (out[i] !== undefined || taken.has(k)) continue;
    out[i] = k;
    taken.add(k);
  }
  return out;
}

/** The places that a design keeps of a shape: the largest of each kind, axes and faces before the rest. */
export function chosenPlaces(places: readonly ShapePlace[], most: number): ShapePlace[] {
  const rank: Record<ShapePlace['kind'], number> = { axis: 0, face: 1, centre: 2, edge: 3, corner: 4 };
  const kinds = new Map<string, ShapePlace[]>();
  for (const p of places) listAt(kinds, p.kind).push(p);
  const share: Record<ShapePlace['kind'], number> = { axis: 0.3, face: 0.3, centre: 0.2, edge: 0.1, corner: 0.1 };
  const sorted = [...kinds.values()].map((list) => list.sort((a, b) => b.size - a.size));
  const out: ShapePlace[] = [];
  const rest: ShapePlace[] = [];
  for (const list of sorted) {
    const own = Math.ceil(share[list[0].kind] * most);
    out.push(...list.slice(0, own));
    rest.push(...list.slice(own));
  }
  rest.sort((a, b) => rank[a.kind] - rank[b.kind] || b.size - a.size);
  return [...out, ...rest].slice(0, most).sort((a, b) => rank[a.kind] - rank[b.kind]);
}
