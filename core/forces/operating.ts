import { finding } from '../findings/index';
import type { DrivingSource } from '../document/kinds';
import { num } from '../elements/index';
import { Finding, Source } from '../fields/types';
import type { Pose } from '../kinematics/index';
import { nominalRate, nominalVelocities } from './ledger';
import { Forces } from './forces';
import { motionUnit } from '../units/index';
import { slidesAt } from '../kinematics/index';

/** Speeds of a torque-speed line nearer than this are one, rev/min or mm/s. */
const NO_SPEED = 1e-9;

/** Sources whose torque is stated instead of their motion. */
export const givesTorque = (s: Source): boolean => s.type === 'torque' || s.type === 'power' || s.type === 'torque-line';

/**
 * Torque (N·m) or force (N) that a source gives at a speed (rad/s or m/s of its joint).
 * A torque-speed line is straight between its points and goes on straight beyond them; a
 * power source gives P/ω, and at rest what it gives at a hundredth of its stated speed.
 */
export function torqueAt(s: DrivingSource, speed: number, slide: boolean): number {
  const unit = 1 / motionUnit(slide).speedsPerSi;
  if (s.type === 'torque') return num(s.torque);
  if (s.type === 'power') {
    const stated = Math.abs((s.speed ?? 0) * unit) / 100;
    const least = stated > 1e-9 ? stated : 1e-3;
    const sense = Math.sign(s.speed ?? 1) || 1;
    return (num(s.power) / Math.max(least, Math.abs(speed))) * sense;
  }
  const points = s.line ?? [];
  const n = speed / unit;
  if (points.length >= 2) {
    let k = 0;
    while (k < points.length - 2 && points[k + 1].speed < n) k++;
    const a = points[k],
      b = points[k + 1];
    return Math.abs(b.speed - a.speed) < NO_SPEED ? a.torque : a.torque + ((b.torque - a.torque) * (n - a.speed)) / (b.speed - a.speed);
  }
  const noLoad = num(s.noLoad);
  return Math.abs(noLoad) < NO_SPEED ? 0 : num(s.stall) * (1 - n / noLoad) * Math.sign(noLoad);
}

/** Speed in whose neighbourhood the working point is looked for, rev/min or mm/s. */
const topSpeed = (s: DrivingSource): number => {
  const points = s.line ?? [];
  return points.length >= 2 ? points[points.length - 1].speed : (s.noLoad ?? s.speed ?? 0);
};

const SAMPLES = 48;

/**
 * Finds the steady speed of every source that states torque: where its line meets what the
 * train needs at the present pose, with torque falling short beyond it (a stable point).
 * Writes `mechanism.sourceSpeed`. At most three rounds where there are several such sources.
 */
export function findWorkingPoints(pose: Pose, forces: Forces): Finding[] {
  const { compiled } = pose;
  const own = compiled.sources.map((s, k) => ({ ...s, k })).filter((s) => givesTorque(s.source));
  if (!own.length) return [];
  const free = new Float64Array(pose.kinematics.freeCount);
  let findings: Finding[] = [];
  for (let round = 0; round < (own.length > 1 ? 3 : 1); round++) {
    findings = [];
    for (const { source, coordinate, k } of own) {
      const slide = slidesAt(pose.kinematics, coordinate);
      const slot = forces.state.inputCoordinate.indexOf(coordinate);
      if (slot < 0) continue;
      /** What the source gives beyond the need at a speed, in the sense of that speed. */
      const spare = (n: number): number => {
        pose.sourceSpeed[k] = n;
        nominalVelocities(pose, forces.velocity, free, forces.heldCoordinates);
        const need = forces.evaluate().input[slot];
        return (torqueAt(source, nominalRate(pose, coordinate, n), slide) - need) * Math.sign(n || 1);
      };
      const top = topSpeed(source);
      if (source.type !== 'torque-line' && top === 0) {
        findings.push(finding('no-steady-speed', [source.id], { source: source.name }));
        continue;
      }
      const reach = source.type === 'torque-line' ? 1.6 * top : 20 * top;
      let found: number | undefined;
      let n0 = reach * 1e-4,
        g0 = spare(n0);
      const first = g0;
      for (let i = 1; i <= SAMPLES && found === undefined; i++) {
        const n1 = (reach * i) / SAMPLES,
          g1 = spare(n1);
        if (g0 >= 0 && g1 < 0) {
          let lo = n0,
            hi = n1;
          for (let b = 0; b < 60 && Math.abs(hi - lo) > 1e-12 * Math.abs(reach); b++) {
            const mid = (lo + hi) / 2;
            if (spare(mid) >= 0) lo = mid;
            else hi = mid;
          }
          found = (lo + hi) / 2;
        }
        n0 = n1;
        g0 = g1;
      }
      if (found !== undefined) pose.sourceSpeed[k] = found;
      else if (first < 0) {
        pose.sourceSpeed[k] = 0;
        findings.push(
          finding(
            'motor-stalls',
            [source.id],
            {
              source: source.name,
              first: Number((torqueAt(source, nominalRate(pose, coordinate, reach * 1e-4), slide) * Math.sign(top) - first).toPrecision(4)),
              word: motionUnit(slide).effort,
              top: Number((torqueAt(source, 0, slide) * Math.sign(top)).toPrecision(4)),
            },
            source.type === 'torque' ? 'torque' : 'stall',
          ),
        );
      } else {
        pose.sourceSpeed[k] = source.speed ?? top;
        findings.push(
          finding('no-steady-speed/spare', [source.id], {
            source: source.name,
            top: Number((source.speed ?? top).toPrecision(4)),
            word: motionUnit(slide).speed,
          }),
        );
      }
    }
  }
  return findings;
}
