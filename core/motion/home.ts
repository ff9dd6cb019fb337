import type { Finding } from '../fields/types';
import { finding } from '../findings/index';
import { type Coordinate, type Pose, beyond, mapStops, stopsOf } from '../kinematics/index';
import { toNumber } from '../math/index';

/** Coordinates whose home is stated, those of sources first. */
function stated(pose: Pose): Coordinate[] {
  const { structure, sources } = pose.compiled;
  const led = sources.map((s) => s.coordinate);
  const rank = (c: Coordinate): number => (led.includes(c.index) ? led.indexOf(c.index) : led.length);
  return structure.coordinates.filter((c) => stopsOf(c).home !== undefined).sort((a, b) => rank(a) - rank(b) || a.index - b.index);
}

/**
 * Puts a train at home: every joint's stated home counts, those of sources before others; where one cannot
 * stand together with those before it, a finding says so. A source without a home, and on whose train none
 * is stated, stands at its reference position, or at the nearer stop. Pawls engage where they come to stand.
 */
export function goHome(pose: Pose): Finding[] {
  const { compiled, kinematics: k } = pose;
  const findings: Finding[] = [];
  const held: number[] = [],
    at: number[] = [];
  pose.gripsStand = true;
  for (const c of stated(pose)) {
    const home = toNumber(stopsOf(c).home!) * k.scale[c.index];
    // Most homes only repeat what others bring about.
    if (Math.abs(pose.q[c.index] - home) < 1e-9) {
      held.push(c.index);
      at.push(home);
      continue;
    }
    if (pose.solve([...held, c.index], [...at, home]) === 'ok') {
      held.push(c.index);
      at.push(home);
      continue;
    }
    const slide = c.motion === 'slide';
    const stands = (pose.q[c.index] / k.scale[c.index]) * (slide ? 1 : 360);
    findings.push(
      finding('homes-contradict', [c.joint.id], {
        name: `${c.joint.name ?? c.joint.id}${c.order ? ` (${c.label})` : ''}`,
        at: `${Number(stands.toPrecision(6))}${slide ? ' mm' : '°'}`,
      }),
    );
  }
  const first = compiled.sources[0]?.coordinate;
  if (first !== undefined && !held.includes(first)) {
    const { lower, upper } = mapStops(compiled, first);
    const now = pose.q[first] / k.scale[first];
    const to = Math.min(Math.max(now, lower?.at ?? -Infinity), upper?.at ?? Infinity);
    if (Math.abs(to - now) > 1e-12) pose.solve([first], [to * k.scale[first]]);
  }
  pose.gripsStand = false;
  pose.engage();
  return [...findings, ...beyondStops(pose)];
}

/**
 * Stops of other joints that the homes leave the train beyond; that a
 * home lies outside its own joint's stops is said where these are stated.
 */
function beyondStops(pose: Pose): Finding[] {
  const k = pose.kinematics;
  return k.limits.flatMap((l) => {
    if (l.kind !== 'stop' || beyond(l, pose.q) <= 1e-9) return [];
    const c = pose.compiled.structure.coordinates[l.coordinate[0]];
    const { lower, upper, home } = stopsOf(c);
    if (home !== undefined || (!moved(pose, c.index) && ((lower && lower.n > 0n) || (upper && upper.n < 0n)))) return [];
    const slide = c.motion === 'slide';
    const at = (pose.q[c.index] / k.scale[c.index]) * (slide ? 1 : 360);
    const name = `“${c.joint.name ?? c.joint.id}”${c.order ? ` (${c.label})` : ''}`;
    return [finding('home-beyond-train-stop', [c.joint.id], { name, which: l.which, at: `${Number(at.toPrecision(6))}${slide ? ' mm' : '°'}` })];
  });
}

/** Whether homes have moved a coordinate from its reference position. */
const moved = (pose: Pose, coordinate: number): boolean => Math.abs(pose.q[coordinate]) > 1e-12;
