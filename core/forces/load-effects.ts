import type { Id } from '../fields/types';
import { coordinateOf } from '../kinematics/index';
import { cross, dot } from '../math/index';
import type { Forces } from './forces';

/** What a load does to the train as it moves: takes power from it, gives it some, or neither. */
export type LoadEffect = 'opposes' | 'drives' | 'idle';

/** Part of a load times the greatest speed of its member below which its power is rounding. */
const NO_POWER = 1e-9;

/**
 * What each load does, by the power that it has at the pose and rates of the last evaluate(). None while everything stands.
 */
export function loadEffects(forces: Forces): Map<Id, LoadEffect> {
  const out = new Map<Id, LoadEffect>();
  if (!forces.pose.compiled.design.loads.length || forces.velocity.every((v) => v === 0)) return out;
  const wrenches = forces.wrenches().filter((w) => w.kind === 'load');
  const twists = forces.twistsNow();
  const power = new Map<Id, { power: number; scale: number }>();
  let fastest = 0;
  for (const x of twists) fastest = Math.max(fastest, Math.abs(x));
  for (const { id, body, point, force, moment } of wrenches) {
    const t = 6 * body;
    const turn = [twists[t], twists[t + 1], twists[t + 2]] as const;
    const along = [twists[t + 3], twists[t + 4], twists[t + 5]] as const;
    const p = power.get(id) ?? { power: 0, scale: 0 };
    p.power += dot(force, along) + dot(force, cross(turn, point)) + dot(moment, turn);
    p.scale += (Math.hypot(...force) + Math.hypot(...moment)) * fastest;
    power.set(id, p);
  }
  for (const l of forces.pose.compiled.design.loads) {
    const p = power.get(l.id);
    if (!p) continue;
    out.set(l.id, Math.abs(p.power) <= NO_POWER * p.scale ? 'idle' : p.power > 0 ? 'drives' : 'opposes');
  }
  return out;
}

/** Which way a coordinate, as documents name it, moves at the rates of the last evaluate(): −1 where it runs back. */
export function senseOf(forces: Forces, coordinate: string): 1 | -1 {
  const c = coordinateOf(forces.pose.compiled.structure, coordinate)?.index;
  return c !== undefined && forces.velocity[c] < 0 ? -1 : 1;
}
