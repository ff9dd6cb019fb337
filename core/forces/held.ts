import type { Pose } from '../kinematics/index';
import { SLIDES } from '../kinematics/index';

/** Part by which two motions may differ and be alike. */
const SAME = 1e-9;

/**
 * Freedoms that no source drives are held where they are, so that forces are defined: one coordinate for each, the
 * one that moves most in it; of several that move alike the first by its joint's id, in whatever order the joints
 * are stated. Each choice is taken out of the motions that are left, so that one null space serves for all.
 */
export function heldFreedoms(pose: Pose, sources: readonly number[]): number[] {
  const { motion, compiled } = pose.kinematics;
  const idOf = (i: number): string => {
    const c = compiled.structure.coordinates[i];
    return `${c.joint.id}:${c.order}`;
  };
  const size = (i: number, rate: number): number => Math.abs(rate) * (motion[i] === SLIDES ? 10 : 1);
  const left = pose.freedoms(sources).map((free) => pose.moved(free));
  const movedBy = new Map<number, Set<number>>();
  left.forEach((moves, k) => {
    for (const i of moves.keys()) {
      const who = movedBy.get(i);
      if (who) who.add(k);
      else movedBy.set(i, new Set([k]));
    }
  });
  return left.map((moves, k) => {
    let best = -1;
    for (const [i, rate] of moves) {
      const by = best < 0 ? Infinity : size(i, rate) / size(best, moves.get(best)!) - 1;
      if (by > SAME || (by > -SAME && idOf(i) < idOf(best))) best = i;
    }
    for (const other of movedBy.get(best)!) {
      if (other <= k) continue;
      const share = left[other].get(best)! / moves.get(best)!;
      for (const [i, rate] of moves) {
        left[other].set(i, (left[other].get(i) ?? 0) - share * rate);
        movedBy.get(i)!.add(other);
      }
      left[other].delete(best);
    }
    return best;
  });
}

/** Rows that hold in one sense and whose motion the sources leave open: only these can carry load. */
export function gripsThatCount(pose: Pose, sources: readonly number[]): number[] {
  const k = pose.kinematics;
  const catches = [...k.grips].filter((r) => !k.rows[r].grip!.touches);
  if (!catches.length) return [];
  const rates = new Float64Array(k.count);
  const left = pose.freedoms(sources);
  return catches.filter((r) =>
    left.some((v) => {
      pose.spreadRates(v, rates);
      return Math.abs(k.rows[r].grip!.speed(rates)) > 1e-9;
    }),
  );
}
