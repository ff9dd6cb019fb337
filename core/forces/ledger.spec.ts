import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import type { Design, Id } from '../fields/types';
import { sliderCrank } from '../testing/mechanisms';
import { Builder, item } from '../testing/designs';
import { reactionAt } from './index';

const lineOf = (d: Design, member: Id) => analyse(d).ledger.lines.find((l) => l.member === member)!;

/** Sun driven, ring held on the frame by a fixed joint, carrier out; one planet, and the load on the carrier. */
function planetary(zs: number, zp: number, load: number) {
  const zr = zs + 2 * zp;
  const b = new Builder().weightless();
  const sun = b.shaft([0, 0, 0]),
    arm = b.shaft([0, 0, 0]);
  const ring = b.member([0, 0, 0]);
  const held = b.joint('fixed', 'frame', ring);
  const planet = b.shaft([(zs + zp) / 2, 0, 0], arm.member);
  const gs = b.gear(sun.member, zs),
    gp = b.gear(planet.member, zp),
    gr = b.gear(ring, zr, 1, { internal: true });
  b.mesh(gs, gp);
  b.mesh(gp, gr);
  b.motor(sun.joint, 60);
  b.load('joint-load', { joint: arm.joint, value: -load });
  return { b, sun, arm, planet, ring, held, zr };
}

describe('load of a member: what passes through it', () => {
  it('is the output torque at a planetary carrier, T/i at the sun, and F·r at a planet, once', () => {
    fc.assert(
      fc.property(fc.integer({ min: 12, max: 60 }), fc.integer({ min: 12, max: 50 }), fc.integer({ min: 1, max: 900 }), (zs, zp, T) => {
        const { b, sun, arm, planet, zr } = planetary(zs, zp, T);
        const i = 1 + zr / zs;
        const F = T / ((zs + zp) / 2000) / 2;
        expect(lineOf(b.design, arm.member).load).toBeCloseTo(T, 8);
        expect(lineOf(b.design, sun.member).load).toBeCloseTo(T / i, 8);
        expect(lineOf(b.design, planet.member).load).toBeCloseTo((F * zp) / 2000, 8);
      }),
      { numRuns: 20 },
    );
  });

  it('gives speeds relative to the member that carries it and in space: a planet turns backward in its carrier', () => {
    // zs 30, zp 30, zr 90 at 240 rev/min: carrier 60; planet in the carrier −(240 − 60)·30/30, in space 60 less.
    const { b, planet, arm } = planetary(30, 30, 1);
    b.design.sources[0].speed = 240;
    expect(lineOf(b.design, arm.member)).toMatchObject({ speed: expect.closeTo(60, 9), space: expect.closeTo(60, 9) });
    const p = lineOf(b.design, planet.member);
    expect(p.speed).toBeCloseTo(-180, 9);
    expect(p.space).toBeCloseTo(-120, 9);
    expect(p.power).toBeCloseTo((p.load * 180 * 2 * Math.PI) / 60, 9);
  });

  it('is the force at the end of a crank and rod, the moment of that force at the crank', () => {
    // Slider under 1 000 N; crank torque F·r·sin(θ + φ)/cos φ with sin
    // φ = r sin θ / l (e.g. Norton, Design of Machinery, section 13.5).
    const [r, l, theta] = [50, 200, (40 * Math.PI) / 180];
    const { b, slider, crank } = sliderCrank(r, l, theta);
    b.weightless();
    b.load('joint-load', { joint: slider.joint, value: 1000 });
    const phi = Math.asin((r / l) * Math.sin(theta));
    expect(lineOf(b.design, slider.member).load).toBeCloseTo(1000, 8);
    expect(lineOf(b.design, crank.member).load).toBeCloseTo((1000 * 0.05 * Math.sin(theta + phi)) / Math.cos(phi), 7);
  });

  it('is the moment at a rocker', () => {
    const b = new Builder().weightless();
    const lever = b.shaft([0, 0, 0]);
    b.motor(lever.joint, 1);
    b.load('force', { member: lever.member, at: [60, 0, 0], force: [0, -200, 0] });
    expect(lineOf(b.design, lever.member).load).toBeCloseTo(12, 9);
  });

  it('goes through a splined shaft to the wheel that slides on it', () => {
    const b = new Builder().weightless();
    const shaft = b.shaft([0, 0, 0]),
      out = b.shaft([60, 0, 0]);
    const sleeve = b.slide([0, 0, 0], [0, 0, 1], shaft.member);
    b.mesh(b.gear(sleeve.member, 40), b.gear(out.member, 80));
    b.motor(shaft.joint, 60);
    b.load('joint-load', { joint: out.joint, value: 10 });
    expect(lineOf(b.design, shaft.member).load).toBeCloseTo(5, 9);
    expect(lineOf(b.design, out.member).load).toBeCloseTo(10, 9);
  });

  it('is what drives and what resists alike, of any train, and the same in any order of the items', () => {
    const { b } = planetary(24, 18, 55);
    const straight = analyse(b.design).ledger.lines;
    const turned = { ...b.design, members: [...b.design.members].reverse(), couplings: [...b.design.couplings].reverse() };
    for (const l of analyse(turned).ledger.lines) {
      const same = straight.find((x) => x.member === l.member)!;
      expect(l.load).toBeCloseTo(same.load, 9);
      expect(l.space).toBeCloseTo(same.space, 9);
    }
  });

  it('is nothing where only rounding is left', () => {
    const { b, sun } = planetary(24, 18, 55);
    const loose = b.shaft([500, 0, 0]);
    b.motor(loose.joint, 30);
    expect(lineOf(b.design, loose.member).load).toBe(0);
    expect(lineOf(b.design, sun.member).load).toBeGreaterThan(1);
  });
});

describe('the time from stop to stop', () => {
  it('is the travel over the speed, of what turns and of what slides', () => {
    const b = new Builder().weightless();
    const turns = b.shaft([0, 0, 0]),
      slides = b.slide([100, 0, 0], [0, 0, 1]);
    Object.assign(b.design.joints[0], { lower: -30, upper: 60 });
    Object.assign(b.design.joints[1], { lower: -20, upper: 100 });
    b.motor(turns.joint, 75);
    b.motor(slides.joint, -48);
    for (const [k, { joint }] of [turns, slides].entries()) {
      b.design.wanted.push(item({ id: `w${k}`, name: 'Time', type: 'time', joint, value: 1 }));
    }
    // 90° at 75 rev/min; 120 mm at 48 mm/s.
    const [turning, sliding] = analyse(b.design).ledger.wanted;
    expect(turning.value).toBeCloseTo(0.2, 12);
    expect(sliding.value).toBeCloseTo(2.5, 12);
  });
});

describe('reaction of a fixed joint', () => {
  it('of a held ring is the torque that carrier and sun leave: T (1 − 1/i), and nothing across', () => {
    fc.assert(
      fc.property(fc.integer({ min: 12, max: 60 }), fc.integer({ min: 12, max: 50 }), fc.integer({ min: 1, max: 900 }), (zs, zp, T) => {
        const { b, held, zr } = planetary(zs, zp, T);
        const a = analyse(b.design);
        const r = reactionAt(a.forces, held)!;
        expect(Math.abs(r.moment[2])).toBeCloseTo(T * (1 - 1 / (1 + zr / zs)), 7);
        // On the parent it is the same the other way round.
        expect(reactionAt(a.forces, held, 'parent')!.moment[2]).toBeCloseTo(-r.moment[2], 9);
      }),
      { numRuns: 20 },
    );
  });

  it('of a bracket is what hangs on it, and its own weight', () => {
    const b = new Builder();
    const bracket = b.member([0, 0, 0], { mass: 3, massCentre: [100, 0, 0] });
    const j = b.joint('fixed', 'frame', bracket);
    b.load('force', { member: bracket, at: [200, 0, 0], force: [0, 0, -50] });
    const arm = b.shaft([200, 0, 0], bracket, { axis: [0, 1, 0], mass: 2, massCentre: [0, 0, 0] });
    b.motor(arm.joint, 1);
    const r = reactionAt(analyse(b.design).forces, j)!;
    const g = 9.80665;
    expect(r.force[2]).toBeCloseTo(50 + 5 * g, 8);
    // About y at the wall: −z forces at x turn it by −x·F, so the wall holds with the opposite.
    expect(Math.abs(r.moment[1])).toBeCloseTo(0.2 * 50 + 0.1 * 3 * g + 0.2 * 2 * g, 8);
  });
});

describe('efficiency', () => {
  /** A shaft on a shaft, 1 : 2 with 0.9 in the teeth. */
  function pair() {
    const b = new Builder().weightless();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([30, 0, 0])];
    b.mesh(b.gear(s1.member, 20), b.gear(s2.member, 40), { efficiency: 0.9 });
    b.motor(s1.joint, 60);
    return { b, s1, s2 };
  }

  it('counts friction and dampers as lost, not as output', () => {
    const { b, s2 } = pair();
    b.load('joint-load', { joint: s2.joint, value: 10 });
    expect(analyse(b.design).ledger.efficiency).toBeCloseTo(0.9, 9);
    b.load('joint-friction', { joint: s2.joint, value: 2 });
    // 12 N·m come out of the teeth, 10 are of use.
    expect(analyse(b.design).ledger.efficiency).toBeCloseTo((0.9 * 10) / 12, 9);
    // A damper at 30 rev/min, 180°/s: 0.01 N·m·s/deg take 1.8 N·m more.
    b.load('joint-spring', { joint: s2.joint, rate: 0, damping: 0.01 });
    const l = analyse(b.design).ledger;
    expect(l.efficiency).toBeCloseTo((0.9 * 10) / 13.8, 9);
    expect(l.input).toBeCloseTo(l.output + l.loss, 9);
  });

  it('counts what an absorbing source takes as output, and what the load gives as input', () => {
    const { b, s2 } = pair();
    const forward = Math.sign(analyse(b.design).ledger.lines[1].speed);
    // The load turns the wheel on: 10 N·m at 30 rev/min; the motor holds it back through the teeth.
    b.load('joint-load', { joint: s2.joint, value: 10 * forward });
    const l = analyse(b.design).ledger;
    expect(l.sources[0].power).toBeLessThan(0);
    expect(l.input).toBeCloseTo(10 * Math.PI, 8);
    expect(l.output).toBeCloseTo(-l.sources[0].power, 9);
    expect(l.efficiency).toBeCloseTo(0.9, 9);
    expect(l.input).toBeCloseTo(l.output + l.loss, 9);
  });

  it('does not take what one source absorbs from what another gives', () => {
    // A spur differential: two wheels drive its cage; one source drives, the other brakes.
    const b = new Builder().weightless();
    const sun = b.shaft([0, 0, 0]),
      ring = b.shaft([0, 0, 0]),
      arm = b.shaft([0, 0, 0]);
    const planet = b.shaft([25, 0, 0], arm.member);
    const gp = b.gear(planet.member, 20);
    b.mesh(b.gear(sun.member, 30), gp);
    b.mesh(gp, b.gear(ring.member, 70, 1, { internal: true }));
    b.motor(sun.joint, 100);
    b.motor(ring.joint, -20);
    b.load('joint-load', { joint: arm.joint, value: -10 });
    const l = analyse(b.design).ledger;
    const [drives, brakes] = l.sources;
    expect(drives.power).toBeGreaterThan(0);
    expect(brakes.power).toBeLessThan(0);
    expect(l.input).toBeCloseTo(drives.power, 9);
    // Arm (100·30 − 20·70)/100 = 16 rev/min under 10 N·m, and what the second source takes.
    expect(l.output).toBeCloseTo((10 * 16 * Math.PI) / 30 - brakes.power, 9);
    expect(l.efficiency).toBeCloseTo(1, 9);
  });
});

describe('forces of bevel and worm', () => {
  // Wr = Wt tan φ cos γ, Wa = Wt tan φ sin γ (Shigley, Mechanical Engineering Design, eqs. 13-38).
  it('part the bevel’s into radial and axial by its cone', () => {
    fc.assert(
      fc.property(fc.integer({ min: 12, max: 60 }), fc.integer({ min: 12, max: 60 }), (za, zb) => {
        const gamma = Math.atan(za / zb);
        const b = new Builder().weightless();
        const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([0, 0, 0], 'frame', { axis: [1, 0, 0] })];
        const cone = (z: number, g: number) => ({ teeth: z, module: 2, width: 5, coneAngle: (g * 180) / Math.PI });
        const e1 = b.element('bevel-gear', s1.member, cone(za, gamma)),
          e2 = b.element('bevel-gear', s2.member, cone(zb, Math.PI / 2 - gamma));
        b.couple('bevel-pair', { a: e1, b: e2, efficiency: 1 });
        b.motor(s1.joint, 60);
        b.load('joint-load', { joint: s2.joint, value: 30 });
        const a = analyse(b.design);
        const c = a.ledger.couplings[0];
        expect(a.findings.filter((f) => f.severity === 'fault')).toEqual([]);
        const tan = Math.tan((20 * Math.PI) / 180);
        expect(c.radial).toBeCloseTo(c.tangential * tan * Math.cos(gamma), 6);
        expect(c.axial).toBeCloseTo(c.tangential * tan * Math.sin(gamma), 6);
      }),
      { numRuns: 20 },
    );
  });
});
