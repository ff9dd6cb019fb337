import type { DrivingSource } from '../document/kinds';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Builder, item, state } from '../testing/designs';
import { Forces, loadSheet } from '../forces/index';
import { type Pose, compile } from '../kinematics/index';
import { type RunForces, RunResult, forcesAt, motionProfile, profileProblem, quantities, run, runBuffers, wayShare, worstInstant } from './index';

const G = 9.80665;
const last = (r: RunResult, i: number): number => r.q[(r.frames - 1) * r.coordinates + i];
const codes = (r: RunResult): string[] => r.events.map((e) => e.kind);

/** A point of mass m at the end of a massless arm of l m, free on a level axis; angle from hanging. */
function pendulum(l = 1, mass = 2) {
  const b = new Builder();
  const s = b.shaft([0, 0, 0], 'frame', { axis: [0, 1, 0], up: [1, 0, 0], mass, massCentre: [1000 * l, 0, 0], inertia: [0, 0, 0] });
  return { b, s };
}

describe('motion profiles', () => {
  it('carry the whole way in the stated time, with speeds and accelerations that belong to it', () => {
    for (const shape of ['trapezoid', 'S-shaped', 'harmonic']) {
      expect(wayShare(shape, 1)[0]).toBeCloseTo(1, 12);
      expect(wayShare(shape, 0.5)[0]).toBeCloseTo(0.5, 12);
      for (const u of [0.05, 0.12, 0.2, 0.3, 0.45, 0.6, 0.72, 0.9]) {
        const h = 1e-6;
        expect((wayShare(shape, u + h)[0] - wayShare(shape, u - h)[0]) / (2 * h)).toBeCloseTo(wayShare(shape, u)[1], 6);
        expect((wayShare(shape, u + h)[1] - wayShare(shape, u - h)[1]) / (2 * h)).toBeCloseTo(wayShare(shape, u)[2], 4);
      }
    }
  });
  it('has the known peak speed of one and a half times the mean for a trapezoid in thirds', () => {
    // Common practice of motion control.
    expect(wayShare('trapezoid', 0.5)[1]).toBeCloseTo(1.5, 12);
    expect(wayShare('trapezoid', 0.1)[2]).toBeCloseTo(4.5, 12);
  });
  const out = new Float64Array(3);
  const at = (fields: object, t: number): number[] => {
    motionProfile({ id: 's', name: 's', type: 'motor', joint: 'j', speed: 60, ...fields }, true)(t, out);
    return [...out];
  };
  it('goes to and fro and comes back', () => {
    const p = { profile: 'to and fro', amount: 90, time: 2 };
    expect(at(p, 1)[0]).toBeCloseTo(Math.PI / 2, 12);
    expect(at(p, 2)[0]).toBeCloseTo(0, 12);
    expect(at(p, 2.5)[0]).toBeCloseTo(at(p, 0.5)[0], 12);
    expect(at(p, 1.5)[1]).toBeCloseTo(-at(p, 0.5)[1], 12);
  });
  it('has at its very first instant the speed and acceleration with which it begins', () => {
    const way = Math.PI / 2;
    expect(at({ profile: 'part turn', amount: 90, time: 2, speedShape: 'harmonic' }, 0)).toEqual([
      0,
      0,
      expect.closeTo((way * Math.PI ** 2) / 2 / 4, 12),
    ]);
    const table = [0, 1, 2].map((time) => ({ time, value: 30 * time }));
    expect(at({ profile: 'table', table }, 0)[1]).toBeCloseTo(Math.PI / 6, 12);
    expect(at({ profile: 'ramps', ramps: [0, 1].map((time) => ({ time, speed: 60 * time })) }, 0)[2]).toBeCloseTo(2 * Math.PI, 12);
  });
  it('ramps evenly from speed to speed', () => {
    const p = {
      profile: 'ramps',
      ramps: [
        { time: 0, speed: 0 },
        { time: 2, speed: 60 },
        { time: 3, speed: 60 },
      ],
    };
    expect(at(p, 1)[1]).toBeCloseTo(Math.PI, 12);
    expect(at(p, 2)[0]).toBeCloseTo(2 * Math.PI, 12);
    expect(at(p, 5)[0]).toBeCloseTo(8 * Math.PI, 9);
  });
  it('goes through every row of its table', () => {
    const table = [0, 1, 2.5, 4].map((time, i) => ({ time, value: [0, 30, 20, 90][i] }));
    for (const r of table) expect(at({ profile: 'table', table }, r.time)[0]).toBeCloseTo((r.value * Math.PI) / 180, 10);
    const h = 1e-6,
      p = { profile: 'table', table };
    for (const t of [0.4, 1.7, 3.1]) expect((at(p, t + h)[0] - at(p, t - h)[0]) / (2 * h)).toBeCloseTo(at(p, t)[1], 6);
  });
  it('says what is missing and stands still meanwhile', () => {
    const s: DrivingSource = { id: 's', name: 's', type: 'motor', joint: 'j', speed: 5, profile: 'table', table: [{ time: 0, value: 1 }] };
    expect(profileProblem(s)?.message).toMatch(/two rows/);
    expect(at(s, 1)).toEqual([0, 0, 0]);
    expect(
      profileProblem({
        ...s,
        table: [
          { time: 1, value: 1 },
          { time: 1, value: 2 },
        ],
      })?.message,
    ).toMatch(/rise/);
    expect(profileProblem({ ...s, profile: 'part turn' })?.field).toBe('amount');
  });
});

describe('a run that is led', () => {
  it('records place, speed and acceleration of every joint as the profile asks', () => {
    const b = new Builder().weightless();
    const s1 = b.shaft([0, 0, 0]),
      s2 = b.shaft([30, 0, 0]);
    b.mesh(b.gear(s1.member, 20), b.gear(s2.member, 40, 1, { phase: 4.5 }));
    b.motor(s1.joint, 60, { profile: 'part turn', amount: 720, time: 3 });
    const r = run(compile(b.design), { duration: 4, frames: 81 });
    expect(last(r, 0)).toBeCloseTo(4 * Math.PI, 9);
    expect(last(r, 1)).toBeCloseTo(-2 * Math.PI, 9);
    expect(r.v[30 * 2 + 1]).toBeCloseTo(-0.5 * r.v[30 * 2], 12);
    expect(r.a[5 * 2]).toBeCloseTo((4 * Math.PI * 4.5) / 9, 9);
  });

  it('balances power at every instant: sources and loads feed kinetic energy and losses', () => {
    const { b, s } = pendulum();
    const motor = b.shaft([0, 0, 300], 'frame', { axis: [0, 1, 0], up: [1, 0, 0] });
    b.mesh(b.gear(motor.member, 20, 5), b.gear(s.member, 100, 5, { phase: 1.8 }), { efficiency: 0.9 });
    b.motor(motor.joint, 60, { profile: 'part turn', amount: 500, time: 2, speedShape: 'S-shaped' });
    const c = compile(b.design);
    const r = run(c, { duration: 2, frames: 101 });
    const q = quantities(c, r);
    const input = q.find((x) => x.key.endsWith(':power'))!,
      loss = q.find((x) => x.key.endsWith(':loss'))!;
    const most = Math.abs(worstInstant(input, r.frames).value);
    for (let f = 0; f < r.frames; f++) expect(Math.abs(input.at(f) + r.loadPower[f] - loss.at(f)) / most).toBeLessThan(1e-9);
  });

  it('gives the inertia its power: the work of the source on a weightless train is its kinetic energy', () => {
    const b = new Builder().weightless();
    const s1 = b.shaft([0, 0, 0]),
      s2 = b.shaft([30, 0, 0], 'frame', { mass: 1, massCentre: [4, 0, 0], inertia: [0.01, 0.02, 0.03] });
    b.mesh(b.gear(s1.member, 20), b.gear(s2.member, 40, 1, { phase: 4.5 }));
    b.motor(s1.joint, 60, { profile: 'part turn', amount: 720, time: 1, speedShape: 'harmonic' });
    const c = compile(b.design);
    const r = run(c, { duration: 1, frames: 2001 });
    const power = quantities(c, r).find((x) => x.key.endsWith(':power'))!;
    let work = 0;
    for (let f = 1; f <= 1000; f++) work += ((power.at(f) + power.at(f - 1)) / 2) * (r.time[f] - r.time[f - 1]);
    expect(work / r.kinetic[1000]).toBeCloseTo(1, 5);
  });

  it('finds when the stop is reached and stands against it, and goes on when the profile turns back', () => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]);
    b.design.joints[0].upper = 60;
    b.motor(s.joint, 60, { profile: 'to and fro', amount: 90, time: 4, speedShape: 'harmonic' });
    const r = run(compile(b.design), { duration: 4, frames: 101 });
    expect(codes(r)).toEqual(['stop-reached', 'stop-left']);
    // 90° · (1 − cos πt/2)/2 = 60° where cos = −1/3.
    expect(r.events[0].time).toBeCloseTo((2 / Math.PI) * Math.acos(-1 / 3), 6);
    expect(r.q[50]).toBeCloseTo(Math.PI / 3, 6);
    expect(last(r, 0)).toBeCloseTo(0, 6);
  });

  it('ends where a linkage cannot go on, and says so', () => {
    const b = new Builder().weightless();
    const crank = b.shaft([0, 0, 0]),
      coupler = b.shaft([50, 0, 0], crank.member),
      rocker = b.shaft([130, 0, 0]);
    b.joint('revolute', coupler.member, rocker.member, { at: [-30, 40, 0] });
    b.motor(crank.joint, 60);
    const r = run(compile(b.design), { duration: 2, frames: 50 });
    expect(codes(r)).toContain('unreachable');
    expect(r.frames).toBeLessThan(50);
    expect(r.q.length).toBe(r.frames * r.coordinates);
  });

  it('says when a ratchet grips and moves the wheel tooth by tooth, if what is left free stands', () => {
    const b = new Builder().weightless();
    const arm = b.shaft([0, 0, 0]),
      wheel = b.shaft([0, 0, 0]);
    const rw = b.element('ratchet-wheel', wheel.member, { teeth: 24, diameter: 80, width: 8 });
    b.couple('ratchet', { a: rw, b: b.element('pawl', arm.member, { length: 30, width: 8, at: [0, 60, 0] }) });
    b.motor(arm.joint, 10, { profile: 'to and fro', amount: -40, time: 1 });
    const r = run(compile(b.design), { duration: 3, frames: 301, stand: true });
    expect(last(r, 1)).toBeCloseTo((90 * Math.PI) / 180, 6);
  });

  it('hands its arrays on as separate buffers', () => {
    const b = new Builder();
    b.motor(b.shaft([0, 0, 0]).joint, 60);
    const buffers = runBuffers(run(compile(b.design), { duration: 1, frames: 5 }));
    expect(new Set(buffers).size).toBe(buffers.length);
  });
});

describe('free motion', () => {
  it('lets a point mass fall as s = g t²/2', () => {
    const b = new Builder();
    b.slide([0, 0, 0], [0, 0, 1], 'frame', { mass: 3, massCentre: [0, 0, 0], inertia: [0, 0, 0] });
    const r = run(compile(b.design), { duration: 2, frames: 21 });
    expect(last(r, 0)).toBeCloseTo((-G * 4) / 2, 6);
    expect(r.v.at(-1)).toBeCloseTo(-2 * G, 6);
  });

  it('swings a pendulum with the exact period for a large swing', () => {
    // T = 2π √(l/g) · 1/agm(1, cos θ0/2), the arithmetic-geometric mean (Gauss); θ0 = 90°: 1.18034 times the small swing.
    const { b } = pendulum(1);
    let x = 1,
      y = Math.cos(Math.PI / 4);
    for (let i = 0; i < 6; i++) [x, y] = [(x + y) / 2, Math.sqrt(x * y)];
    const T = (2 * Math.PI * Math.sqrt(1 / G)) / x;
    expect(T / (2 * Math.PI * Math.sqrt(1 / G))).toBeCloseTo(1.18034, 5);
    // It starts level; after half a period it stands level on the other side.
    const r = run(compile(b.design), { duration: T, frames: 3, tolerance: 1e-10 });
    expect(Math.abs(r.q[1])).toBeCloseTo(Math.PI, 5);
    expect(last(r, 0)).toBeCloseTo(0, 5);
  });

  it('keeps its energy: what weight gives is what moves', () => {
    fc.assert(
      fc.property(fc.integer({ min: 12, max: 60 }), fc.integer({ min: 12, max: 60 }), (z1, z2) => {
        const { b, s } = pendulum(0.5);
        const other = b.shaft([0, 0, (z1 + z2) * 1.5], 'frame', { axis: [0, 1, 0], up: [1, 0, 0] });
        b.mesh(b.gear(s.member, z1, 3), b.gear(other.member, z2, 3));
        state(b.design.couplings[0], { efficiency: 1 });
        const c = compile(b.design);
        const r = run(c, { duration: 1.5, frames: 16 });
        let at: RunForces | undefined, f: Forces, m: Pose;
        const height = (frame: number): number => {
          ({ forces: f } = at = forcesAt(c, r, frame, at));
          m = f.pose;
          let e = 0;
          for (let k = 1; k < m.kinematics.bodies; k++) {
            const { mass, centre } = f.bodyMass(k);
            const t = m.placements,
              o = 12 * k + 8;
            e += mass * G * (t[o] * centre[0] + t[o + 1] * centre[1] + t[o + 2] * centre[2] + t[o + 3]);
          }
          return e;
        };
        const e0 = height(0) + r.kinetic[0];
        for (let k = 1; k < r.frames; k++) expect(height(k) + r.kinetic[k]).toBeCloseTo(e0, 3);
      }),
      { numRuns: 15 },
    );
  });

  it('drops onto a stop, stands there, and the stop carries the weight', () => {
    const b = new Builder();
    b.slide([0, 0, 0], [0, 0, 1], 'frame', { mass: 3, massCentre: [0, 0, 0], inertia: [0, 0, 0] });
    b.design.joints[0].lower = -500;
    const c = compile(b.design);
    const r = run(c, { duration: 1, frames: 11 });
    expect(codes(r)).toEqual(['stop-reached']);
    expect(r.events[0].time).toBeCloseTo(Math.sqrt(1 / G), 5);
    expect(last(r, 0)).toBeCloseTo(-0.5, 6);
    expect(r.stop[10]).toBeCloseTo(3 * G, 6);
  });

  it('runs a motor up to its working point along its torque-speed line, as the exponential of its time constant', () => {
    const b = new Builder().weightless();
    const J = 0.02;
    const s = b.shaft([0, 0, 0], 'frame', { mass: 1, massCentre: [0, 0, 0], inertia: [J, J, J] });
    b.design.sources.push(item({ id: 'm', name: 'm', type: 'torque-line', joint: s.joint, stall: 4, noLoad: 1200 }));
    b.load('joint-load', { joint: s.joint, value: -1 });
    const r = run(compile(b.design), { duration: 2, frames: 201 });
    // T0 (1 − ω/ω0) − T = J ω′: ω = ω∞ (1 − e^(−t T0/(J ω0))), ω∞ = ω0 (1 − T/T0).
    const w0 = (1200 * Math.PI) / 30,
      winf = w0 * 0.75,
      tau = (J * w0) / 4;
    for (const f of [10, 50, 100, 200]) expect(r.v[f]).toBeCloseTo(winf * (1 - Math.exp(-r.time[f] / tau)), 4);
  });

  it('is held by a pawl that grips when the load would run back', () => {
    const { b, s } = pendulum(0.3, 1);
    const rw = b.element('ratchet-wheel', s.member, { teeth: 36, diameter: 80, width: 8, free: 'back', density: 1 });
    b.couple('ratchet', { a: rw, b: b.element('pawl', 'frame', { length: 30, width: 8 }) });
    const r = run(compile(b.design), { duration: 1, frames: 21 });
    expect(codes(r)[0]).toBe('pawl-grips');
    expect(Math.abs(last(r, 0))).toBeLessThan((2 * Math.PI) / 36 + 1e-6);
    expect(r.v.at(-1)).toBeCloseTo(0, 9);
  });

  it('overruns: a one-way clutch lets the driven shaft run on when the driver stops', () => {
    const b = new Builder().weightless();
    const a = b.shaft([0, 0, 0]),
      d = b.shaft([0, 0, 0], 'frame', { mass: 1, massCentre: [0, 0, 0], inertia: [0.1, 0.1, 0.1] });
    b.couple('one-way-clutch', { a: a.joint, b: d.joint });
    b.motor(a.joint, 60, {
      profile: 'ramps',
      ramps: [
        { time: 0, speed: 0 },
        { time: 1, speed: 60 },
        { time: 2, speed: 0 },
        { time: 3, speed: 0 },
      ],
    });
    const r = run(compile(b.design), { duration: 3, frames: 301 });
    expect(codes(r)).toContain('pawl-grips');
    expect(codes(r)).toContain('pawl-lets-go');
    expect(r.v[50 * 2 + 1]).toBeCloseTo(Math.PI, 4);
    expect(r.v[300 * 2]).toBeCloseTo(0, 9);
    expect(r.v[300 * 2 + 1]).toBeCloseTo(2 * Math.PI, 4);
  });
});

/** A plate cam that lifts a follower against its weight. */
function camDrive(speed: number, spring = 0) {
  const b = new Builder();
  const cam = b.shaft([0, 0, 0], 'frame', { axis: [0, 1, 0], up: [1, 0, 0] });
  const e = b.element('cam', cam.member, {
    base: 60,
    width: 10,
    roller: 16,
    segments: [
      { angle: 120, rise: 20, law: 'cycloidal' },
      { angle: 120, rise: -20, law: 'cycloidal' },
      { angle: 120, rise: 0, law: 'dwell' },
    ],
    // The axis points along −y in the drawing's sense; the follower stands above, a quarter turn from the cam's x axis.
    phase: -90,
  });
  const stem = b.slide([0, 0, 0], [0, 0, 1], 'frame', { up: [1, 0, 0], mass: 2, massCentre: [0, 0, 60], inertia: [0, 0, 0] });
  const f = b.element('follower', stem.member, { size: 16, width: 10, at: [0, 0, 38], axis: [0, 1, 0], up: [1, 0, 0] });
  b.couple('cam-contact', { a: e, b: f });
  b.motor(cam.joint, speed);
  if (spring) b.load('joint-spring', { joint: stem.joint, rate: spring, preload: -20 });
  return { b, cam, stem };
}

describe('a cam in motion', () => {
  it('moves its follower by its law and carries its weight through the contact', () => {
    const { b } = camDrive(10);
    const c = compile(b.design);
    expect(c.findings).toEqual([]);
    const r = run(c, { duration: 6, frames: 361 });
    const lift = quantities(c, r).find((q) => q.label.startsWith('Place of j4') || q.key === `joint:${b.design.joints[1].id}:place`)!;
    const most = worstInstant(lift, r.frames);
    expect(most.value).toBeCloseTo(20, 4);
    const touch = quantities(c, r).find((q) => q.key.endsWith(':tangential'))!;
    for (let f = 0; f < r.frames; f += 30) expect(touch.at(f)).toBeGreaterThan(15);
    // The whole force between the profiles is one number: no part of it is radial as of a tooth.
    expect(r.radial.every((x) => x === 0)).toBe(true);
    expect(codes(r)).toEqual([]);
  });

  it('gives on the shaft what it takes at the follower: no power is made or lost', () => {
    const { b } = camDrive(60, 1);
    const c = compile(b.design);
    const r = run(c, { duration: 1, frames: 101 });
    const power = quantities(c, r).find((q) => q.key.endsWith(':power'))!;
    const peak = Math.abs(worstInstant(power, r.frames).value);
    for (let f = 0; f < r.frames; f++) expect(Math.abs(power.at(f) + r.loadPower[f]) / peak).toBeLessThan(1e-9);
  });

  it('throws its follower off when it turns too fast for the weight, and catches it again', () => {
    // The follower leaves when the law's fall is faster than g: 20 mm · 2π/(120°)² · ω² > g at about 85 rev/min.
    const limit = Math.sqrt(G / (0.02 * ((2 * Math.PI) / ((2 * Math.PI) / 3) ** 2))) * (30 / Math.PI);
    expect(codes(run(compile(camDrive(limit * 0.98).b.design), { duration: 0.6, frames: 200 }))).toEqual([]);
    const fast = run(compile(camDrive(limit * 1.3).b.design), { duration: 1, frames: 400 });
    expect(codes(fast).slice(0, 2)).toEqual(['follower-lifts', 'follower-lands']);
    expect(codes(run(compile(camDrive(limit * 1.3, 5).b.design), { duration: 0.6, frames: 200 }))).toEqual([]);
  });
});

describe('the load sheet', () => {
  it('adds up to nothing on every member at every instant, inertia counted', () => {
    const { b } = camDrive(90, 3);
    const c = compile(b.design);
    const r = run(c, { duration: 0.5, frames: 21 });
    for (let k = 0; k < r.frames; k += 3) {
      const { forces: f } = forcesAt(c, r, k);
      for (const m of b.design.members) {
        const sheet = loadSheet(f, m.id, m.id, true);
        const most = Math.max(1, ...sheet.lines.flatMap((l) => l.force.map(Math.abs)));
        for (const v of [...sheet.sumForce, ...sheet.sumMoment]) expect(Math.abs(v) / most).toBeLessThan(1e-9);
      }
    }
  });
});
