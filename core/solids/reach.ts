import { type Vec3, WORLD, dot, toLocalVector } from '../math/index';
import { rangeOf } from './outline';
import type { Solid } from './solid';

/** How far a solid reaches along a direction of the frame that it is stated in, mm; the direction is of length 1. */
export function reachOfSolid(s: Solid, direction: Vec3): [least: number, most: number] {
  const f = s.place ?? WORLD;
  const [x, y, z] = toLocalVector(f, direction);
  const from = dot(f.o, direction);
  if (s.kind === 'turned') {
    // A turned body reaches r in every direction across its axis.
    const across = Math.hypot(x, y);
    return [from + rangeOf(s.section, [-across, z])[0], from + rangeOf(s.section, [across, z])[1]];
  }
  const ends = s.kind === 'prism' ? [s.from, s.to].map((at) => ({ share: 1, at })) : [1, s.inner].map((share) => ({ share, at: share * s.height }));
  const lean = s.kind === 'prism' ? (s.lean ?? 0) : 0;
  const [least, most] = rangeOf(s.outline, [x, y]);
  return [
    from + Math.min(...ends.map((e) => e.share * least + (z + lean * x) * e.at)),
    from + Math.max(...ends.map((e) => e.share * most + (z + lean * x) * e.at)),
  ];
}

/** How far solids reach together along a direction of length 1, mm; undefined of none. */
export function reachOfSolids(solids: readonly Solid[], direction: Vec3): [least: number, most: number] | undefined {
  if (!solids.length) return undefined;
  const ends = solids.map((s) => reachOfSolid(s, direction));
  return [Math.min(...ends.map(([least]) => least)), Math.max(...ends.map(([, most]) => most))];
}
