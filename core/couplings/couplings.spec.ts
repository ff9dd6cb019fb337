import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { Design } from '../document/index';
import { piToText } from '../math/index';
import { screwPitchDiameter } from '../elements/index';
import { Forces, loadSheet } from '../forces/index';
import { Hand } from '../motion/index';
import { compile, coordinateOf, exactRatio, poseOf } from '../kinematics/index';
import { Builder, state } from '../testing/designs';
import { beltPath, screwEfficiency, tensionLimit, wormEfficiency } from './index';

const RAD = Math.PI / 180;
const faults = (d: Design): string[] =>
  analyse(d)
    .findings.filter((f) => f.severity === 'fault')
    .map((f) => f.message);
const ratio = (d: Design, of: string, to: string): string => {
  const c = compile(d);
  return piToText(exactRatio(c.reduction, coordinateOf(c.structure, of)!.index, coordinateOf(c.structure, to)!.index)!);
};

/**
 * Row and geometry are written down apart: the row from counts and signs, the contact force from
 * the pitch point and the tooth normal. Without losses the reaction along a freedom that nothing
 * drives can only vanish if both agree, so this catches every wrong sign and every wrong arm.
 */
function contactsDoTheWorkOfTheRow(b: Builder): void {
  b.design.couplings.forEach((c) => {
    if (c.type === 'worm-drive' || c.type === 'screw-drive') state(c, { friction: 0 });
    else state(c, { efficiency: 1 });
  });
  b.weightless();
  const last = b.design.joints.at(-1)!;
  b.load('joint-load', { joint: last.id, value: 17 });
  const a = analyse(b.design);
  expect(a.findings.filter((f) => f.severity === 'fault').map((f) => f.message)).toEqual([]);
  const r = a.forces.reactions();
  const size = Math.max(...r.map(Math.abs));
  a.compiled.structure.coordinates.forEach((c, i) => {
    const along = c.motion === 'slide' ? [0, 1, 2] : [3, 4, 5];
    const axis = [0, 1, 2].map((k) => a.pose.axisNow[3 * i + k]);
    const got = along.reduce((s, k, n) => s + r[6 * i + k] * axis[n], 0);
    const slot = [...a.forces.state.inputCoordinate].indexOf(i);
    expect(Math.abs(got - (slot < 0 ? 0 : a.forces.state.input[slot]))).toBeLessThan(1e-9 * size);
  });
  expect(Math.abs(a.ledger.input - a.ledger.output)).toBeLessThan(1e-9 * Math.abs(a.ledger.input));
}

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

describe('belts and chains', () => {
  const drive = (d1: number, d2: number, C: number, more: Record<string, unknown> = {}, pulley: Record<string, unknown> = {}) => {
    const b = new Builder();
    const s1 = b.shaft([0, 0, 0]),
      s2 = b.shaft([C, 0, 0]);
    const p1 = b.element('pulley', s1.member, { diameter: d1, width: 20, ...pulley }),
      p2 = b.element('pulley', s2.member, { diameter: d2, width: 20, ...pulley });
    b.couple('belt', { wheels: [p1, p2], ...more });
    b.motor(s1.joint, 600);
    return { b, s1, s2, p2 };
  };
  const lengthOf = (b: Builder): number => compile(b.design).couplings[0].model.derived!.find((d) => d.key === 'length')!.value as number;

  // Open and crossed belt: L and θ (Shigley, eqs. 17-1 to 17-4).
  it('have the textbook length and wrap, open and crossed', () => {
    const d = 100,
      D = 300,
      C = 700;
    const open = beltPath([
      { x: 0, y: 0, r: d / 2, side: 1 },
      { x: C, y: 0, r: D / 2, side: 1 },
    ]);
    const td = Math.PI - 2 * Math.asin((D - d) / (2 * C)),
      tD = 2 * Math.PI - td;
    expect(open.wraps[0]).toBeCloseTo(td, 12);
    expect(open.wraps[1]).toBeCloseTo(tD, 12);
    expect(open.length).toBeCloseTo(Math.sqrt(4 * C * C - (D - d) ** 2) + (D * tD + d * td) / 2, 9);
    const t = Math.PI + 2 * Math.asin((D + d) / (2 * C));
    expect(lengthOf(drive(d, D, C, { crossed: true }).b)).toBeCloseTo(Math.sqrt(4 * C * C - (D + d) ** 2) + ((D + d) * t) / 2, 9);
  });
  // T1/T2 = e^(fφ): e^(0.3π) = 2.566; a 38° groove raises it to e^(0.3π / sin 19°) (Shigley, section 17-2; from memory).
  it('slip at Euler’s ratio of tensions', () => {
    expect(tensionLimit(0.3, Math.PI)).toBeCloseTo(2.566, 3);
    expect(tensionLimit(0.3, Math.PI, 38 * RAD)).toBeCloseTo(Math.exp((0.3 * Math.PI) / Math.sin(19 * RAD)), 9);
  });
  it('turn alike when open, opposite when crossed, by exact diameters, with creep', () => {
    const o = drive(100, 300, 700);
    expect(ratio(o.b.design, o.s2.joint, o.s1.joint)).toBe('1/3');
    const x = drive(100, 300, 700, { crossed: true });
    expect(ratio(x.b.design, x.s2.joint, x.s1.joint)).toBe('-1/3');
    const c = drive(100, 300, 700, { creep: 0.02 });
    expect(ratio(c.b.design, c.s2.joint, c.s1.joint)).toBe('49/150');
    contactsDoTheWorkOfTheRow(o.b);
    contactsDoTheWorkOfTheRow(x.b);
  });
  it('turn by teeth when toothed, whatever the pitch', () => {
    const b = new Builder();
    const s1 = b.shaft([0, 0, 0]),
      s2 = b.shaft([200, 0, 0]),
      s3 = b.shaft([100, 60, 0]);
    const p = (m: string, teeth: number): string => b.element('pulley', m, { form: 'sprocket', teeth, pitch: 12.7, width: 8 });
    b.couple('chain', { wheels: [p(s1.member, 17), p(s2.member, 38), p(s3.member, 15)] });
    b.motor(s1.joint);
    expect(ratio(b.design, s2.joint, s1.joint)).toBe('17/38');
    expect(ratio(b.design, s3.joint, s1.joint)).toBe('17/15');
    contactsDoTheWorkOfTheRow(b);
  });
  it('turn an idler that bears from outside the other way', () => {
    const b = new Builder();
    const s1 = b.shaft([0, 0, 0]),
      s2 = b.shaft([300, 0, 0]),
      s3 = b.shaft([150, 60, 0]);
    const p = (m: string, diameter: number): string => b.element('pulley', m, { diameter, width: 20 });
    const [p1, p2, p3] = [p(s1.member, 100), p(s2.member, 100), p(s3.member, 50)];
    b.couple('belt', { wheels: [p1, p2, p3], outside: [p3] });
    b.motor(s1.joint);
    expect(ratio(b.design, s3.joint, s1.joint)).toBe('-2');
    contactsDoTheWorkOfTheRow(b);
  });
  it('load the shafts with both strands: pull and pre-tension', () => {
    const { b } = drive(100, 100, 500, { pretension: 200, efficiency: 1 });
    b.weightless();
    b.load('joint-load', { joint: b.design.joints[1].id, value: -10 });
    const r = analyse(b.design).forces.reactions();
    // Parallel strands: half of 10/0.05 N more in one, less in the other (Shigley,
    // eq. 17-8: the mean stays the pre-tension); the shaft is pulled by their sum.
    const a = analyse(b.design);
    expect([...a.forces.state.couplings[0].strands].sort((x, y) => x - y)).toEqual([expect.closeTo(100, 6), expect.closeTo(300, 6)]);
    expect(Math.abs(r[0])).toBeCloseTo(400, 6);
  });
  it('leaves the slack strand without tension when it is not pre-tensioned', () => {
    const { b } = drive(100, 100, 500, { efficiency: 1 });
    b.weightless();
    b.load('joint-load', { joint: b.design.joints[1].id, value: -10 });
    const a = analyse(b.design);
    expect(Math.min(...a.forces.state.couplings[0].strands)).toBeCloseTo(0, 9);
    expect(Math.abs(a.forces.reactions()[0])).toBeCloseTo(200, 6);
  });
  it('say when a wheel is out of line, when wheels overlap, and when pitches differ', () => {
    const o = drive(100, 300, 700);
    o.b.design.elements.find((e) => e.id === o.p2)!.at = [0, 0, 3];
    expect(analyse(o.b.design).findings.find((f) => f.code === 'belt-out-of-line')!.message).toContain('3 mm');
    expect(faults(drive(100, 300, 90).b.design).join()).toContain('too near');
    expect(faults(drive(100, 300, 700, {}, { form: 'sprocket', teeth: 20, pitch: 12 }).b.design).join()).toContain('does not suit a belt');
  });
});

describe('screws', () => {
  // Shigley, example 8-1: square thread 32 × 4, double, f = fc = 0.08, dc = 40
  // mm, 6.4 kN: 26.18 N·m to raise, 9.77 N·m to lower, e = 0.311 (from memory).
  it('need the torque of the textbook’s jack', () => {
    const e = screwEfficiency(8, 30, 0, 0.08, 0.08, 40);
    expect((6400 * 0.008) / (2 * Math.PI * e.forward)).toBeCloseTo(26.18, 2);
    expect((-e.backward * 6400 * 0.008) / (2 * Math.PI)).toBeCloseTo(9.77, 2);
    expect(e.forward).toBeCloseTo(0.311, 3);
    expect(e.backward).toBeLessThan(0);
  });
  // ISO 2904: pitch diameters d2 = d − P/2; Tr 40 × 7 has 36.5, Tr 32 × 6 has 29, Tr 16 × 4 has 14.
  it.each([
    [40, 7, 36.5],
    [32, 6, 29],
    [16, 4, 14],
  ])('Tr %i × %i has a pitch diameter of %f mm', (d, p, d2) => {
    expect(screwPitchDiameter({ id: 'e', name: 'e', type: 'screw', member: 'm', diameter: d, pitch: p })).toBe(d2);
  });
  const jack = (hand: 'right' | 'left', turning: 'screw' | 'nut') => {
    const b = new Builder();
    const turn = b.shaft([0, 0, 0]),
      slide = b.slide([0, 0, 0], [0, 0, 1]);
    const [s, n] = turning === 'screw' ? [turn, slide] : [slide, turn];
    b.couple('screw-drive', {
      a: b.element('screw', s.member, { diameter: 20, pitch: 4, starts: 2, hand, length: 200 }),
      b: b.element('nut', n.member, { outside: 40, bore: 20, length: 30 }),
    });
    b.motor(turn.joint);
    return { b, turn, slide };
  };
  it('carry the other part by lead and hand, whichever of the two turns', () => {
    // A right-hand screw turning + without travelling draws its nut to −z;
    // a nut turning + drives its screw to −(−z)… by the same relation.
    for (const [hand, turning, want] of [
      ['right', 'screw', '-8'],
      ['left', 'screw', '8'],
      ['right', 'nut', '-8'],
      ['left', 'nut', '8'],
    ] as const) {
      const { b, turn, slide } = jack(hand, turning);
      expect(ratio(b.design, slide.joint, turn.joint)).toBe(want);
      contactsDoTheWorkOfTheRow(b);
    }
  });
  it('balance power with friction in both senses', () => {
    for (const speed of [60, -60]) {
      const { b, slide } = jack('right', 'screw');
      b.design.sources[0].speed = speed;
      b.load('joint-load', { joint: slide.joint, value: -2000 });
      const l = analyse(b.design).ledger;
      expect(Math.abs(l.input - l.output - l.loss)).toBeLessThan(1e-9 * (Math.abs(l.input) + l.loss));
    }
  });
  it('are refused off their axis', () => {
    const { b } = jack('right', 'screw');
    b.design.elements[1].at = [1, 0, 0];
    expect(faults(b.design).join()).toContain('not on one axis');
  });
});

describe('rolling and proportional motion', () => {
  it('a wheel on a fixed track carries its axle π d per turn', () => {
    const b = new Builder();
    const car = b.slide([0, 0, 0], [1, 0, 0]),
      axle = b.shaft([0, 0, 0], car.member, { axis: [0, 1, 0] });
    b.couple('rolling', {
      a: b.element('wheel', axle.member, { diameter: 100, width: 20 }),
      b: b.element('track', 'frame', { length: 1000, width: 40, height: 30, at: [0, 0, -50], axis: [0, -1, 0], up: [1, 0, 0] }),
    });
    b.motor(car.joint, 10);
    const r = ratio(b.design, axle.joint, car.joint);
    expect(r).toMatch(/^-?1\/\(100π\)$/);
    contactsDoTheWorkOfTheRow(b);
  });
  /**
   * An arm about a post that carries an axle with a wheel of 100 mm,
   * 30° on; the wheel runs on top of a curved rail or hangs below it.
   */
  const turntable = (o: { radius: number; side?: 1 | -1; over?: 1 | -1; length?: number; off?: number; skew?: number; way?: 1 | -1 }) => {
    const { radius, side = 1, over = 1, length = radius, off = 0, skew = 0, way = 1 } = o;
    const b = new Builder();
    const post = b.shaft([0, 0, 70]);
    const out = (angle: number): [number, number, number] => [Math.cos(angle * RAD), Math.sin(angle * RAD), 0];
    const [x, y] = out(30).map((c) => c * (radius + off));
    const axle = b.shaft([x, y, 0], post.member, { axis: out(30 + skew).map((c) => way * c) as [number, number, number], up: [0, 0, 1] });
    const [tx, ty] = out(0).map((c) => c * radius);
    b.couple('rolling', {
      a: b.element('wheel', axle.member, { diameter: 100, width: 20 }),
      // The running face looks to the wheel; the track's own z to the post, or away from it where the radius is negative.
      b: b.element('track', 'frame', {
        length,
        width: 40,
        height: 30,
        curve: side * radius,
        at: [tx, ty, -50 * over],
        axis: [-side, 0, 0],
        up: [0, -side * over, 0],
      }),
    });
    b.motor(post.joint, 10);
    return { b, post, axle };
  };
  it('a wheel on a curve turns by the radius over its own, exactly, on either side of it and in whatever sense axes point', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 200, max: 9000 }),
        fc.constantFrom(1 as const, -1 as const),
        fc.constantFrom(1 as const, -1 as const),
        fc.constantFrom(1 as const, -1 as const),
        (radius, side, over, way) => {
          const { b, post, axle } = turntable({ radius, side, over, way, length: radius * 2 });
          expect(analyse(b.design).findings.filter((f) => f.severity !== 'note' && f.code !== 'engagement-open')).toEqual([]);
          const r = ratio(b.design, axle.joint, post.joint);
          expect(Math.abs(Number(r.split('/')[0]) / Number(r.split('/')[1] ?? 1))).toBeCloseTo(radius / 50, 12);
          // Rolling: the post turns about +z, so the arm moves to the left of
          // where it points; the touching point of the wheel stands still.
          expect(Math.sign(parseFloat(r))).toBe(-over * way);
          contactsDoTheWorkOfTheRow(b);
        },
      ),
      { numRuns: 24 },
    );
  });
  it('a wheel askew in its curve rolls by what lies along its axis, and it is said that it slides; beside the rail it rolls on nothing', () => {
    const said = (o: Parameters<typeof turntable>[0]): string[] => analyse(turntable(o).b.design).findings.map((f) => f.code);
    expect(said({ radius: 1000 })).not.toContain('askew-in-curve');
    const skew = analyse(turntable({ radius: 1000, skew: 5 }).b.design).findings.find((f) => f.code === 'askew-in-curve');
    expect(skew?.message).toContain('5° askew');
    expect(said({ radius: 1000, off: 25 })).not.toContain('beside-track');
    expect(said({ radius: 1000, off: 35 })).toContain('beside-track');
    const tilted = turntable({ radius: 1000 });
    tilted.b.design.members.find((m) => m.id === tilted.axle.member)!.axis = [1, 0, 1];
    expect(faults(tilted.b.design).join()).toContain('point to the middle of its curve');
    const rail = (more: object): string => {
      const { b } = turntable({ radius: 1000 });
      Object.assign(b.design.elements[1], more);
      return faults(b.design).join();
    };
    expect(rail({ curve: 15 })).toContain('wider than its curve');
    expect(rail({ length: 7000 })).toContain('once round its curve are 6283.19 mm');
  });
  it('a curved track ends where it ends: 1500 mm of 1000 mm radius are 85.94°, half of it each way from its middle; a closed one never', () => {
    for (const side of [1, -1] as const) {
      const { b, post } = turntable({ radius: 1000, side, length: 1500 });
      const a = analyse(b.design);
      const way = new Hand(a.pose).interval(a.compiled.structure.firstOf.get(post.joint)!);
      // The wheel stands 30° on from the middle of the track.
      expect(way.upper!.at * 360).toBeCloseTo(0.75 / RAD - 30, 6);
      expect(way.lower!.at * 360).toBeCloseTo(-0.75 / RAD - 30, 6);
      expect(way.upper!.leaves).toContain('the track of 1500 mm');
    }
    const ring = analyse(turntable({ radius: 1000, length: 2 * Math.PI * 1000 }).b.design);
    expect(ring.findings.map((f) => f.code)).not.toContain('engagement-open');
  });
  it('two wheels turn by their diameters, opposite', () => {
    const b = new Builder();
    const s1 = b.shaft([0, 0, 0]),
      s2 = b.shaft([60, 0, 0]);
    b.couple('rolling', {
      a: b.element('wheel', s1.member, { diameter: 40, width: 20 }),
      b: b.element('wheel', s2.member, { diameter: 80, width: 20 }),
    });
    b.motor(s1.joint);
    expect(ratio(b.design, s2.joint, s1.joint)).toBe('-1/2');
    contactsDoTheWorkOfTheRow(b);
  });
  const dials = (amountB: number | string, more = {}) => {
    const b = new Builder();
    const knob = b.shaft([0, 0, 0]),
      pointer = b.shaft([50, 0, 0]),
      slide = b.slide([0, 50, 0], [1, 0, 0]),
      slide2 = b.slide([0, 90, 0], [1, 0, 0]);
    b.couple('proportional', { a: knob.joint, amountA: 1, b: pointer.joint, amountB, ...more });
    b.couple('proportional', { a: knob.joint, amountA: 1, b: slide.joint, amountB: 8 });
    b.couple('proportional', { a: slide.joint, amountA: 1, b: slide2.joint, amountB: 1.6 });
    b.motor(knob.joint);
    return { b, knob, pointer, slide, slide2 };
  };
  it('ties turn to turn, turn to travel and travel to travel exactly', () => {
    const d = dials(3.2);
    expect(ratio(d.b.design, d.pointer.joint, d.knob.joint)).toBe('16/5');
    expect(ratio(d.b.design, d.slide.joint, d.knob.joint)).toBe('8');
    expect(ratio(d.b.design, d.slide2.joint, d.knob.joint)).toBe('64/5');
    expect(ratio(d.b.design, d.knob.joint, d.slide.joint)).toBe('1/8');
    const r = dials('1/3', { reversed: true });
    expect(ratio(r.b.design, r.pointer.joint, r.knob.joint)).toBe('-1/3');
    contactsDoTheWorkOfTheRow(d.b);
  });
  it('says what it does in a sentence', () => {
    const d = dials(3.2);
    expect(compile(d.b.design).couplings[1].model.derived![0].value).toContain('moves');
    expect(compile(d.b.design).couplings[1].model.derived![0].value).toContain('8 mm');
  });
  it('stands off by its offset while the first is at zero', () => {
    const d = dials(2, { offset: 0.25 });
    const a = analyse(d.b.design);
    a.pose.solve([0], [2 * Math.PI]);
    expect(a.pose.q[1] / (2 * Math.PI)).toBeCloseTo(2.25, 12);
  });
});

describe('a loop of a rack and a screw', () => {
  it('mixes powers of π, so it is solved in floating point and stays consistent', () => {
    const b = new Builder();
    const turn = b.shaft([0, 0, 0]),
      slide = b.slide([0, 0, 0], [0, 0, 1]),
      p = b.shaft([20, 0, 0], 'frame', { axis: [0, 1, 0] });
    b.couple('screw-drive', {
      a: b.element('screw', turn.member, { diameter: 20, pitch: 4, length: 200 }),
      b: b.element('nut', slide.member, { outside: 30, bore: 20, length: 30 }),
    });
    b.couple('rack-mesh', {
      a: b.gear(p.member, 20, 1),
      b: b.element('rack', slide.member, { teeth: 60, module: 1, width: 10, height: 6, at: [10, 0, 0], axis: [0, -1, 0], up: [0, 0, 1] }),
    });
    b.couple('proportional', { a: turn.joint, amountA: 1, b: p.joint, amountB: 0.0637 });
    b.motor(turn.joint);
    const a = analyse(b.design);
    expect(a.compiled.reduction.mixed.length).toBe(1);
    expect(a.freedoms).toBe(0);
  });
});
