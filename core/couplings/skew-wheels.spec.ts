import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { Forces, loadSheet } from '../forces/index';
import { compile, poseOf } from '../kinematics/index';
import { Builder, state } from '../testing/designs';
import { wormEfficiency } from './index';

import { contactsDoTheWorkOfTheRow, faults, ratio } from '../testing/coupled';

const RAD = Math.PI / 180;

describe('worm drives', () => {
  const drive = (hand: 'right' | 'left', side: 1 | -1, starts = 2) => {
    const b = new Builder();
    const w = b.shaft([0, 0, 0], 'frame', { axis: [1, 0, 0] }),
      g = b.shaft([5, 0, side * (20 + 40)], 'frame', { axis: [0, 1, 0] });
    b.couple('worm-drive', {
      a: b.element('worm', w.member, { starts, module: 2, diameter: 40, hand, length: 40 }),
      b: b.element('worm-wheel', g.member, { teeth: 40, module: 2, width: 20 }),
    });
    b.motor(w.joint, 1000);
    return { b, w, g };
  };
  it.each([
    ['right', 1],
    ['right', -1],
    ['left', 1],
    ['left', -1],
  ] as const)('turn by starts over teeth, %s hand, wheel on side %i, and the contact does the work of the row', (hand, side) => {
    const { b, w, g } = drive(hand, side);
    const r = ratio(b.design, g.joint, w.joint);
    expect(r).toMatch(/^-?1\/20$/);
    const other = drive(hand === 'right' ? 'left' : 'right', side);
    expect(ratio(other.b.design, other.g.joint, other.w.joint)).toBe(r.startsWith('-') ? r.slice(1) : `-${r}`);
    contactsDoTheWorkOfTheRow(b);
  });
  describe.each([50, 70, 90, 105, 130])('with %i° between the axes', (angle) => {
    const skew = (hand: 'right' | 'left', mu: number) => {
      const b = new Builder().weightless();
      const gamma = Math.atan(0.2);
      const sigma = (hand === 'right' ? -1 : 1) * angle * RAD;
      // The wheel's helix angle is what the thread's leaves of the angle between the axes.
      const module = (2 * Math.cos(gamma)) / Math.cos(angle * RAD - Math.PI / 2 + gamma);
      const w = b.shaft([0, 0, 0], 'frame', { axis: [1, 0, 0] }),
        g = b.shaft([5, 0, 20 / 2 + 20 * module], 'frame', { axis: [Math.cos(sigma), Math.sin(sigma), 0] });
      b.couple('worm-drive', {
        a: b.element('worm', w.member, { starts: 2, module: 2, diameter: 20, hand, length: 40 }),
        b: b.element('worm-wheel', g.member, { teeth: 40, module, width: 20 }),
        friction: mu,
      });
      b.motor(w.joint, 1000);
      return { b, w, g, gamma };
    };
    it.each(['right', 'left'] as const)('turns by starts over teeth, %s hand, and the contact does the work of the row', (hand) => {
      const { b, w, g } = skew(hand, 0);
      expect(ratio(b.design, g.joint, w.joint)).toMatch(/^-?1\/20$/);
      contactsDoTheWorkOfTheRow(b);
    });
    it.each([17, -17])('rubs along its thread by μ of what presses across it, under %i N·m', (load) => {
      const { b, g, gamma } = skew('right', 0.06);
      b.load('joint-load', { joint: g.joint, value: load });
      const a = analyse(b.design);
      expect(a.findings.filter((f) => f.severity === 'fault')).toEqual([]);
      const contact = loadSheet(a.forces, g.member, 'frame', false).lines.find((l) => l.kind === 'coupling')!;
      const [x, y, z] = contact.force;
      // The thread at the top of the worm (+z): along x by sin γ, across by cos γ; a right hand leans towards −y there.
      const along = x * Math.sin(gamma) - y * Math.cos(gamma),
        across = x * Math.cos(gamma) + y * Math.sin(gamma);
      expect(Math.abs(along)).toBeCloseTo(0.06 * Math.hypot(across, z), 6);
      expect(Math.abs(z / across)).toBeCloseTo(Math.tan(20 * RAD), 9);
      expect(Math.abs(a.ledger.input - a.ledger.output - a.ledger.loss)).toBeLessThan(1e-9 * a.ledger.input);
    });
  });
  // A right-hand worm turned clockwise as seen from behind, like a screw, pulls the teeth it touches towards its tail.
  it('draw the teeth against the travel that a screw would make', () => {
    const { b, w, g } = drive('right', 1);
    // Worm along +x turning +: a screw would travel +x into a fixed nut, so the teeth
    // below the wheel axis move to −x; the wheel about +y at z = +60 has its teeth at −z.
    expect(ratio(b.design, g.joint, w.joint)).toBe('1/20');
  });
  // Shigley's Mechanical Engineering Design, table 13-6: efficiency for f = 0.05, φn = 14½° (from memory).
  it.each([
    [1, 0.252],
    [2.5, 0.457],
    [10, 0.766],
    [15, 0.827],
  ])('has the published efficiency at a lead angle of %f°', (lead, eta) => {
    expect(wormEfficiency(lead * RAD, 14.5 * RAD, 0.05).forward).toBeCloseTo(eta, 3);
  });
  it('locks itself below the angle of friction, says so, and then needs torque to lower', () => {
    const { b } = drive('right', 1, 1);
    state(b.design.couplings[0], { friction: 0.1 });
    b.weightless();
    b.load('joint-load', { joint: b.design.joints[1].id, value: 50 });
    const one = analyse(b.design);
    expect(one.findings.some((f) => f.code === 'self-locking')).toBe(true);
    b.design.sources[0].speed = -1000;
    const two = analyse(b.design);
    for (const a of [one, two]) {
      expect(a.ledger.input).toBeGreaterThan(0);
      expect(Math.abs(a.ledger.input - a.ledger.output - a.ledger.loss)).toBeLessThan(1e-9 * a.ledger.loss);
    }
  });
});

describe('crossed helical gears', () => {
  it.each([
    [45, 'right', 45, 'right', 90],
    [30, 'right', 30, 'right', 60],
    [50, 'left', 20, 'left', 70],
  ] as const)('%f° %s on %f° %s at %f°: the contact does the work of the row', (b1, h1, b2, h2, angle) => {
    const b = new Builder();
    const r1 = (2 * 20) / Math.cos(b1 * RAD) / 2,
      r2 = (2 * 30) / Math.cos(b2 * RAD) / 2;
    const s1 = b.shaft([0, 0, 0]);
    // The tooth lines must lie together: with both hands alike the second axis is turned back by the sum of the helix angles.
    const turn = (h1 === 'right' ? 1 : -1) * angle * RAD;
    const s2 = b.shaft([r1 + r2, 0, 0], 'frame', { axis: [0, Math.sin(turn), Math.cos(turn)] });
    b.couple('crossed-gears', { a: b.gear(s1.member, 20, 2, { helix: b1, hand: h1 }), b: b.gear(s2.member, 30, 2, { helix: b2, hand: h2 }) });
    b.motor(s1.joint);
    expect(ratio(b.design, s2.joint, s1.joint)).toMatch(/^-?2\/3$/);
    contactsDoTheWorkOfTheRow(b);
  });

  const shifted = (x: number, y: number, apart = 0, alpha = 20): Builder => {
    const b = new Builder().weightless();
    const r = (z: number): number => (2 * z) / Math.cos(45 * RAD) / 2;
    const s1 = b.shaft([0, 0, 0]);
    const s2 = b.shaft([r(20) + r(30) + 2 * (x + y) + apart, 0, 0], 'frame', { axis: [0, 1, 0] });
    const g2 = { helix: 45, shift: y, pressureAngle: alpha };
    b.couple('crossed-gears', { a: b.gear(s1.member, 20, 2, { helix: 45, shift: x }), b: b.gear(s2.member, 30, 2, g2), efficiency: 1 });
    b.motor(s1.joint);
    b.load('joint-load', { joint: s2.joint, value: -30 });
    return b;
  };
  const derived = (b: Builder, key: string): number => compile(b.design).couplings[0].model.derived!.find((d) => d.key === key)!.value as number;

  it('stand farther apart by their shift, with play by how much more they do: 2 Δa sin αn square to the flanks', () => {
    expect(derived(shifted(0, 0), 'normalBacklash')).toBeCloseTo(0, 9);
    expect(derived(shifted(0.3, 0.2), 'workingDistance')).toBeCloseTo(50 / Math.cos(45 * RAD) + 1, 9);
    expect(derived(shifted(0.3, 0.2, 0.1), 'normalBacklash')).toBeCloseTo(0.2 * Math.sin(20 * RAD), 9);
    expect(faults(shifted(0.3, 0.2).design)).toEqual([]);
    expect(faults(shifted(0, 0, 0, 25).design).join()).toMatch(/pressure angle/);
  });

  it('keep the normal force of their base circles when shifted: T over rb cos βb, and free shafts take no moment about their axes', () => {
    for (const [x, y] of [
      [0, 0],
      [0.4, 0.3],
      [-0.2, 0.5],
    ]) {
      const b = shifted(x, y);
      contactsDoTheWorkOfTheRow(b);
      const f = new Forces(poseOf(compile(b.design)));
      f.velocity[0] = 1;
      f.velocity[1] = -2 / 3;
      const s = f.evaluate();
      const reaction = f.reactions();
      const normal = Math.hypot(reaction[0], reaction[1], reaction[2]);
      // sin βb = sin β cos αn; rb = r cos αt.
      const rb = (20 / Math.cos(45 * RAD)) * Math.cos(Math.atan(Math.tan(20 * RAD) / Math.cos(45 * RAD)));
      const due = Math.abs(s.input[0]) / ((rb / 1000) * Math.sqrt(1 - (Math.sin(45 * RAD) * Math.cos(20 * RAD)) ** 2));
      expect(normal / due).toBeCloseTo(1, 9);
      // The second shaft lies along y: what its load takes, the teeth give.
      expect(Math.abs(reaction[6 + 4])).toBeLessThan(1e-9);
    }
  });
});
