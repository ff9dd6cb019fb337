import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { Forces } from '../forces/index';
import { Builder } from '../testing/designs';
import { sliderCrank } from '../testing/mechanisms';
import { compile, poseOf } from './index';
import { Hand } from '../motion/index';
import { PLACEMENT, type Vec3, frameOf, toWorldPoint, toWorldVector } from '../math/index';

const RAD = Math.PI / 180;

describe('slider-crank', () => {
  const r = 50,
    l = 200,
    theta0 = 40 * RAD;
  const { b } = sliderCrank(r, l, theta0);
  const m = poseOf(compile(b.design));
  const place = (t: number): number => r * Math.cos(t) + Math.sqrt(l * l - (r * Math.sin(t)) ** 2);

  it('has one freedom and closes its loop with the rows of a plane', () => {
    expect(analyse(b.design).freedoms).toBe(1);
    expect(m.kinematics.closureRowCount).toBe(3);
  });
  // x = r cos θ + √(l² − r² sin² θ), its derivatives (every text on engines; e.g. Norton, Design of Machinery, section 13.2).
  it('stands, moves and accelerates as the closed form says, all the way round', () => {
    const slider = m.compiled.structure.firstOf.get('j4') ?? m.compiled.structure.coordinates.findIndex((c) => c.motion === 'slide');
    const f = new Forces(m),
      free = new Float64Array(m.kinematics.freeCount);
    const x0 = place(theta0);
    for (let k = 0; k <= 24; k++) {
      const t = theta0 + (k * 15 + 1) * RAD;
      expect(m.solve([0], [t - theta0])).toBe('ok');
      expect(m.q[slider] * 1000).toBeCloseTo(place(t) - x0, 9);
      const w = 3;
      m.rates([0], [w], free);
      m.spreadRates(free, f.velocity);
      const s = Math.sin(t),
        c = Math.cos(t),
        q = Math.sqrt(l * l - r * r * s * s);
      const dx = -r * s - (r * r * s * c) / q;
      expect(f.velocity[slider] * 1000).toBeCloseTo(w * dx, 8);
      f.accelerate([0], [0.7], free);
      const ddx = -r * c - (r * r * (c * c - s * s)) / q - (r ** 4 * s * s * c * c) / q ** 3;
      expect(f.acceleration[slider] * 1000).toBeCloseTo(w * w * ddx + 0.7 * dx, 7);
    }
  });
  // Virtual work: T = F dx/dθ.
  it('needs the crank torque that virtual work gives, and the pins balance', () => {
    const { b: loaded } = sliderCrank(r, l, theta0);
    loaded.load('force', { member: 'slider', force: [-1000, 0, 0] });
    const mm = poseOf(compile(loaded.design));
    const f = new Forces(mm);
    mm.solve([0], [30 * RAD]);
    const t = theta0 + 30 * RAD,
      s = Math.sin(t),
      c = Math.cos(t);
    const dx = (-r * s - (r * r * s * c) / Math.sqrt(l * l - r * r * s * s)) / 1000;
    const state = f.evaluate();
    expect(state.input[0]).toBeCloseTo(1000 * dx, 8);
    expect(state.remainder).toBeLessThan(1e-9);
    // The rod carries F / cos β along itself; the guide takes F tan β across.
    const beta = Math.asin((r * Math.sin(t)) / l);
    const R = f.reactions(),
      at = 6 * mm.compiled.structure.coordinates.findIndex((x) => x.joint.child === 'rod');
    expect(Math.hypot(R[at], R[at + 1])).toBeCloseTo(1000 / Math.cos(beta), 6);
  });
  it('does not reach beyond its dead points', () => {
    const hand = new Hand(m);
    const slider = m.compiled.structure.coordinates.find((c) => c.motion === 'slide')!.index;
    m.solve([0], [20 * RAD]);
    const to = hand.move(slider, 1);
    expect(to.blocked).toBeDefined();
    expect(to.value * 1000).toBeCloseTo(r + l - place(theta0), 2);
  });
  it('names its dead centres as ends of the slider’s way, at the pin where crank and rod come into line; the crank itself has none', () => {
    const hand = new Hand(poseOf(m.compiled));
    const { coordinates } = m.compiled.structure;
    const slider = coordinates.find((c) => c.motion === 'slide')!.index;
    const { lower, upper } = hand.interval(slider);
    expect(upper!.at).toBeCloseTo(r + l - place(theta0), 4);
    expect(lower!.at).toBeCloseTo(l - r - place(theta0), 4);
    expect([lower!.dead, upper!.dead]).toEqual(['dead-point', 'dead-point']);
    expect(upper!.joint).toBe(coordinates.find((c) => c.joint.child === 'rod')!.joint.id);
    expect(Math.abs(upper!.own * 2 * Math.PI)).toBeCloseTo(theta0 + Math.asin((r * Math.sin(theta0)) / l), 3);
    expect(hand.move(slider, 1)).toMatchObject({ held: { joint: upper!.joint, dead: 'dead-point' } });
    expect(hand.interval(0)).toEqual({});
  });
});

describe('four-bar linkage', () => {
  /** Ground g along x, crank a, coupler b, rocker c; crank at θ; the open branch. */
  const rocker = (g: number, a: number, bb: number, c: number, t: number): number => {
    // Freudenstein's equation solved for the output angle (Norton, Design of Machinery, eqs. 4.8 and 4.10).
    const k1 = g / a,
      k2 = g / c,
      k3 = (a * a - bb * bb + c * c + g * g) / (2 * a * c);
    const A = Math.cos(t) - k1 - k2 * Math.cos(t) + k3,
      B = -2 * Math.sin(t),
      C = k1 - (k2 + 1) * Math.cos(t) + k3;
    return 2 * Math.atan2(-B - Math.sqrt(B * B - 4 * A * C), 2 * A);
  };
  it('follows Freudenstein’s equation through a whole turn of the crank', () => {
    const [g, a, bb, c] = [100, 30, 90, 60];
    const t0 = 50 * RAD,
      psi0 = rocker(g, a, bb, c, t0);
    const b = new Builder().weightless();
    const A: [number, number, number] = [a * Math.cos(t0), a * Math.sin(t0), 0],
      B: [number, number, number] = [g + c * Math.cos(psi0), c * Math.sin(psi0), 0];
    const crank = b.shaft([0, 0, 0]),
      coupler = b.shaft(A, crank.member),
      out = b.shaft([g, 0, 0]);
    b.joint('revolute', coupler.member, out.member, { at: [B[0] - g, B[1], 0] });
    b.motor(crank.joint);
    expect(Math.hypot(B[0] - A[0], B[1] - A[1])).toBeCloseTo(bb, 9);
    const m = poseOf(compile(b.design));
    const i = m.compiled.structure.firstOf.get(out.joint)!;
    for (let k = 1; k <= 72; k++) {
      expect(m.solve([0], [k * 5 * RAD])).toBe('ok');
      const psi = rocker(g, a, bb, c, t0 + k * 5 * RAD);
      const d = m.q[i] - (psi - psi0);
      expect(Math.abs(Math.atan2(Math.sin(d), Math.cos(d)))).toBeLessThan(1e-9);
    }
    expect(analyse(b.design).freedoms).toBe(1);
  });
});

describe('joints that close loops', () => {
  it('a pin in a slot makes a yoke: x = r sin θ exactly', () => {
    const b = new Builder().weightless();
    const crank = b.shaft([0, 0, 0]),
      yoke = b.slide([0, 0, 0], [1, 0, 0]);
    // The slot runs along y in the yoke; the pin is fast on the crank 40 mm out, pointing along z.
    b.joint('pin-in-slot', yoke.member, crank.member, { at: [0, 40, 0], axis: [0, 0, 1], up: [0, 1, 0] });
    b.motor(crank.joint);
    const m = poseOf(compile(b.design));
    for (let k = 1; k < 36; k++) {
      expect(m.solve([0], [k * 10 * RAD])).toBe('ok');
      expect(m.q[1] * 1000).toBeCloseTo(-40 * Math.sin(k * 10 * RAD), 9);
    }
    expect(analyse(b.design).freedoms).toBe(1);
  });
  it('spherical joints at both ends of a rod leave it free to spin: one freedom more, named', () => {
    const b = new Builder().weightless();
    const crank = b.shaft([0, 0, 0]),
      slide = b.slide([150, 0, 0], [1, 0, 0]);
    const rod = b.member([0, 50, 0], { name: 'Rod' });
    b.joint('spherical', crank.member, rod);
    b.joint('spherical', rod, slide.member);
    b.motor(crank.joint);
    const a = analyse(b.design);
    expect(a.freedoms).toBe(2);
    expect(a.findings.find((f) => f.code === 'freedom-undriven')!.message).toContain('“Rod”');
  });
  it('a cylindrical and a screw joint closing a loop move as a jack does', () => {
    const b = new Builder().weightless();
    const spindle = b.shaft([0, 0, 0]),
      table = b.slide([0, 0, 0], [0, 0, 1]);
    b.joint('screw', spindle.member, table.member, { lead: 5 });
    b.motor(spindle.joint);
    const m = poseOf(compile(b.design));
    expect(m.solve([0], [2 * Math.PI * 7.5])).toBe('ok');
    // Right hand: the table does not turn, so against the spindle it has turned −7.5 times and travels −37.5 mm.
    expect(m.q[1] * 1000).toBeCloseTo(-37.5, 8);
    expect(analyse(b.design).freedoms).toBe(1);
  });
  it('counts by rank where counting formulas fail: a parallelogram with a third, parallel bar still moves', () => {
    const b = new Builder().weightless();
    const bars = [0, 40, 100].map((x) => b.shaft([x, 0, 0]));
    const top = b.shaft([0, 50, 0], bars[0].member);
    b.joint('revolute', bars[1].member, top.member, { at: [40, 0, 0] });
    b.joint('revolute', bars[2].member, top.member, { at: [100, 0, 0] });
    b.motor(bars[0].joint);
    const a = analyse(b.design);
    expect(a.freedoms).toBe(1);
    expect(a.pose.solve([0], [0.3])).toBe('ok');
    expect(a.pose.q[1]).toBeCloseTo(0.3, 9);
  });
});

describe('stops through loops', () => {
  it('are found for the crank from a stop of the slider, and hold there', () => {
    const { b } = sliderCrank(50, 200, 40 * RAD);
    Object.assign(
      b.design.joints.find((j) => j.child === 'slider')!,
      { lower: -30, upper: 5 },
    );
    const hand = new Hand(poseOf(compile(b.design)));
    const i = hand.interval(0);
    // Where the closed form puts the slider 30 mm back and 5 mm on.
    const x = (t: number): number => 50 * Math.cos(t) + Math.sqrt(200 * 200 - (50 * Math.sin(t)) ** 2);
    const x0 = x(40 * RAD);
    expect(x(40 * RAD + i.upper!.at * 2 * Math.PI) - x0).toBeCloseTo(-30, 5);
    expect(x(40 * RAD + i.lower!.at * 2 * Math.PI) - x0).toBeCloseTo(5, 5);
    expect(i.upper).toMatchObject({ which: 'lower' });
    expect(hand.move(0, 3).value / (2 * Math.PI)).toBeCloseTo(i.upper!.at, 9);
    expect(hand.pose.lastResidual).toBeLessThan(1e-9);
  });
});

describe('a loop that is closed', () => {
  /** A four-bar whose plane lies across a direction; the last pin closes it. */
  const fourBar = (normal: Vec3): Builder => {
    const b = new Builder().weightless();
    const f = frameOf([0, 0, 0], normal, normal[0] === 0 ? [1, 0, 0] : [0, 1, 0]);
    const at = (x: number, y: number): Vec3 => toWorldVector(f, [x, y, 0]);
    const place = { axis: f.z, up: f.x };
    const crank = b.member(at(0, 0), place),
      coupler = b.member(at(20, 50), place),
      rocker = b.member(at(150, 0), place);
    b.motor(b.joint('revolute', 'frame', crank), 30);
    b.joint('revolute', crank, coupler);
    b.joint('revolute', 'frame', rocker);
    b.joint('revolute', coupler, rocker, { at: [-10, 90, 0] });
    return b;
  };
  const NORMALS = [[[0, 0, 1]], [[0, 1, 0]], [[-1, 0, 0]], [[2 / 3, -2 / 3, 1 / 3]]] as const;
  it.each(NORMALS)('moves as its poses do: speeds and accelerations are their differences; plane across %j', (normal) => {
    const m = poseOf(compile(fourBar([...normal]).design));
    const f = new Forces(m),
      free = new Float64Array(m.kinematics.freeCount);
    const [h, w, a] = [1e-4, 1.7, -0.9];
    const at = (t: number): number[] => {
      expect(m.solve([0], [0.3 + w * t + (a * t * t) / 2])).toBe('ok');
      return [...m.q];
    };
    const [before, after, now] = [at(-h), at(h), at(0)];
    m.rates([0], [w], free);
    m.spreadRates(free, f.velocity);
    f.accelerate([0], [a], free);
    now.forEach((q, k) => {
      expect(f.velocity[k]).toBeCloseTo((after[k] - before[k]) / (2 * h), 6);
      expect(f.acceleration[k]).toBeCloseTo((after[k] - 2 * q + before[k]) / (h * h), 4);
    });
  });
  it.each(NORMALS)('has at every pin one point and one axis, whichever of its members is asked; plane across %j', (normal) => {
    const { design } = fourBar([...normal]);
    const m = poseOf(compile(design));
    const { structure } = m.compiled;
    for (const turn of [0.3, -0.4, 0.7]) {
      expect(m.solve([0], [turn])).toBe('ok');
      for (const j of design.joints) {
        const at = toWorldPoint(structure.frames.get(j.child)!, j.at ?? [0, 0, 0]);
        const seen = [j.parent, j.child].map((member) => {
          const t = m.placements,
            b = PLACEMENT * structure.bodyOf.get(member)!;
          const turned = (v: Vec3): number[] => [0, 1, 2].map((r) => t[b + 4 * r] * v[0] + t[b + 4 * r + 1] * v[1] + t[b + 4 * r + 2] * v[2]);
          return [...turned([...normal]), ...turned(at).map((x, r) => x + 1e3 * t[b + 4 * r + 3])];
        });
        seen[0].forEach((x, k) => expect(x).toBeCloseTo(seen[1][k], 9));
      }
    }
  });
});
