import type { Compiled } from '../kinematics/index';
import type { RunResult } from './recorder';

/** Part of the figures that a result came from below which it is rounding. */
const ROUNDING = 1e-11;

/**
 * What counts as nothing in a run, by unit, SI: rates that are nothing beside
 * others, forces and moments beside each other over the size of the train.
 */
export interface Floors {
  force: number;
  moment: number;
  power: number;
  turning: number;
  sliding: number;
  turningAcceleration: number;
  slidingAcceleration: number;
}

/** A size that is a number. */
const size = (x: number): number => (Number.isFinite(x) ? Math.abs(x) : 0);

const largest = (a: Float64Array): number => {
  let most = 0;
  for (let i = 0; i < a.length; i++) most = Math.max(most, size(a[i]));
  return most;
};

/** Bounds of rounding in a whole run. */
export function floorsOf(compiled: Compiled, r: RunResult): Floors {
  const { coordinates } = compiled.structure;
  const n = r.coordinates;
  let turn = 0,
    slide = 0,
    turning = 0,
    sliding = 0,
    torque = 0,
    force = Math.max(largest(r.tangential), largest(r.radial), largest(r.axial), largest(r.strands));
  for (let f = 0; f < r.frames; f++) {
    for (let i = 0; i < n; i++) {
      const v = size(r.v[f * n + i]),
        a = size(r.a[f * n + i]),
        stop = size(r.stop[f * n + i]);
      if (coordinates[i].motion === 'slide') {
        slide = Math.max(slide, v);
        sliding = Math.max(sliding, a);
        force = Math.max(force, stop);
      } else {
        turn = Math.max(turn, v);
        turning = Math.max(turning, a);
        torque = Math.max(torque, stop);
      }
      for (let k = 0; k < 3; k++) {
        const o = 6 * (f * n + i) + k;
        force = Math.max(force, size(r.reaction[o]));
        torque = Math.max(torque, size(r.reaction[o + 3]));
      }
    }
    compiled.sources.forEach(({ coordinate }, k) => {
      const given = size(r.input[f * r.sources + k]);
      if (coordinates[coordinate].motion === 'slide') force = Math.max(force, given);
      else torque = Math.max(torque, given);
    });
  }
  // How far the joints stand from each other, m: over this a force is a moment, and a turn a way.
  const points = coordinates.map((c) => c.point);
  const extent = Math.max(1e-3, ...[0, 1, 2].map((k) => 1e-3 * (Math.max(...points.map((p) => p[k])) - Math.min(...points.map((p) => p[k])))));
  const F = Math.max(force, torque / extent),
    V = Math.max(turn, slide / extent),
    A = Math.max(turning, sliding / extent, V * V);
  return {
    force: ROUNDING * F,
    moment: ROUNDING * F * extent,
    power: ROUNDING * Math.max(F * extent * V, largest(r.loadPower)),
    turning: ROUNDING * V,
    sliding: ROUNDING * V * extent,
    turningAcceleration: ROUNDING * A,
    slidingAcceleration: ROUNDING * A * extent,
  };
}
