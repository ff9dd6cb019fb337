import { type Frame, type Vec3, cross, dot, norm, toWorldPoint, vadd, vscale, vsub } from '../math/index';
import { type Bulk, depthIn, extent } from './bulk';

/** Where two bulks stand in each other: the diameter of a ball that fits in both, mm, and its middle in the world. */
export interface Common {
  depth: number;
  at: Vec3;
  /** Not found: `depth` is what it can be at most, where the search was given up. */
  undecided?: true;
}

/** Balls smaller than this in diameter, or than this part of the smaller bulk, are taken for touching, mm. */
const TOUCHING = 0.1;
const TOUCHING_PART = 0.02;
/** Cells that are looked at before the search is given up. */
const MOST_CELLS = 20_000;

const SPAN = { least: 0, most: 0 };
const OTHER = { least: 0, most: 0 };

/** By how much two bulks overlap along a direction of the world. */
function overlapAlong(n: Vec3, a: Bulk, fa: Frame, b: Bulk, fb: Frame): number {
  extent(a, dot(fa.x, n), dot(fa.y, n), dot(fa.z, n), SPAN);
  extent(b, dot(fb.x, n), dot(fb.y, n), dot(fb.z, n), OTHER);
  const [oa, ob] = [dot(fa.o, n), dot(fb.o, n)];
  return Math.min(oa + SPAN.most - ob - OTHER.least, ob + OTHER.most - oa - SPAN.least);
}

/** Directions in which bulks are likely to lie apart. */
function* directions(a: Bulk, fa: Frame, b: Bulk, fb: Frame): Generator<Vec3> {
  yield fa.z;
  yield fb.z;
  const between = vsub(toWorldPoint(fb, [0, 0, (b.from + b.to) / 2]), toWorldPoint(fa, [0, 0, (a.from + a.to) / 2]));
  for (const z of [fa.z, fb.z]) {
    const side = vsub(between, vscale(z, dot(between, z)));
    if (norm(side) > 1e-9) yield vscale(side, 1 / norm(side));
  }
  const across = cross(fa.z, fb.z);
  if (norm(across) > 1e-6) yield vscale(across, 1 / norm(across));
  for (const [s, f] of [
    [a, fa],
    [b, fb],
  ] as const) {
    const p = s.loops[0];
    if (s.round || p.length > 24) continue;
    for (let i = 0; i < p.length; i += 2) {
      const [dx, dy] = [p[(i + 2) % p.length] - p[i], p[(i + 3) % p.length] - p[i + 1]];
      const l = Math.hypot(dx, dy);
      if (l > 0) yield vadd(vscale(f.x, dy / l), vscale(f.y, -dx / l));
    }
  }
}

/** Cells with an upper bound of what is found in them, greatest first. */
class Queue {
  private readonly cells: number[][] = [];

  push(cell: number[]): void {
    const c = this.cells;
    let i = c.push(cell) - 1;
    for (let up = (i - 1) >> 1; i > 0 && c[up][0] < c[i][0]; i = up, up = (i - 1) >> 1) [c[i], c[up]] = [c[up], c[i]];
  }

  pop(): number[] | undefined {
    const c = this.cells;
    const first = c[0];
    const last = c.pop();
    if (c.length && last) {
      c[0] = last;
      for (let i = 0; ;) {
        let best = i;
        for (const k of [2 * i + 1, 2 * i + 2]) if (k < c.length && c[k][0] > c[best][0]) best = k;
        if (best === i) break;
        [c[i], c[best]] = [c[best], c[i]];
        i = best;
      }
    }
    return first;
  }
}

/** A point and the function's value there; or a middle and a bound, where the search was given up. */
interface Greatest {
  p: number[];
  value: number;
  undecided?: true;
}

/**
 * A point of a box at which a function that changes by no more than the way (Lipschitz constant 1) is greater than `over`, taken
 * on to a place where it is about greatest; nothing where there is none. Branch and bound: a cell holds no more than its middle
 * and half its diagonal.
 */
function greatestIn(lower: readonly number[], upper: readonly number[], over: number, f: (p: readonly number[]) => number): Greatest | undefined {
  const n = lower.length;
  const queue = new Queue();
  const put = (lo: readonly number[], hi: readonly number[]): number[] | undefined => {
    const mid = lo.map((x, i) => (x + hi[i]) / 2);
    const half = Math.hypot(...lo.map((x, i) => (hi[i] - x) / 2));
    const at = f(mid);
    if (at > over) return mid;
    if (at + half > over) queue.push([at + half, ...lo, ...hi]);
    return undefined;
  };
  let found: number[] | undefined = put(lower, upper);
  for (let looks = 0; !found && looks < MOST_CELLS; looks++) {
    const cell = queue.pop();
    if (!cell) return undefined;
    const lo = cell.slice(1, n + 1),
      hi = cell.slice(n + 1);
    let widest = 0;
    for (let i = 1; i < n; i++) if (hi[i] - lo[i] > hi[widest] - lo[widest]) widest = i;
    const mid = (lo[widest] + hi[widest]) / 2;
    found = put(
      lo,
      hi.map((x, i) => (i === widest ? mid : x)),
    );
    found ??= put(
      lo.map((x, i) => (i === widest ? mid : x)),
      hi,
    );
  }
  if (!found) {
    const left = queue.pop();
    return left && { p: lower.map((_, i) => (left[1 + i] + left[1 + n + i]) / 2), value: left[0], undecided: true };
  }
  let best = f(found);
  for (let step = Math.max(...upper.map((x, i) => x - lower[i])) / 8; step > 1e-3 * best;) {
    let better = false;
    for (let i = 0; i < n; i++) {
      for (const way of [step, -step]) {
        const p: number[] = found.map((x: number, k: number) => (k === i ? x + way : x));
        const at = f(p);
        if (at > best) [found, best, better] = [p, at, true];
      }
    }
    if (!better) step /= 2;
  }
  return { p: found, value: best };
}

/** The size of what two bulks may share and only touch, as the radius of a ball, mm. */
export const touching = (a: Bulk, b: Bulk): number => Math.max(TOUCHING, TOUCHING_PART * Math.min(a.least, b.least)) / 2;

/** By how much two bulks certainly lie apart, mm; 0 where no direction that was tried tells. */
export function gapBetween(a: Bulk, fa: Frame, b: Bulk, fb: Frame): number {
  let gap = 0;
  for (const n of directions(a, fa, b, fb)) gap = Math.max(gap, -overlapAlong(n, a, fa, b, fb));
  return gap;
}

/** What two bulks in these frames of the world have in common; nothing where they lie apart or only touch. */
export function common(a: Bulk, fa: Frame, b: Bulk, fb: Frame, over = touching(a, b)): Common | undefined {
  for (const n of directions(a, fa, b, fb)) if (overlapAlong(n, a, fa, b, fb) <= 2 * over) return undefined;
  const offset = vsub(fb.o, fa.o);
  const along = dot(fa.z, fb.z);
  const height = dot(offset, fa.z);
  if (a.round && b.round && Math.abs(along) > 1 - 1e-12 && norm(vsub(offset, vscale(fa.z, height))) < 1e-6) {
    // On one axis the half sections say it all.
    const s = Math.sign(along);
    const [b0, b1] = [height + s * b.from, height + s * b.to];
    const f = ([r, z]: readonly number[]): number => Math.min(depthIn(a, r, 0, z), depthIn(b, r, 0, s * (z - height)));
    const lower = [0, Math.max(a.from, Math.min(b0, b1))],
      upper = [Math.min(a.reach, b.reach), Math.min(a.to, Math.max(b0, b1))];
    return inWorld(greatestIn(lower, upper, over, f), ([r, z]) => toWorldPoint(fa, [r, 0, z]));
  }
  // From a's frame to b's.
  const [xx, xy, xz] = [dot(fa.x, fb.x), dot(fa.y, fb.x), dot(fa.z, fb.x)];
  const [yx, yy, yz] = [dot(fa.x, fb.y), dot(fa.y, fb.y), dot(fa.z, fb.y)];
  const [zx, zy, zz] = [dot(fa.x, fb.z), dot(fa.y, fb.z), dot(fa.z, fb.z)];
  const [ox, oy, oz] = [-dot(offset, fb.x), -dot(offset, fb.y), -dot(offset, fb.z)];
  const thin = a.inside !== undefined || b.inside !== undefined;
  const f = ([x, y, z]: readonly number[]): number => {
    const inA = depthIn(a, x, y, z);
    // Where it is not in the first the second need not be asked; in a thin part with holes that bounds too little.
    return inA <= over && !thin
      ? inA
      : Math.min(inA, depthIn(b, ox + xx * x + xy * y + xz * z, oy + yx * x + yy * y + yz * z, oz + zx * x + zy * y + zz * z));
  };
  const lower = [0, 0, 0],
    upper = [0, 0, 0];
  for (const [i, axis] of [fa.x, fa.y, fa.z].entries()) {
    extent(b, dot(axis, fb.x), dot(axis, fb.y), dot(axis, fb.z), OTHER);
    extent(a, Number(i === 0), Number(i === 1), Number(i === 2), SPAN);
    const o = dot(offset, axis);
    lower[i] = Math.max(SPAN.least, o + OTHER.least);
    upper[i] = Math.min(SPAN.most, o + OTHER.most);
  }
  return inWorld(greatestIn(lower, upper, over, f), ([x, y, z]) => toWorldPoint(fa, [x, y, z]));
}

const inWorld = (g: Greatest | undefined, place: (p: number[]) => Vec3): Common | undefined =>
  g && { depth: 2 * g.value, at: place(g.p), ...(g.undecided && { undecided: true as const }) };
