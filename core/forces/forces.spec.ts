import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { compile, poseOf } from '../kinematics/index';
import { Builder, row, item, state } from '../testing/designs';
import { Forces, ledger, nominalVelocities } from './index';

const run = (b: Builder) => analyse(b.design);

describe('statics of a train', () => {
  // T2 = T1 · i · η per mesh; two meshes of 0.98 leave 0.9604 (standard practice, e.g. Niemann/Winter, Maschinenelemente II).
  it('hands torque on by the ratio and loses through two meshes what both lose', () => {
    const b = row([
      [20, 60],
      [20, 80],
    ]);
    b.design.couplings.forEach((c) => state(c, { efficiency: 0.98 }));
    b.load('joint-load', { joint: b.design.joints[2].id, value: -120 });
    const a = run(b);
    expect(a.ledger.efficiency).toBeCloseTo(0.98 * 0.98, 12);
    expect(a.ledger.sources[0].load).toBeCloseTo(120 / 12 / 0.9604, 9);
  });

  it('needs less holding torque than raising torque: losses change side with the power', () => {
    const b = row([[20, 40]]);
    state(b.design.couplings[0], { efficiency: 0.9 });
    b.load('joint-load', { joint: b.design.joints[1].id, value: 10 });
    // The load drives the output backward (the output turns negative), so it brakes; then helps when turned the other way.
    const up = run(b).ledger.sources[0].load;
    b.design.sources[0].speed = -60;
    const down = run(b).ledger.sources[0].load;
    expect(Math.abs(up)).toBeCloseTo(5 / 0.9, 9);
    expect(Math.abs(down)).toBeCloseTo(5 * 0.9, 9);
  });

  // Spur gear forces: Ft = 2T/d, Fr = Ft tan φ (Shigley, section 13-14).
  it('gives tangential and radial tooth forces, and bearings that carry both', () => {
    const b = row([[20, 40]], 2);
    b.load('joint-load', { joint: b.design.joints[1].id, value: 40 });
    const a = run(b);
    const ft = (2 * 40) / 0.08;
    expect(a.ledger.couplings[0].tangential).toBeCloseTo(ft, 9);
    expect(a.ledger.couplings[0].radial).toBeCloseTo(ft * Math.tan((20 * Math.PI) / 180), 9);
    const r = a.forces.reactions();
    expect(Math.hypot(r[0], r[1])).toBeCloseTo(ft / Math.cos((20 * Math.PI) / 180), 9);
    expect(r[2]).toBeCloseTo(0, 12);
    for (let k = 0; k < 3; k++) expect(r[6 + k]).toBeCloseTo(-r[k], 9);
  });

  // Helical gear: Fa = Ft tan β, Fr = Ft tan αn / cos β (Shigley, section 13-16); opposite thrusts on the two shafts.
  it('gives helical gears their axial force', () => {
    const b = new Builder().weightless();
    const beta = 15,
      mt = 2 / Math.cos((beta * Math.PI) / 180);
    const s1 = b.shaft([0, 0, 0]),
      s2 = b.shaft([(mt * 60) / 2, 0, 0]);
    b.mesh(b.gear(s1.member, 20, 2, { helix: beta }), b.gear(s2.member, 40, 2, { helix: beta, hand: 'left' }));
    b.motor(s1.joint);
    b.load('joint-load', { joint: s2.joint, value: 40 });
    const a = run(b),
      c = a.ledger.couplings[0];
    const ft = 40 / ((mt * 20) / 1000);
    expect(c.tangential).toBeCloseTo(ft, 9);
    expect(c.axial).toBeCloseTo(ft * Math.tan((beta * Math.PI) / 180), 9);
    expect(c.radial).toBeCloseTo((ft * Math.tan((20 * Math.PI) / 180)) / Math.cos((beta * Math.PI) / 180), 9);
    const r = a.forces.reactions();
    expect(r[2]).toBeCloseTo(-r[8], 9);
    expect(Math.abs(r[2])).toBeCloseTo(c.axial, 9);
  });

  it('carries a weight on a rack through to the crank', () => {
    const b = new Builder();
    const p = b.shaft([0, 0, 0], 'frame', { axis: [0, 1, 0] }),
      s = b.slide([20, 0, 0], [0, 0, 1], 'frame', { mass: 50 });
    b.couple('rack-mesh', {
      a: b.gear(p.member, 20, 2, { width: 1, density: 0 }),
      b: b.element('rack', s.member, { teeth: 40, module: 2, width: 10, height: 8, axis: [0, 1, 0], up: [0, 0, -1], density: 0 }),
      efficiency: 1,
    });
    b.motor(p.joint);
    const a = run(b);
    expect(Math.abs(a.ledger.sources[0].load)).toBeCloseTo(50 * 9.80665 * 0.02, 9);
  });
});

describe('laws', () => {
  const trains = fc.array(
    fc.tuple(fc.integer({ min: 18, max: 60 }), fc.integer({ min: 18, max: 60 }), fc.double({ min: 0.5, max: 1, noNaN: true })),
    { minLength: 1, maxLength: 8 },
  );

  it('balances power at every pose: what sources give is what loads take and couplings lose', () => {
    fc.assert(
      fc.property(trains, fc.integer({ min: -500, max: 500 }), fc.integer({ min: -3000, max: 3000 }), (stages, torque, speed) => {
        const b = row(stages.map(([x, y]) => [x, y] as const));
        b.design.couplings.forEach((c, i) => state(c, { efficiency: stages[i][2] }));
        b.design.sources[0].speed = speed;
        b.load('joint-load', { joint: b.design.joints.at(-1)!.id, value: torque });
        const l = run(b).ledger;
        const size = Math.abs(l.input) + Math.abs(l.output) + l.loss;
        expect(Math.abs(l.input - l.output - l.loss)).toBeLessThanOrEqual(1e-9 * size);
        expect(l.loss).toBeGreaterThanOrEqual(-1e-12 * size);
      }),
      { numRuns: 60 },
    );
  });

  it('balances every member: reactions, tooth forces, loads and inertia add up to nothing', () => {
    // The reaction along each freedom must be what the inputs give there, found by the other pass.
    const b = row(
      [
        [20, 40],
        [18, 54],
      ],
      2,
    );
    delete b.design.settings;
    b.load('force', { member: b.design.members[2].id, at: [10, 5, 3], force: [30, -20, 10], follows: true });
    const m = poseOf(compile(b.design));
    const f = new Forces(m);
    m.solve([0], [0.7]);
    nominalVelocities(m, f.velocity);
    f.acceleration.set([3, -1.5, 0.5]);
    const s = f.evaluate({ inertia: true });
    const r = f.reactions(true);
    expect(r[5]).toBeCloseTo(s.input[0], 9);
    expect(r[6 + 5]).toBeCloseTo(0, 9);
    expect(r[12 + 5]).toBeCloseTo(0, 9);
  });

  it('scales: a design twice as large with twice the forces needs four times the torque', () => {
    const make = (k: number) => {
      const b = row([[20, 40]], k);
      b.load('force', { member: b.design.members[1].id, at: [0, 10 * k, 0], force: [7 * k, 0, 0] });
      return ledger(poseOf(compile(b.design))).sources[0].load;
    };
    expect(make(2)).toBeCloseTo(4 * make(1), 9);
  });
});

describe('wanted outputs', () => {
  it('are met or missed by how much', () => {
    const b = row([[20, 40]]);
    const j = b.design.joints[1].id;
    b.design.wanted.push(
      item({ id: 'w1', name: 'a', type: 'speed', joint: j, value: 30, tolerance: 0 }),
      item({ id: 'w2', name: 'b', type: 'speed', joint: j, value: 33, tolerance: 2 }),
      item({ id: 'w3', name: 'c', type: 'linear-speed', joint: j, value: 1 }),
      item({ id: 'w4', name: 'd', type: 'angle', joint: j, value: 90, sense: 'at least' }),
    );
    const w = run(b).ledger.wanted;
    expect(w[0]).toMatchObject({ met: true, value: 30 });
    expect(w[1]).toMatchObject({ met: false });
    expect(w[1].off).toBeCloseTo(-3, 12);
    expect(w[2].because).toMatch(/turns/);
    expect(w[3].because).toMatch(/stop/);
    Object.assign(b.design.joints[1], { lower: 0, upper: 120 });
    expect(run(b).ledger.wanted[3]).toMatchObject({ met: true, value: 120 });
  });
});
