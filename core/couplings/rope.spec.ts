import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { bearingForces } from '../forces/index';
import { piToNumber } from '../math/index';
import { exactRatio } from '../kinematics/index';
import { Builder } from '../testing/designs';

/** A drum of 200 mm with a rope of 10 mm over a load of 1 kN that slides upward, 1 m below, driven at 30 rev/min. */
function hoist(more: object = {}): Builder {
  const b = new Builder().weightless();
  const s = b.shaft([0, 0, 0], 'frame', { axis: [0, 1, 0], up: [1, 0, 0] });
  const l = b.slide([0, 0, -1000], [0, 0, 1]);
  const d = b.element('drum', s.member, { diameter: 200, rope: 10, width: 200, layers: 3 });
  b.couple('rope', { a: d, b: l.joint, efficiency: 1, wound: 5, ...more });
  b.motor(s.joint, 30);
  b.load('joint-load', { joint: l.joint, value: -1000 });
  return b;
}
const worked = (b: Builder) => analyse(b.design);
const codes = (b: Builder) => worked(b).findings.map((f) => f.code);

describe('a drum and its rope', () => {
  it.each([
    [{}, 210, 1],
    [{ falls: 4 }, 210, 4],
    [{ falls: 2, layer: 3 }, 250, 2],
    [{ falls: 2, angle: 60 }, 210, 1],
    [{ winds: 'as the drum turns backward' }, 210, -1],
  ])('travels π·Dw/(n·cos α) a turn and pulls with F/(n·cos α): %j', (more, diameter, falls) => {
    const w = worked(hoist(more));
    const [line] = w.ledger.lines.filter((l) => l.motion === 'slide');
    // 30 rev/min: half a turn a second.
    expect(line.speed).toBeCloseTo((Math.PI * diameter) / falls / 2, 6);
    expect(w.ledger.sources[0].load).toBeCloseTo((1000 / falls) * (diameter / 2e3), 6);
    expect(w.ledger.efficiency).toBeCloseTo(1, 9);
    // The pull of the rope is told beside the coupling.
    expect(Math.abs(w.ledger.couplings[0].tangential)).toBeCloseTo(1000 / Math.abs(falls), 6);
    const r = exactRatio(w.compiled.reduction, 1, 0)!;
    expect(r.pi).toBe(1);
    expect(piToNumber(r)).toBeCloseTo((Math.PI * diameter) / falls, 6);
  });

  it('loads the drum’s bearings with its pull, toward the load or away from it', () => {
    for (const [leaves, sign] of [
      ['toward the load', -1],
      ['away from the load', 1],
    ] as const) {
      const b = hoist({ falls: 2, leaves });
      Object.assign(b.design.joints[0], {
        bearings: [
          { at: -60, thrust: 'takes', form: 'plain', inner: 20, outer: 30, width: 10, block: 'no' },
          { at: 60, thrust: 'free', form: 'plain', inner: 20, outer: 30, width: 10, block: 'no' },
        ],
      });
      const { forces } = worked(b);
      // What the joint puts on the shaft holds against 500 N, half of it at each bearing.
      const two = bearingForces(forces, b.design.joints[0].id)!.bearings;
      for (const x of two) expect(x.force[2]).toBeCloseTo(-sign * 250, 6);
    }
  });

  it('loses by its efficiency whichever side drives', () => {
    const up = worked(hoist({ efficiency: 0.9 }));
    expect(up.ledger.sources[0].load).toBeCloseTo(105 / 0.9, 6);
    const b = hoist({ efficiency: 0.9 });
    b.design.sources[0].speed = -30;
    expect(worked(b).ledger.sources[0].load).toBeCloseTo(105 * 0.9, 6);
  });

  it('ends where the drum is full and where two turns are left on it', () => {
    const w = worked(hoist());
    expect(w.findings.map((f) => f.code)).toContain('engagement-open');
    // 20 turns in each of 3 layers hold 60: 55 more go on, 3 come off.
    expect(w.compiled.couplings[0].model.engagements![0]).toMatchObject({ from: -3, to: 55 });
    expect(worked(hoist({ winds: 'as the drum turns backward' })).compiled.couplings[0].model.engagements![0]).toMatchObject({ from: -55, to: 3 });
  });

  it('says what is wrong: a load that it would have to push, a layer without room, too much rope, a joint that turns', () => {
    const pushed = hoist();
    Object.assign(pushed.design.loads[0], { value: 1000 });
    expect(codes(pushed)).toContain('rope-slack');
    expect(codes(hoist())).not.toContain('rope-slack');
    expect(codes(hoist({ layer: 4 }))).toContain('rope-layer');
    expect(codes(hoist({ wound: 61 }))).toContain('rope-too-long');
    const b = hoist();
    Object.assign(b.design.couplings[0], { b: b.design.joints[0].id });
    expect(codes(b)).toContain('rope-needs');
  });
});
