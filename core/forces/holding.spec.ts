import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { Builder } from '../testing/designs';
import { RIGS } from '../testing/rigs/index';
import { Forces } from './forces';
import { type Holding, holding } from './holding';
import { nominalVelocities } from './ledger';

const Z = [0, 0, 1] as const;

describe('what holds a train when its source lets go', () => {
  it('of sources that have nothing to do with each other is what each by itself is told, in every rig', () => {
    let several = 0;
    for (const rig of RIGS) {
      const { pose } = analyse(rig.make());
      const together = holding(pose);
      const forces = new Forces(pose);
      const { sources } = pose.compiled;
      const speeds = Float64Array.from(pose.sourceSpeed);
      for (const h of together) {
        const k = sources.findIndex((s) => s.source.id === h.source);
        if (h.by === 'pawl' || h.by === 'balanced') continue;
        // One source alone runs back with the load, the others stand.
        const slot = forces.state.inputCoordinate.indexOf(sources[k].coordinate);
        forces.velocity.fill(0);
        const way = Math.sign(forces.evaluate({ losses: false }).input[slot]);
        pose.sourceSpeed.fill(0);
        pose.sourceSpeed[k] = -way * Math.max(1e-3, Math.abs(speeds[k]));
        nominalVelocities(pose, forces.velocity, undefined, forces.heldCoordinates);
        const back = forces.evaluate().input[slot];
        expect([rig.name, h.source, h.needed]).toEqual([rig.name, h.source, back * way > 1e-12 ? expect.closeTo(Math.abs(back), 9) : 0]);
        pose.sourceSpeed.set(speeds);
        several += together.length > 1 ? 1 : 0;
      }
    }
    expect(several).toBeGreaterThan(10);
  });
  it('of two sources that lead one train is told of each with the other held', () => {
    const b = new Builder().weightless();
    const [arm, turns] = [b.shaft([0, 0, 0]), b.slide([0, 0, 100], [...Z])];
    b.motor(arm.joint, 20);
    b.motor(turns.joint, 20);
    const hoist = b.slide([0, 0, 300], [...Z]);
    b.joint('prismatic', turns.member, hoist.member);
    b.load('joint-load', { joint: arm.joint, value: -3 });
    b.load('joint-load', { joint: turns.joint, value: -200 });
    const found = holding(analyse(b.design).pose).map(({ by, needed }: Holding) => [by, needed]);
    expect(found.slice(0, 2)).toEqual([
      ['runs-back', expect.closeTo(3, 9)],
      ['runs-back', expect.closeTo(200, 9)],
    ]);
  });
});
