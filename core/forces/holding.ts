import type { DrivingSource } from '../document/kinds';
import { num } from '../elements/index';
import type { Id } from '../fields/types';
import type { Pose } from '../kinematics/index';
import { Forces } from './forces';
import { nominalVelocities } from './ledger';

/** What happens when a source lets go at the present pose. */
export interface Holding {
  source: Id;
  /**
   * `pawl`: a one-way coupling carries; `self-locking`: friction does; `brake`: the source's
   * own brake; `balanced`: nothing pushes; `runs-back`: the load drives the source.
   */
  by: 'pawl' | 'self-locking' | 'brake' | 'balanced' | 'runs-back';
  /** Torque or force that has to hold it where it runs back, N·m or N. */
  needed: number;
  /** The one-way coupling that carries. */
  coupling?: Id;
}

/**
 * Says for every source what holds the train when it lets go, the others held: whether the load
 * can turn the source back against the losses. A coupling whose efficiency backward is not
 * positive passes nothing back. Sources that have nothing to do with each other let go together.
 */
export function holding(pose: Pose): Holding[] {
  const { sources } = pose.compiled;
  const speeds = Float64Array.from(pose.sourceSpeed);
  const forces = new Forces(pose);
  const slots = sources.map(({ coordinate }) => forces.state.inputCoordinate.indexOf(coordinate));
  const out: (Holding | undefined)[] = sources.map(() => undefined);
  // Still, without losses: the sense in which the load would move each source.
  forces.velocity.fill(0);
  const ideal = sources.length ? Float64Array.from(forces.evaluate({ losses: false }).input) : new Float64Array(0);
  const groups = forces.groups();
  /** Sources that the load may turn, those of one group one after the other. */
  const rounds: number[][] = [];
  const before = new Map<number, number>();
  sources.forEach(({ source, coordinate }, k) => {
    const slot = slots[k];
    if (slot < 0) return;
    if (Math.abs(ideal[slot]) < 1e-12) return void (out[k] = { source: source.id, by: 'balanced', needed: 0 });
    const pawl = pawlThatHolds(pose, forces, coordinate);
    if (pawl !== undefined) return void (out[k] = { source: source.id, by: 'pawl', needed: 0, coupling: pose.kinematics.rows[pawl].coupling });
    const group = groups.of(pose.kinematics.bodies + coordinate);
    const round = before.get(group) ?? 0;
    before.set(group, round + 1);
    (rounds[round] ??= []).push(k);
  });
  for (const round of rounds) {
    pose.sourceSpeed.fill(0);
    for (const k of round) pose.sourceSpeed[k] = -Math.sign(ideal[slots[k]]) * Math.max(1e-3, Math.abs(speeds[k]));
    nominalVelocities(pose, forces.velocity, undefined, forces.heldCoordinates);
    const { input } = forces.evaluate();
    for (const k of round) {
      const { source } = sources[k];
      const slot = slots[k];
      const back = input[slot];
      // Moving back with the load, a self-locking train still has to be pushed.
      const held = back * Math.sign(ideal[slot]) <= 1e-12;
      const { brake }: DrivingSource = source;
      const braked = !held && Math.abs(back) <= num(brake);
      out[k] = { source: source.id, by: held ? 'self-locking' : braked ? 'brake' : 'runs-back', needed: held ? 0 : Math.abs(back) };
    }
  }
  pose.sourceSpeed.set(speeds);
  return out.filter((h) => h !== undefined);
}

/** The row of the pawl or clutch that carries what a source no longer does, if one does. */
function pawlThatHolds(pose: Pose, forces: Forces, coordinate: number): number | undefined {
  const { grips, rows } = pose.kinematics;
  const pawls = [...grips].filter((r) => !rows[r].grip!.touches);
  if (!pawls.length) return undefined;
  const rest = new Forces(pose, { driven: [...forces.state.inputCoordinate].slice(0, forces.driven).filter((c) => c !== coordinate) });
  rest.velocity.fill(0);
  rest.evaluate({ losses: false });
  return pawls.find((r) => Math.abs(rest.state.couplings[r].port[0]) > 1e-9);
}
