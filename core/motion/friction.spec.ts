import { describe, expect, it } from 'vitest';
import { compile } from '../kinematics/index';
import { Builder } from '../testing/designs';
import { run } from './index';

/** A slide of 2 kg on a slope of 30°, with dry friction. */
function slope(friction: number, extra = 0): Builder {
  const b = new Builder();
  const a = Math.PI / 6;
  const s = b.slide([0, 0, 0], [Math.cos(a), 0, -Math.sin(a)], 'frame', { mass: 2, inertia: [0.01, 0.01, 0.01] });
  b.load('joint-friction', { joint: s.joint, value: friction });
  if (extra) b.load('joint-load', { joint: s.joint, value: extra });
  return b;
}
const g = 9.80665;

describe('friction at rest', () => {
  it('holds a slide on a slope up to its size, and says nothing but that it stands', () => {
    // Weight along the slope: 2 kg · g · sin 30° = 9.807 N.
    const r = run(compile(slope(9.9).design), { duration: 1, frames: 5 });
    expect(r.frames).toBe(5);
    expect(Math.max(...r.q.map(Math.abs))).toBe(0);
    expect(r.findings).toEqual([]);
  });

  it('lets go beyond it: the slide goes down with (m g sin α − F)/m', () => {
    const r = run(compile(slope(4).design), { duration: 1, frames: 3 });
    expect(r.events.map((e) => e.kind)).toEqual(['starts-to-move']);
    expect(r.q[2]).toBeCloseTo(((g * 0.5 - 4 / 2) * 1) / 2, 7);
  });

  it('brings a swing to rest after the half swings that the closed form counts', () => {
    // A mass of 1 kg on 100 N/m, let go 100 mm off, friction 2 N: each half swing
    // loses 2 F/c = 40 mm; at 20 mm off the spring pulls 2 N and it stands.
    const b = new Builder().weightless();
    const s = b.slide([0, 0, 0], [1, 0, 0], 'frame', { mass: 1, inertia: [0.01, 0.01, 0.01] });
    b.load('joint-spring', { joint: s.joint, rate: 0.1, free: 99 });
    b.load('joint-friction', { joint: s.joint, value: 2 });
    const r = run(compile(b.design), { duration: 3, frames: 31 });
    const rests = r.events.filter((e) => e.kind === 'comes-to-rest');
    // 99 → 59 → 19: two half swings of π √(m/c) each.
    expect(rests).toHaveLength(2);
    expect(rests[0].time).toBeCloseTo(Math.PI * 0.1, 6);
    expect(rests[1].time).toBeCloseTo(2 * Math.PI * 0.1, 6);
    // 99 mm to the one side, 59 to the other, 19 to the first.
    expect(r.q[30] * 1000).toBeCloseTo(99 - 19, 4);
    expect(r.findings).toEqual([]);
  });

  it('stops a braked flywheel at ω J / T, where it stays', () => {
    const b = new Builder().weightless();
    const w = b.shaft([0, 0, 0], 'frame', { mass: 1, inertia: [1, 1, 0.5] });
    b.load('joint-friction', { joint: w.joint, value: 2 });
    b.design.sources.push({ id: 's', name: 'Torque', type: 'torque', joint: w.joint, torque: 3 } as never);
    // Driven by 3 against 2: 2 rad/s².
    const r = run(compile(b.design), { duration: 2, frames: 3 });
    expect(r.events[0]?.kind).toBe('starts-to-move');
    expect(r.v[2]).toBeCloseTo(4, 6);
  });

  it('of several joints on one train adds up, by their ratio', () => {
    // 20 : 40; 1 N·m at the pinion and 3 at the wheel bear 1 + 3/2 = 2.5 at the pinion.
    const stands = (torque: number): number => {
      const b = new Builder().weightless();
      const [p, q] = [b.shaft([0, 0, 0], 'frame', { mass: 1, inertia: [1, 1, 1] }), b.shaft([30, 0, 0], 'frame', { mass: 1, inertia: [1, 1, 1] })];
      b.mesh(b.gear(p.member, 20), b.gear(q.member, 40));
      b.load('joint-friction', { joint: p.joint, value: 1 });
      b.load('joint-friction', { joint: q.joint, value: 3 });
      b.design.sources.push({ id: 's', name: 'Torque', type: 'torque', joint: p.joint, torque } as never);
      const r = run(compile(b.design), { duration: 1, frames: 2 });
      return Math.max(...r.q.map(Math.abs));
    };
    expect(stands(2.49)).toBe(0);
    expect(stands(2.6)).toBeGreaterThan(0.001);
  });

  it('of a screw that its drive is too weak to turn: it stands, and says so; a stronger one lowers the load', () => {
    const lift = (torque: number) => {
      const b = new Builder().weightless();
      const s = b.shaft([0, 0, 0], 'frame', { mass: 1, inertia: [0.01, 0.01, 0.01] }),
        n = b.slide([0, 0, 0], [0, 0, 1], 'frame', { mass: 50, inertia: [1, 1, 1] });
      const e = b.element('screw', s.member, { diameter: 30, pitch: 6, length: 600 });
      b.couple('screw-drive', { a: e, b: b.element('nut', n.member, { diameter: 30, outside: 60, length: 40 }), friction: 0.2 });
      b.load('joint-load', { joint: n.joint, value: -3000 });
      b.design.sources.push({ id: 's', name: 'Torque', type: 'torque', joint: s.joint, torque } as never);
      return run(compile(b.design), { duration: 1, frames: 5 });
    };
    // Torque to lower: F d2/2 (π f d2 sec α − l)/(π d2 + f l sec α), d2 = 27 mm, α = 15° (Shigley, eq. 8-2 with sec α).
    const [d2, l, f] = [0.027, 0.006, 0.2 / Math.cos(Math.PI / 12)];
    const lower = ((3000 * d2) / 2) * ((Math.PI * f * d2 - l) / (Math.PI * d2 + f * l));
    for (const torque of [0, 0.5, 0.98 * lower]) {
      const r = lift(torque);
      expect(r.frames).toBe(5);
      expect(Math.max(...r.q.map(Math.abs))).toBe(0);
      expect(r.events.map((e) => e.kind)).toEqual(['stands']);
      expect(r.events[0].message).toContain('stands');
    }
    expect(Math.abs(lift(1.02 * lower).q[9])).toBeGreaterThan(1e-3);
  });

  it('keeps a fed ratchet wheel where its pawl leaves it', () => {
    for (const frames of [5, 61]) {
      const b = new Builder().weightless();
      const w = b.shaft([0, 0, 0]),
        l = b.shaft([0, 0, 0]);
      const wheel = b.element('ratchet-wheel', w.member, { teeth: 24, diameter: 100, width: 10 });
      b.couple('ratchet', { a: wheel, b: b.element('pawl', l.member, { length: 40, width: 10 }) });
      b.motor(l.joint, 10, { profile: 'to and fro', amount: 32, time: 1 });
      b.load('joint-friction', { joint: w.joint, value: 2 });
      const r = run(compile(b.design), { duration: 4, frames });
      // 32° in the first stroke, two teeth of 15° in each of the others.
      expect((r.q[(r.frames - 1) * r.coordinates] * 180) / Math.PI).toBeCloseTo(122, 4);
      expect(r.findings).toEqual([]);
    }
  });
});

describe('two freedoms that rub and hang on each other', () => {
  it('lose what their frictions take, and no more: a double pendulum with dry friction in both pins', () => {
    const b = new Builder();
    const [l1, l2, m1, m2] = [0.4, 0.3, 1.2, 0.8];
    const place = { axis: [0, 1, 0] as [number, number, number], up: [1, 0, 0] as [number, number, number] };
    const one = b.shaft([0, 0, 0], 'frame', { ...place, mass: m1, massCentre: [1e3 * l1, 0, 0], inertia: [1e-4, 1e-4, 1e-4] });
    const two = b.shaft([1e3 * l1, 0, 0], one.member, { ...place, mass: m2, massCentre: [1e3 * l2, 0, 0], inertia: [1e-4, 1e-4, 1e-4] });
    const rubs = [0.35, 0.12];
    [one, two].forEach(({ joint }, k) => b.load('joint-friction', { joint, value: rubs[k] }));
    const r = run(compile(b.design), { duration: 1.5, frames: 3001 });
    const n = r.coordinates;
    // Both hang level at first; z is up, and a turn about y lowers what stands along x.
    const height = (f: number): number => {
      const [p, q] = [r.q[f * n], r.q[f * n] + r.q[f * n + 1]];
      return 9.80665 * (m1 * -l1 * Math.sin(p) + m2 * (-l1 * Math.sin(p) - l2 * Math.sin(q)));
    };
    let lost = 0;
    for (let f = 1; f < r.frames; f++) {
      const dt = r.time[f] - r.time[f - 1];
      for (const k of [0, 1]) lost += (rubs[k] * dt * (Math.abs(r.v[f * n + k]) + Math.abs(r.v[(f - 1) * n + k]))) / 2;
    }
    const last = r.frames - 1;
    expect(Math.abs(r.v[last * n])).toBeGreaterThan(0.1);
    // Both have turned back at least once: their senses changed.
    for (const k of [0, 1]) {
      const senses = new Set(Array.from({ length: r.frames }, (_, f) => Math.sign(r.v[f * n + k])));
      expect([senses.has(1), senses.has(-1)]).toEqual([true, true]);
    }
    expect(lost).toBeGreaterThan(1);
    expect(r.kinetic[last] + height(last) + lost).toBeCloseTo(height(0), 3);
  });
});
