import { describe, expect, it } from 'vitest';
import type { Joint, Member } from '../fields/types';
import { compile } from '../kinematics/index';
import { Builder, item, state } from '../testing/designs';
import { worstAgain } from '../testing/instants';
import { type RunResult, run } from './index';

const body: Partial<Member> = { mass: 1, inertia: [0.01, 0.01, 0.01] };
const joint = (b: Builder, k: number, more: Partial<Joint>): void => state(b.design.joints[k], more);
const torque = (b: Builder, at: string, size: number): void =>
  void b.design.sources.push(item({ id: 't', name: 'Torque', joint: at, type: 'torque', torque: size }));
const last = (r: RunResult, row: Float64Array, width: number, k: number): number => row[(r.frames - 1) * width + k];

describe('a clutch or a pawl that is led and pushes what rubs', () => {
  const pushed = (pawl: boolean) => {
    const b = new Builder().weightless();
    const a = b.shaft([0, 0, 0]),
      o = b.shaft([0, 0, pawl ? 0 : 50], 'frame', body);
    if (pawl) {
      const wheel = b.element('ratchet-wheel', o.member, { teeth: 24, diameter: 80, width: 8 });
      b.couple('ratchet', { a: wheel, b: b.element('pawl', a.member, { length: 30, width: 8, at: [0, 60, 0] }) });
    } else b.couple('one-way-clutch', { a: a.joint, b: o.joint });
    b.motor(a.joint, 10);
    b.load('joint-load', { joint: o.joint, value: -1 });
    b.load('joint-friction', { joint: o.joint, value: 0.05 });
    return run(compile(b.design), { duration: 1, frames: 11 });
  };
  it.each([false, true])('takes it along at its speed with the load and the friction, pawl %s', (pawl) => {
    const r = pushed(pawl);
    expect(r.findings).toEqual([]);
    expect(last(r, r.v, 2, 1)).toBeCloseTo((10 * Math.PI) / 30, 9);
    expect(last(r, r.input, 1, 0)).toBeCloseTo(1.05, 9);
  });

  it('a ratchet is fed from the first stroke on, and the frame’s pawl keeps what was fed', () => {
    const b = new Builder().weightless();
    const arm = b.shaft([0, 0, 0]),
      wheel = b.shaft([0, 0, 0], 'frame', body);
    const w = b.element('ratchet-wheel', wheel.member, { teeth: 24, diameter: 80, width: 8 });
    b.couple('ratchet', { a: w, b: b.element('pawl', arm.member, { length: 30, width: 8, at: [0, 60, 0] }) });
    b.couple('ratchet', { a: w, b: b.element('pawl', 'frame', { length: 30, width: 8, at: [0, -60, 0] }) });
    b.motor(arm.joint, 10, { profile: 'to and fro', amount: 40, time: 1 });
    b.load('joint-load', { joint: wheel.joint, value: -1 });
    b.load('joint-friction', { joint: wheel.joint, value: 0.05 });
    const r = run(compile(b.design), { duration: 3, frames: 31 });
    // 40° take two whole teeth of 15° a stroke.
    for (const stroke of [1, 2, 3]) expect((r.q[stroke * 20 + 1] * 180) / Math.PI).toBeCloseTo(30 * stroke, 5);
  });
});

describe('friction and stops', () => {
  it('a body that rebounds with friction meets its stop again at 0.727 s', () => {
    // 2 kg fall 500 mm against 4 N, e = 0.7: a1 = g − 2, t1 = √(2h/a1); up with g + 2 from 0.7 v1, down with g − 2.
    const b = new Builder();
    b.slide([0, 0, 0], [0, 0, 1], 'frame', { mass: 2 });
    joint(b, 0, { lower: -500, restitution: 0.7 });
    b.load('joint-friction', { joint: b.design.joints[0].id, value: 4 });
    const r = run(compile(b.design), { duration: 1.5, frames: 101 });
    const met = r.events.filter((e) => e.kind === 'stop-reached').map((e) => e.time);
    const [down, up] = [9.80665 - 2, 9.80665 + 2];
    const t1 = Math.sqrt(1 / down),
      v = 0.7 * down * t1;
    const t2 = t1 + v / up + Math.sqrt((v * v) / up / down);
    expect(t2).toBeCloseTo(0.727, 3);
    expect(met[0]).toBeCloseTo(t1, 6);
    expect(met[1]).toBeCloseTo(t2, 6);
  });

  it('a stop on which a train is driven to a stand carries what its losses leave', () => {
    const b = new Builder().weightless();
    const m = b.shaft([0, 0, 0], 'frame', body),
      o = b.shaft([80, 0, 0], 'frame', body);
    b.mesh(b.gear(m.member, 20, 2), b.gear(o.member, 60, 2), { efficiency: 0.5 });
    torque(b, m.joint, 5);
    joint(b, 1, { lower: -30, upper: 30 });
    const c = compile(b.design);
    const r = run(c, { duration: 1, frames: 11 });
    expect(last(r, r.stop, 2, 1)).toBeCloseTo(7.5, 6);
    expect(worstAgain(c, r)).toBeLessThan(1e-9);
  });

  it('a jack driven against its stop presses with 2π·T·η/P', () => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0], 'frame', body),
      n = b.slide([0, 0, 0], [0, 0, 1], 'frame', body);
    b.couple('screw-drive', {
      a: b.element('screw', s.member, { diameter: 32, pitch: 6, length: 300 }),
      b: b.element('nut', n.member, { outside: 60, bore: 32, length: 50 }),
      friction: 0.12,
    });
    torque(b, s.joint, 8);
    joint(b, 1, { lower: -30, upper: 30 });
    const r = run(compile(b.design), { duration: 1, frames: 11 });
    // Shigley eq. 8-1 for a thread of 29 mm pitch diameter and 15° flanks.
    const sec = 1 / Math.cos(Math.PI / 12);
    const force = (2 * 8 * (Math.PI * 29 - 0.12 * 6 * sec)) / (0.029 * (6 + Math.PI * 0.12 * 29 * sec));
    expect(last(r, r.stop, 2, 1)).toBeCloseTo(force, 4);
  });

  it('two rubbing freedoms of a planetary set begin to move together', () => {
    const b = new Builder().weightless();
    const [sun, arm, ring] = [b.shaft([0, 0, 0]), b.shaft([0, 0, 0]), b.shaft([0, 0, 0])];
    const planet = b.shaft([40, 0, 0], arm.member);
    const p = b.gear(planet.member, 20, 2);
    b.mesh(b.gear(sun.member, 20, 2), p, { efficiency: 0.95 });
    b.mesh(p, b.gear(ring.member, 60, 2, { internal: true, rim: 160 }), { efficiency: 0.95 });
    torque(b, sun.joint, 2);
    for (const j of [ring.joint, arm.joint]) b.load('joint-friction', { joint: j, value: 1.5 });
    const r = run(compile(b.design), { duration: 0.5, frames: 11 });
    expect(r.findings).toEqual([]);
    expect(r.events.map((e) => e.kind)).toEqual(['starts-to-move', 'starts-to-move']);
    expect(last(r, r.v, 4, 1)).toBeGreaterThan(0);
    expect(last(r, r.v, 4, 2)).toBeLessThan(0);
  });

  it('a stop is left when its source turns back, to the microsecond, and an event at the end of a run belongs to it', () => {
    const led = (more: object, stop: Partial<Joint>) => {
      const b = new Builder().weightless();
      b.motor(b.shaft([0, 0, 0]).joint, 10, more);
      joint(b, 0, stop);
      return run(compile(b.design), { duration: 1, frames: 11 }).events;
    };
    const [met, left] = led({ profile: 'to and fro', amount: 90, time: 1 }, { upper: 60 });
    expect(met.time + left.time).toBeCloseTo(1, 6);
    expect(left.time).toBeCloseTo(0.69444444, 6);
    expect(led({}, { upper: 60 })).toMatchObject([{ kind: 'stop-reached', time: 1 }]);
  });
});
