import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { compile, stopsOf, poseOf } from '../kinematics/index';
import { Hand } from '../motion/index';
import { toNumber } from '../math/index';
import { Builder, item } from '../testing/designs';
import { Forces, mechanicalAdvantage, nominalVelocities, reactionAt, torqueAt } from './index';

const codes = (b: Builder): string[] => analyse(b.design).findings.map((f) => f.code);

describe('circulating power in a closed epicyclic train', () => {
  /** Sun and ring of a set both tied to the input, the ring by `b` turns for one, backwards; the arm is the output. */
  function closed(b: number, efficiency: number) {
    const d = new Builder().weightless();
    const zs = 30,
      zp = 30,
      zr = 90;
    const sun = d.shaft([0, 0, 0]),
      ring = d.shaft([0, 0, 0]),
      arm = d.shaft([0, 0, 0]),
      planet = d.shaft([30, 0, 0], arm.member);
    const p = d.gear(planet.member, zp);
    d.mesh(d.gear(sun.member, zs), p);
    d.mesh(p, d.gear(ring.member, zr, 1, { internal: true, rim: 100 }));
    d.couple('proportional', { a: sun.joint, amountA: 1, b: ring.joint, amountB: b, reversed: true, efficiency });
    d.motor(sun.joint, 600);
    d.load('joint-load', { joint: arm.joint, value: b * 3 > 1 ? 40 : -40 });
    return analyse(d.design);
  }

  it('flows through the by-pass as i·b/(1 + i·b) of what comes out', () => {
    // Müller, Epicyclic Drive Trains; Macmillan, Power flow in closed epicyclic trains
    // (from memory): torques sun : ring : arm = 1 : i : −(1 + i), i = zr/zs = 3.
    const b = 0.4;
    const a = closed(b, 1);
    const out = Math.abs(a.ledger.output);
    const bypass = a.ledger.couplings[2];
    const power = Math.abs((bypass.loads[1] * bypass.speeds[1] * Math.PI) / 30);
    expect(power / out).toBeCloseTo(Math.abs((3 * -b) / (1 + 3 * -b)), 9);
    expect(power / out).toBeCloseTo(6, 9);
    expect(a.ledger.input).toBeCloseTo(out, 9);
  });

  it('loses by what circulates: 2 % of six times the power', () => {
    const a = closed(0.4, 0.98);
    expect(a.ledger.efficiency).toBeCloseTo(1 / (6 / 0.98 - 5), 9);
    expect(a.ledger.input - a.ledger.output - a.ledger.loss).toBeCloseTo(0, 9);
  });
});

describe('the working point of a torque-speed line', () => {
  function motor(load: number, fields: object) {
    const b = new Builder().weightless();
    const m = b.shaft([0, 0, 0]),
      out = b.shaft([60, 0, 0]);
    b.mesh(b.gear(m.member, 20, 2), b.gear(out.member, 40, 2, { phase: 4.5 }), { efficiency: 0.9 });
    b.design.sources.push(item({ id: 'm', name: 'Motor', joint: m.joint, type: 'torque-line', stall: 6, noLoad: 1500, ...fields }));
    b.load('joint-load', { joint: out.joint, value: load });
    return b;
  }
  it('lies where line and load meet', () => {
    // The load of 7.2 N·m asks 7.2/2/0.9 = 4 N·m of the motor; its line gives that at a third of 1 500 rev/min.
    const a = analyse(motor(7.2, {}).design);
    expect(a.ledger.sources[0].load).toBeCloseTo(4, 8);
    expect(a.ledger.sources[0].speed).toBeCloseTo(500, 5);
    expect(a.ledger.lines[1].speed).toBeCloseTo(-250, 5);
  });
  it('follows a line stated by points', () => {
    const line = [
      { speed: 0, torque: 5 },
      { speed: 900, torque: 7 },
      { speed: 1500, torque: 0 },
    ];
    expect(analyse(motor(7.2, { line }).design).ledger.sources[0].speed).toBeCloseTo(900 + (600 * 3) / 7, 5);
    expect(torqueAt(motor(0, { line }).design.sources[0], (450 * Math.PI) / 30, false)).toBeCloseTo(6, 9);
  });
  it('says when the motor stalls, with what it needs', () => {
    const b = motor(12, {});
    expect(codes(b)).toContain('motor-stalls');
    expect(analyse(b.design).findings.find((f) => f.code === 'motor-stalls')!.message).toMatch(/6\.667 N·m/);
  });
  it('finds the speed at which a power source turns its load, and none for a torque that is too large at every speed', () => {
    const b = motor(7.2, { type: 'power', power: 100, speed: 300, stall: undefined, noLoad: undefined });
    const a = analyse(b.design);
    expect((a.ledger.sources[0].speed * Math.PI) / 30).toBeCloseTo(25, 5);
    const c = motor(7.2, { type: 'torque', torque: 9, speed: 300, stall: undefined, noLoad: undefined });
    expect(codes(c)).toContain('no-steady-speed');
  });
  it('speeds up until damping takes what is spare', () => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]);
    b.design.sources.push(item({ id: 't', name: 'Torque', joint: s.joint, type: 'torque', torque: 3, speed: 60 }));
    b.load('joint-spring', { joint: s.joint, rate: 0, damping: 0.002 });
    // 3 N·m against 0.002 N·m·s/deg: 1 500 deg/s = 250 rev/min.
    expect(analyse(b.design).ledger.sources[0].speed).toBeCloseTo(250, 4);
  });
});

describe('what holds when the source lets go', () => {
  const gate = (friction: number) => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]),
      n = b.slide([0, 0, 0], [0, 0, 1]);
    b.couple('screw-drive', {
      a: b.element('screw', s.member, { diameter: 32, pitch: 6, length: 300 }),
      b: b.element('nut', n.member, { outside: 60, bore: 32, length: 50 }),
      friction,
    });
    b.motor(s.joint, 60);
    b.load('joint-load', { joint: n.joint, value: -900 });
    return b;
  };
  it('is the screw itself where friction locks it, and the torque needed where it does not', () => {
    expect(analyse(gate(0.12).design).holding).toMatchObject([{ by: 'self-locking', needed: 0 }]);
    const free = analyse(gate(0.02).design).holding[0];
    expect(free.by).toBe('runs-back');
    // Lowering torque: F d2/2 (l − π f d2 sec α)/(π d2 + f l sec α), Shigley eq. 8-2 turned round; thread of 30° flanks.
    const d2 = 29,
      sec = 1 / Math.cos((15 * Math.PI) / 180);
    expect(free.needed).toBeCloseTo((900 * 0.029 * 0.5 * (6 - Math.PI * 0.02 * d2 * sec)) / (Math.PI * d2 + 0.02 * 6 * sec), 6);
  });
  it('is the pawl where there is one, and nothing where nothing pushes', () => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]);
    b.motor(s.joint);
    expect(analyse(b.design).holding).toMatchObject([{ by: 'balanced' }]);
    b.couple('ratchet', {
      a: b.element('ratchet-wheel', s.member, { teeth: 20, diameter: 100, width: 10 }),
      b: b.element('pawl', 'frame', { length: 40, width: 10 }),
    });
    b.load('joint-load', { joint: s.joint, value: -5 });
    expect(analyse(b.design).holding).toMatchObject([{ by: 'pawl', coupling: b.design.couplings[0].id }]);
  });
});

describe('mechanical advantage', () => {
  it('of a toggle grows without bound towards its dead point: 1/(2 tan θ) by the closed form', () => {
    // Two equal links, pushed at the knee; Norton, Design of Machinery,
    // section 6.5: at angle θ from the line, force out/in = 1/(2 tan θ).
    const b = new Builder().weightless();
    const link = b.shaft([0, 0, 0]),
      other = b.shaft([100, 0, 0], link.member),
      slide = b.slide([200, 0, 0], [1, 0, 0], 'frame', { up: [0, 1, 0] });
    b.joint('revolute', other.member, slide.member, { axis: [0, 1, 0] });
    b.motor(link.joint, 1);
    const m = poseOf(compile(b.design));
    const out = m.compiled.structure.coordinates.findIndex((c) => c.joint.id === slide.joint);
    for (const theta of [0.4, 0.2, 0.05]) {
      expect(m.solve([0], [theta])).toBe('ok');
      // A push P at the knee is a torque P·l·cos θ on the link.
      expect(Math.abs(mechanicalAdvantage(m, 0, out)!) * 0.1 * Math.cos(theta)).toBeCloseTo(1 / (2 * Math.tan(theta)), 6);
    }
    expect(mechanicalAdvantage(m, out, 0)).toBeCloseTo(1 / mechanicalAdvantage(m, 0, out)!, 9);
  });
});

describe('reactions', () => {
  it('are equal and opposite on either member, in whichever frame they are asked for', () => {
    const b = new Builder();
    const one = b.shaft([0, 0, 0], 'frame', { axis: [0, 1, 0] }),
      two = b.shaft([80, 0, 0], one.member, { axis: [0, 1, 0] });
    for (const s of [one, two]) b.element('block', s.member, { length: 100, depth: 20, height: 20, at: [30, 0, 0] });
    b.motor(one.joint);
    b.motor(two.joint);
    const m = poseOf(compile(b.design)),
      f = new Forces(m);
    m.solve([0, 1], [0.5, 0.8]);
    nominalVelocities(m, f.velocity);
    f.evaluate();
    const on = reactionAt(f, two.joint, 'child')!,
      back = reactionAt(f, two.joint, 'parent')!,
      own = reactionAt(f, two.joint, 'child', two.member)!;
    on.force.forEach((v, k) => expect(v + back.force[k]).toBeCloseTo(0, 12));
    expect(Math.hypot(...own.force)).toBeCloseTo(Math.hypot(...on.force), 12);
    expect(own.force[0]).not.toBeCloseTo(on.force[0], 3);
    expect(Math.hypot(...on.force)).toBeCloseTo(f.bodyMass(2).mass * 9.80665, 9);
  });
});

describe('a support left free', () => {
  it('is named: it would turn where the wheel should', () => {
    const b = new Builder().weightless();
    const arm = b.shaft([0, 0, 0], 'frame', { name: 'Bracket' }),
      sun = b.shaft([0, 0, 0]),
      wheel = b.shaft([30, 0, 0], arm.member);
    b.mesh(b.gear(sun.member, 20), b.gear(wheel.member, 40, 1, { phase: 4.5 }));
    b.motor(sun.joint);
    const f = analyse(b.design).findings.find((x) => x.code === 'support-left-free')!;
    expect(f.message).toMatch(/Bracket/);
    expect(f.ids[0]).toBe(arm.member);
  });
  it('is not said of carriers that are driven or held', () => {
    const b = new Builder().weightless();
    const sun = b.shaft([0, 0, 0]),
      wheel = b.shaft([30, 0, 0]);
    b.mesh(b.gear(sun.member, 20), b.gear(wheel.member, 40, 1, { phase: 4.5 }));
    b.motor(sun.joint);
    expect(codes(b)).not.toContain('support-left-free');
  });
});

describe('carriers in a ring', () => {
  it('are named instead of being called unsupported one by one', () => {
    const b = new Builder();
    const one = b.member([0, 0, 0]),
      two = b.member([50, 0, 0]);
    b.joint('revolute', two, one);
    b.joint('revolute', one, two);
    expect(codes(b)).toContain('carriers-in-a-ring');
  });
});

describe('stops from faces', () => {
  /** A plate on a slide between a floor and a lintel. */
  function gate(height: number) {
    const b = new Builder().weightless();
    const s = b.slide([0, 0, 0], [0, 0, 1], 'frame', { up: [1, 0, 0] });
    const plate = b.element('block', s.member, { length: 100, depth: 20, height, at: [0, 0, height / 2] });
    const lintel = b.element('block', 'frame', { length: 200, depth: 20, height: 40, at: [0, 0, 500] });
    const sill = b.element('block', 'frame', { length: 200, depth: 20, height: 40, at: [0, 0, -40] });
    b.design.joints[0].upperFaces = [`${plate}:+z`, `${lintel}:-z`];
    b.design.joints[0].lowerFaces = [`${sill}:+z`, `${plate}:-z`];
    b.motor(s.joint, 10);
    return b;
  }
  const stops = (b: Builder): number[] => {
    const c = compile(b.design);
    const { lower, upper } = stopsOf(c.structure.coordinates[0]);
    return [toNumber(lower!), toNumber(upper!)];
  };
  it('lie where the faces meet, and follow when the plate is made taller', () => {
    expect(stops(gate(300))).toEqual([-20, 180]);
    expect(stops(gate(350))).toEqual([-20, 130]);
    const hand = new Hand(poseOf(compile(gate(350).design)));
    expect(hand.move(0, 1)).toMatchObject({ held: { which: 'upper' } });
    expect(hand.pose.q[0]).toBeCloseTo(0.13, 9);
  });
  it('hold a turning lever flush against a rest', () => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]);
    const arm = b.element('block', s.member, { length: 200, depth: 20, height: 10, at: [100, 0, 0] });
    const rest = b.element('block', 'frame', { length: 20, depth: 200, height: 10, at: [-20, 100, 0] });
    // The arm's left side meets the rest's right face after a quarter turn, 10 mm from the axis both.
    b.design.joints[0].upperFaces = [`${arm}:+y`, `${rest}:+x`];
    b.motor(s.joint);
    const c = compile(b.design);
    expect(c.findings).toEqual([]);
    expect(toNumber(stopsOf(c.structure.coordinates[0]).upper!) * 360).toBeCloseTo(90, 9);
  });
  it('say what keeps faces from meeting', () => {
    const b = gate(300);
    b.design.joints[0].upperFaces = [`${b.design.elements[0].id}:+x`, `${b.design.elements[1].id}:-z`];
    expect(codes(b)).toContain('stop-faces-miss');
    b.design.joints[0].upperFaces = ['nothing:+x', `${b.design.elements[1].id}:-z`];
    expect(codes(b)).toContain('stop-faces-missing');
    b.design.joints[0].upperFaces = [`${b.design.elements[2].id}:+z`, `${b.design.elements[1].id}:-z`];
    expect(codes(b)).toContain('stop-faces-members');
    // A side that an element has not, and one face alone.
    for (const faces of [[`${b.design.elements[0].id}:+w`, `${b.design.elements[1].id}:-z`], [`${b.design.elements[0].id}:+z`]]) {
      b.design.joints[0].upperFaces = faces;
      expect(compile(b.design).findings.map((f) => f.code)).toContain('stop-faces-missing');
    }
  });
});

describe('a change of branch', () => {
  it('turns the solver’s determinant round when a slider-crank is carried over its dead point the other way', () => {
    const b = new Builder().weightless();
    const crank = b.shaft([0, 0, 0]),
      rod = b.shaft([60, 0, 0], crank.member),
      slide = b.slide([260, 0, 0], [1, 0, 0], 'frame', { up: [0, 1, 0] });
    b.joint('revolute', rod.member, slide.member, { axis: [0, 1, 0] });
    b.design.joints.at(-1)!.axis = [0, 1, 0];
    b.motor(crank.joint, 60);
    const m = poseOf(compile(b.design));
    const slider = m.compiled.structure.coordinates.findIndex((c) => c.joint.id === slide.joint);
    m.solve([0], [1]);
    m.solve([slider], [m.q[slider] - 0.001]);
    const one = m.branch;
    m.solve([0], [-1]);
    m.solve([slider], [m.q[slider] - 0.001]);
    expect(one).not.toBe(0);
    expect(m.branch).toBe(-one);
  });
});

describe('differentials and loads', () => {
  it('a spur differential: both suns together turn twice the carrier', () => {
    // Two planets that mesh with each other, each with one sun; every textbook of mechanisms: n1 + n2 = 2 nc.
    const b = new Builder().weightless();
    const one = b.shaft([0, 0, 0]),
      two = b.shaft([0, 0, 0]),
      cage = b.shaft([0, 0, 0]);
    const p = b.shaft([20, 0, 0], cage.member),
      q = b.shaft([10, 10 * Math.sqrt(3), 0], cage.member);
    const gp = b.gear(p.member, 20, 1, { width: 20, at: [0, 0, -5] }),
      gq = b.gear(q.member, 20, 1, { width: 20, at: [0, 0, 5] });
    b.mesh(b.gear(one.member, 20, 1, { width: 10, at: [0, 0, -10] }), gp);
    b.mesh(gp, gq);
    b.mesh(gq, b.gear(two.member, 20, 1, { width: 10, at: [0, 0, 10] }));
    b.motor(cage.joint, 100);
    b.motor(one.joint, 130);
    const a = analyse(b.design);
    expect(a.freedoms).toBe(2);
    expect(a.findings.filter((f) => f.severity === 'fault')).toEqual([]);
    expect(a.ledger.lines.find((l) => l.member === two.member)!.speed).toBeCloseTo(70, 9);
  });

  it('a force that stays turns its lever’s torque with the pose; one that follows keeps it', () => {
    const torque = (follows: boolean, q: number): number => {
      const b = new Builder().weightless();
      const s = b.shaft([0, 0, 0]);
      b.motor(s.joint);
      b.load('force', { member: s.member, at: [200, 0, 0], force: [0, -50, 0], follows });
      const m = poseOf(compile(b.design)),
        f = new Forces(m);
      m.solve([0], [q]);
      return f.evaluate().input[0];
    };
    for (const q of [0, 0.5, 1.2, 3]) {
      expect(torque(false, q)).toBeCloseTo(10 * Math.cos(q), 9);
      expect(torque(true, q)).toBeCloseTo(10, 9);
    }
  });

  it('weight acts along whatever direction is set', () => {
    const b = new Builder();
    b.design.settings = { gravity: [3, 0, -4] };
    const s = b.slide([0, 0, 0], [1, 0, 0], 'frame', { mass: 2, massCentre: [0, 0, 0], inertia: [0, 0, 0], up: [0, 0, 1] });
    b.motor(s.joint, 10);
    const f = new Forces(poseOf(compile(b.design)));
    expect(f.evaluate().input[0]).toBeCloseTo(-6, 12);
    // The guide carries the rest.
    expect(f.reactions().slice(0, 3)[2]).toBeCloseTo(8, 12);
  });
});
