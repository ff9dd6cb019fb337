import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { Builder, state } from '../testing/designs';

import { contactsDoTheWorkOfTheRow, faults, ratio } from '../testing/coupled';

const RAD = Math.PI / 180;

describe('epicyclic trains: rotation relative to the carrier', () => {
  /** Sun, planet on an arm, ring; all about the origin. */
  const planetary = (zs: number, zp: number, zr: number) => {
    const b = new Builder().weightless();
    const sun = b.shaft([0, 0, 0], 'frame', { id: 'sun' }),
      arm = b.shaft([0, 0, 0], 'frame', { id: 'arm', kind: 'carrier' }),
      ring = b.shaft([0, 0, 0], 'frame', { id: 'ring' });
    const planet = b.shaft([(zs + zp) / 2, 0, 0], arm.member, { id: 'planet' });
    const gp = b.gear(planet.member, zp);
    b.mesh(b.gear(sun.member, zs), gp);
    b.mesh(gp, b.gear(ring.member, zr, 1, { internal: true }));
    return { b, sun, arm, ring, planet };
  };
  const hold = (b: Builder, joint: string): void =>
    void (b.design.joints = b.design.joints.map((j) => (j.id === joint ? { ...j, type: 'fixed' } : j)));

  // Willis: with the ring held the arm turns zs/(zs + zr) of the sun (every textbook; Norton, Design of Machinery, section 9.8).
  it('turns the arm 1 : 4 of the sun with the ring held, 30/90', () => {
    const { b, sun, arm, ring } = planetary(30, 30, 90);
    hold(b, ring.joint);
    b.motor(sun.joint);
    expect(faults(b.design)).toEqual([]);
    expect(ratio(b.design, arm.joint, sun.joint)).toBe('1/4');
  });
  it('turns the arm 3 : 4 of the ring with the sun held', () => {
    const { b, sun, arm, ring } = planetary(30, 30, 90);
    hold(b, sun.joint);
    b.motor(ring.joint);
    expect(ratio(b.design, arm.joint, ring.joint)).toBe('3/4');
  });
  it('turns the ring −1/3 of the sun with the arm held', () => {
    const { b, sun, arm, ring } = planetary(30, 30, 90);
    hold(b, arm.joint);
    b.motor(sun.joint);
    expect(ratio(b.design, ring.joint, sun.joint)).toBe('-1/3');
  });
  it('obeys Willis for any two driven members', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 18, max: 60 }),
        fc.integer({ min: 18, max: 40 }),
        fc.integer({ min: -300, max: 300 }),
        fc.integer({ min: -300, max: 300 }),
        (zs, zp, ns, na) => {
          const zr = zs + 2 * zp;
          const { b, sun, arm } = planetary(zs, zp, zr);
          b.motor(sun.joint, ns);
          b.motor(arm.joint, na);
          const l = analyse(b.design).ledger.lines;
          const ring = l.find((x) => x.member === 'ring')!.speed;
          expect((ns - na) * zs).toBeCloseTo(-(ring - na) * zr, 6);
        },
      ),
      { numRuns: 30 },
    );
  });
  // Torques of a planetary set: Ts : Tr : Ta = 1 : zr/zs : −(1 + zr/zs) (Müller, Epicyclic Drive Trains; every textbook).
  it('shares torque between sun, ring and arm by tooth counts', () => {
    const { b, sun, arm, ring } = planetary(30, 30, 90);
    b.motor(sun.joint, 100);
    b.motor(ring.joint, 0);
    b.load('joint-load', { joint: arm.joint, value: -80 });
    const s = analyse(b.design).ledger.sources;
    expect(s[0].load).toBeCloseTo(20, 9);
    expect(s[1].load).toBeCloseTo(60, 9);
  });
  // Efficiency with the ring held, sun driving: (1 + i0 η0)/(1 + i0), i0
  // = zr/zs, η0 the product of both mesh efficiencies (VDI 2157; Müller).
  it('loses only the rolling power: efficiency of a reducer with the ring held', () => {
    const { b, sun, arm, ring } = planetary(30, 30, 90);
    hold(b, ring.joint);
    b.design.couplings.forEach((c) => state(c, { efficiency: 0.97 }));
    b.motor(sun.joint, 100);
    b.load('joint-load', { joint: arm.joint, value: -80 });
    const eta0 = 0.97 * 0.97,
      i0 = 3;
    expect(analyse(b.design).ledger.efficiency).toBeCloseTo((1 + i0 * eta0) / (1 + i0), 9);
  });
  // Ferguson's paradox: three wheels of 99, 100 and 101 teeth on one planet;
  // the first (100) held, the arm turned: the others turn −1/99, 0, 1/101.
  it('shows Ferguson’s paradox', () => {
    const b = new Builder().weightless();
    const arm = b.shaft([0, 0, 0], 'frame', { id: 'arm' });
    const held = b.member([0, 0, 0], { id: 'held' });
    b.joint('fixed', 'frame', held);
    const planet = b.shaft([60, 0, 0], arm.member);
    const p = b.gear(planet.member, 20, 1, { width: 80 });
    b.mesh(p, b.gear(held, 100));
    const wheels = [99, 100, 101].map((z, k) => {
      const s = b.shaft([0, 0, 0]);
      b.mesh(p, b.gear(s.member, z, 1, { at: [0, 0, 15 * (k + 1)] }));
      return s;
    });
    b.motor(arm.joint);
    expect(wheels.map((w) => ratio(b.design, w.joint, arm.joint))).toEqual(['-1/99', '0', '1/101']);
  });
  // The classic reverted train with a ratio of one in ten thousand: 1 −
  // (101·99)/(100·100) (textbook paradox, e.g. Merritt, Gear Trains).
  it('reduces 10 000 : 1 in a reverted train of 99, 100 and 101 teeth', () => {
    const b = new Builder().weightless();
    const arm = b.shaft([0, 0, 0]),
      held = b.member([0, 0, 0]),
      out = b.shaft([0, 0, 0]);
    b.joint('fixed', 'frame', held);
    const planet = b.shaft([100, 0, 0], arm.member);
    b.mesh(b.gear(held, 101), b.gear(planet.member, 100));
    b.mesh(b.gear(planet.member, 99, 1, { at: [0, 0, 20] }), b.gear(out.member, 100, 1, { at: [0, 0, 20] }));
    b.motor(arm.joint);
    expect(ratio(b.design, out.joint, arm.joint)).toBe('1/10000');
  });
  it('works for planets on planets', () => {
    const b = new Builder().weightless();
    const sun = b.member([0, 0, 0]);
    b.joint('fixed', 'frame', sun);
    const arm = b.shaft([0, 0, 0]),
      p1 = b.shaft([30, 0, 0], arm.member),
      p2 = b.shaft([60, 0, 0], arm.member);
    const g1 = b.gear(p1.member, 30);
    b.mesh(b.gear(sun, 30), g1);
    b.mesh(g1, b.gear(p2.member, 30));
    b.motor(arm.joint);
    // Equal counts through one idler: the second planet does not turn in the world, so it turns back against the arm.
    expect(ratio(b.design, p2.joint, arm.joint)).toBe('-1');
  });
});

describe('bevel gears', () => {
  const pair = (z1: number, z2: number) => {
    const b = new Builder();
    const s1 = b.shaft([0, 0, 0]),
      s2 = b.shaft([0, 0, 0], 'frame', { axis: [1, 0, 0] });
    const cone = Math.atan(z1 / z2) / RAD;
    b.couple('bevel-pair', {
      a: b.element('bevel-gear', s1.member, { teeth: z1, module: 3, coneAngle: cone, width: 12 }),
      b: b.element('bevel-gear', s2.member, { teeth: z2, module: 3, coneAngle: 90 - cone, width: 12 }),
    });
    b.motor(s1.joint);
    return { b, s1, s2 };
  };
  it('turn by their counts, and the contact does the work of the row', () => {
    const { b, s1, s2 } = pair(20, 40);
    expect(ratio(b.design, s2.joint, s1.joint)).toMatch(/^-?1\/2$/);
    contactsDoTheWorkOfTheRow(b);
  });
  // Wr = Wt tan φ cos γ, Wa = Wt tan φ sin γ at the mean radius (Shigley, eq. 13-38).
  it('have radial and axial forces by the cone angle', () => {
    const { b } = pair(15, 45);
    state(b.design.couplings[0], { efficiency: 1 });
    b.weightless();
    b.load('joint-load', { joint: b.design.joints[1].id, value: 30 });
    const a = analyse(b.design);
    const gamma = Math.atan(15 / 45),
      rm = (45 - 12 * Math.sin(gamma)) / 2 / 1000;
    const wt = Math.abs(a.ledger.sources[0].load) / rm;
    const c = a.ledger.couplings[0];
    expect(c.tangential).toBeCloseTo(wt, 6);
    const r = a.forces.reactions();
    expect(Math.abs(r[2])).toBeCloseTo(wt * Math.tan(20 * RAD) * Math.sin(gamma), 6);
    expect(Math.hypot(r[0], r[1])).toBeCloseTo(Math.hypot(wt, wt * Math.tan(20 * RAD) * Math.cos(gamma)), 6);
  });
  it('make a differential: both sides together turn twice the cage', () => {
    const b = new Builder().weightless();
    const cage = b.shaft([0, 0, 0], 'frame', { id: 'cage' }),
      left = b.shaft([0, 0, 0], 'frame', { id: 'left' }),
      right = b.shaft([0, 0, 0], 'frame', { id: 'right', axis: [0, 0, -1] });
    const planet = b.shaft([0, 0, 0], cage.member, { axis: [1, 0, 0] });
    const g = (m: string): string => b.element('bevel-gear', m, { teeth: 20, module: 2, coneAngle: 45, width: 6 });
    const p = g(planet.member);
    b.couple('bevel-pair', { a: g(left.member), b: p, efficiency: 1 });
    b.couple('bevel-pair', { a: g(right.member), b: p, efficiency: 1 });
    b.motor(cage.joint, 100);
    b.motor(left.joint, 130);
    const a = analyse(b.design);
    expect(a.findings.filter((f) => f.severity === 'fault')).toEqual([]);
    expect(a.freedoms).toBe(2);
    // The right shaft's axis points the other way.
    expect(a.ledger.lines.find((l) => l.member === 'right')!.speed).toBeCloseTo(-70, 9);
  });
  it('say when cones or axes do not fit', () => {
    const { b } = pair(20, 40);
    state(b.design.elements[0], { coneAngle: 30 });
    expect(faults(b.design).join()).toContain('26.5651');
  });
});
