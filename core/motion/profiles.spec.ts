import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { DrivingSource } from '../document/kinds';
import { compile } from '../kinematics/index';
import { Builder, item } from '../testing/designs';
import { Runner, limitedMove, motionProfile, profileLength, profileProblem, wayShare } from './index';

const SHAPES = ['trapezoid', 'S-shaped', 'harmonic', 'polynomial 3-4-5'] as const;
const motor = (fields: object): DrivingSource => item({ id: 'm', name: 'Motor', type: 'motor', joint: 'j', speed: 60, ...fields });
const at = (s: DrivingSource, t: number, turning = false): [number, number, number] => {
  const out = new Float64Array(3);
  motionProfile(s, turning)(t, out);
  return [out[0], out[1], out[2]];
};

describe('shapes of a way', () => {
  it.each(SHAPES)('go from nothing to all, their speed the slope of the way and their acceleration that of the speed: %s', (shape) => {
    expect(wayShare(shape, 0)[0]).toBe(0);
    expect(wayShare(shape, 1)[0]).toBe(1);
    const h = 1e-5;
    for (let u = 0.013; u < 1; u += 0.0117) {
      const [s0, v0] = wayShare(shape, u - h),
        [s1, v1] = wayShare(shape, u + h),
        [, v, a] = wayShare(shape, u);
      expect(v).toBeCloseTo((s1 - s0) / (2 * h), 3);
      // Not across a jump of the acceleration.
      if (Math.abs(wayShare(shape, u + h)[2] - wayShare(shape, u - h)[2]) < 0.1) expect(a).toBeCloseTo((v1 - v0) / (2 * h), 2);
      // The second half is the first, mirrored.
      expect(wayShare(shape, 1 - u)[2]).toBeCloseTo(-a, 9);
    }
  });
  it.each(SHAPES)('have no jump of place or speed anywhere, and end at rest: %s', (shape) => {
    const step = 1 / 5000;
    let [s0, v0] = wayShare(shape, 0);
    expect(v0).toBeCloseTo(0, 12);
    for (let k = 1; k <= 5000; k++) {
      const [s, v] = wayShare(shape, k * step);
      // Ways are at most twice the mean, and accelerations ten times what they would be if even.
      expect(Math.abs(s - s0)).toBeLessThan(2.2 * step);
      expect(Math.abs(v - v0)).toBeLessThan(12 * step);
      [s0, v0] = [s, v];
    }
    expect(v0).toBeCloseTo(0, 9);
  });
  it.each(SHAPES)('stated by speed or acceleration reach just that: %s', (shape) => {
    const greatest = (s: DrivingSource, which: 1 | 2): number => {
      const T = profileLength(s, false)!;
      return Math.max(...Array.from({ length: 20_001 }, (_, k) => Math.abs(at(s, (T * k) / 20_000)[which])));
    };
    const way = { profile: 'part turn', amount: 200, speedShape: shape };
    const bySpeed = motor({ ...way, timing: 'speed', topSpeed: 250 });
    expect(greatest(bySpeed, 1)).toBeCloseTo(0.25, 6);
    const byAcceleration = motor({ ...way, timing: 'acceleration', topAcceleration: 1500 });
    // A peak of one instant falls between two of them.
    expect(greatest(byAcceleration, 2) / 1.5).toBeCloseTo(1, 3);
    const both = motor({ ...way, timing: 'speed and acceleration', topSpeed: 250, topAcceleration: 1500, jerk: 20_000 });
    expect(greatest(both, 1)).toBeLessThanOrEqual(0.25 * (1 + 1e-9));
    expect(greatest(both, 2)).toBeLessThanOrEqual(1.5 * (1 + 1e-9));
    expect(at(both, profileLength(both, false)!)[0]).toBeCloseTo(0.2, 12);
    // Of a shape that has no limits of its own, one of the two is reached.
    if (shape === 'harmonic' || shape === 'polynomial 3-4-5') {
      for (const topSpeed of [100, 250, 2000]) {
        const s = motor({ ...way, timing: 'speed and acceleration', topSpeed, topAcceleration: 1500 });
        expect(Math.max(greatest(s, 1) / (topSpeed / 1e3), greatest(s, 2) / 1.5)).toBeCloseTo(1, 3);
      }
    }
  });
});

describe('a way within speed, acceleration and jerk', () => {
  it('takes the times of the textbook', () => {
    // Trapezoid: v/a up and down, the rest at full speed. 1 m at 0.5 m/s, 2 m/s²: 1/0.5 + 0.5/2.
    expect(limitedMove(1, 0.5, 2).time).toBeCloseTo(2.25, 12);
    // Too short for full speed: 2·√(D/a).
    expect(limitedMove(0.08, 0.5, 2).time).toBeCloseTo(2 * Math.sqrt(0.08 / 2), 12);
    // With jerk and room: D/v + v/a + a/j.
    expect(limitedMove(1, 0.5, 2, 20).time).toBeCloseTo(1 / 0.5 + 0.5 / 2 + 2 / 20, 12);
    // Jerk alone: 4·∛(D/(2 j)).
    expect(limitedMove(0.001, 10, 100, 20).time).toBeCloseTo(4 * Math.cbrt(0.001 / (2 * 20)), 12);
  });
  it('keeps every limit, comes to the way, and its speed is the slope of it', () => {
    const some = fc.double({ min: 0.01, max: 100, noNaN: true });
    fc.assert(
      fc.property(some, some, some, fc.option(some, { nil: Infinity }), fc.boolean(), (D, v, a, j, back) => {
        const move = limitedMove(back ? -D : D, v, a, j);
        const out = new Float64Array(3),
          before = new Float64Array(3),
          after = new Float64Array(3);
        move.at(move.time, out);
        expect(out[0]).toBe(back ? -D : D);
        const h = move.time * 1e-6;
        for (let k = 0; k <= 97; k++) {
          const t = (move.time * k) / 97;
          move.at(t, out);
          expect(Math.abs(out[1])).toBeLessThanOrEqual(v * (1 + 1e-9));
          expect(Math.abs(out[2])).toBeLessThanOrEqual(a * (1 + 1e-9));
          if (k === 0 || k === 97) continue;
          move.at(t - h, before);
          move.at(t + h, after);
          expect(Math.abs((after[0] - before[0]) / (2 * h) - out[1])).toBeLessThan(1e-4 * v + 1e-9);
          // Where a jerk is stated the acceleration has no jumps.
          if (j !== Infinity) expect(Math.abs(after[2] - before[2])).toBeLessThanOrEqual(2 * h * j * (1 + 1e-6) + 1e-12);
        }
        // It comes to the end of the way by itself, without a jump there.
        move.at(move.time * (1 - 1e-9), out);
        expect(Math.abs(Math.abs(out[0]) - D)).toBeLessThan(1e-6 * D);
      }),
    );
  });
});

describe('ways again and again', () => {
  it('rests at each end, and a part turn goes on by its amount each time', () => {
    const s = motor({ profile: 'part turn', amount: 90, time: 1, dwell: 0.5, repeats: 4 });
    expect(profileLength(s, true)).toBe(6);
    const deg = (t: number): number => (at(s, t, true)[0] * 180) / Math.PI;
    expect([0, 1, 1.25, 1.5, 2.5, 3, 5.5, 6, 100].map((t) => Math.round(deg(t)))).toEqual([0, 90, 90, 90, 180, 180, 360, 360, 360]);
    expect(at(s, 1.25, true).slice(1)).toEqual([0, 0]);
  });
  it('goes there and back with a rest at both ends, as often as stated or without end', () => {
    const s = motor({ profile: 'to and fro', amount: 200, time: 1.6, dwell: 0.2 });
    const mm = (x: DrivingSource, t: number): number => Math.round(at(x, t)[0] * 1e3);
    expect([0, 0.8, 0.9, 1, 1.8, 1.9, 2, 2.8, 20, 20.8].map((t) => mm(s, t))).toEqual([0, 200, 200, 200, 0, 0, 0, 200, 0, 200]);
    const twice = motor({ profile: 'to and fro', amount: 200, time: 1.6, dwell: 0.2, repeats: 2 });
    expect([2.8, 4, 4.8, 50].map((t) => mm(twice, t))).toEqual([200, 0, 0, 0]);
  });
  it('says what is missing of it', () => {
    const way = { profile: 'part turn', amount: 90 };
    expect(profileProblem(motor({ ...way, timing: 'speed' }))?.field).toBe('topSpeed');
    expect(profileProblem(motor({ ...way, timing: 'acceleration' }))?.field).toBe('topAcceleration');
    const both = { ...way, timing: 'speed and acceleration', topSpeed: 100, topAcceleration: 10 };
    expect(profileProblem(motor(both))).toBeUndefined();
    expect(profileProblem(motor({ ...both, speedShape: 'S-shaped' }))?.field).toBe('jerk');
  });
});

/** A motor, a pair 20 : 60, a screw of 5 mm lead with a nut that slides: the table. */
function table(fields: object): Builder {
  const b = new Builder().weightless();
  const m = b.shaft([0, 0, 0]),
    s = b.shaft([80, 0, 0]);
  b.mesh(b.gear(m.member, 20, 2), b.gear(s.member, 60, 2, { phase: 3 }));
  const t = b.slide([80, 0, 100], [0, 0, 1]);
  b.couple('proportional', { a: s.joint, amountA: 1, b: t.joint, amountB: 5 });
  b.motor(m.joint, 60, { profile: 'to and fro', amount: 200, time: 1.6, motionOf: t.joint, ...fields });
  return b;
}

describe('a motion stated where it is wanted', () => {
  it('moves the table as stated, through the exact ratio of the train', () => {
    const b = table({ speedShape: 'polynomial 3-4-5' });
    const { compiled, result: r } = run(b, 1.6, 33);
    const [motorAt, tableAt] = [compiled.sources[0].coordinate, compiled.structure.coordinates.find((c) => c.motion === 'slide')!.index];
    let most = 0;
    for (let f = 0; f < r.frames; f++) {
      const [s, v, a] = at(motor({ profile: 'to and fro', amount: 200, time: 1.6, speedShape: 'polynomial 3-4-5' }), r.time[f]);
      const k = f * r.coordinates;
      expect(r.q[k + tableAt]).toBeCloseTo(s, 12);
      expect(r.v[k + tableAt]).toBeCloseTo(v, 12);
      expect(r.a[k + tableAt]).toBeCloseTo(a, 10);
      most = Math.max(most, Math.abs(r.q[k + motorAt]));
    }
    // 200 mm at 5 mm a turn, three turns of the motor for one of the screw: 120 turns.
    expect(most / (2 * Math.PI)).toBeCloseTo(120, 9);
  });
  it('moves the block of a slider-crank as stated, through its loop, and gives the torque that this takes', () => {
    const b = sliderCrank({ profile: 'part turn', amount: -60, time: 1, speedShape: 'polynomial 3-4-5' });
    const { compiled, result: r } = run(b, 1, 41);
    expect(r.findings).toEqual([]);
    const slide = compiled.structure.coordinates.find((c) => c.joint.id === 'block')!.index;
    const crank = compiled.sources[0].coordinate;
    let worked = 0;
    const power = (f: number): number => r.input[f] * r.v[f * r.coordinates + crank];
    for (let f = 0; f < r.frames; f++) {
      const [s, v, a] = at(motor({ profile: 'part turn', amount: -60, time: 1, speedShape: 'polynomial 3-4-5' }), r.time[f]);
      const k = f * r.coordinates;
      expect(r.q[k + slide] - r.q[slide]).toBeCloseTo(s, 9);
      expect(r.v[k + slide]).toBeCloseTo(v, 8);
      expect(r.a[k + slide]).toBeCloseTo(a, 6);
      // By geometry.
      const phi = Math.PI / 6 + r.q[k + crank];
      const x = 40 * Math.cos(phi) + Math.sqrt(120 ** 2 - (40 * Math.sin(phi)) ** 2);
      const x0 = 40 * Math.cos(Math.PI / 6) + Math.sqrt(120 ** 2 - 20 ** 2);
      expect(x - x0).toBeCloseTo(s * 1e3, 6);
      if (f) worked += ((power(f) + power(f - 1)) / 2) * (r.time[f] - r.time[f - 1]);
      // What the crank has given is in what moves.
      expect(worked).toBeCloseTo(r.kinetic[f], 3);
    }
    expect(r.frames).toBe(41);
    expect(Math.max(...r.kinetic)).toBeGreaterThan(0.01);
  });
  it('ends where the linkage does not reach, and says so', () => {
    const b = sliderCrank({ profile: 'part turn', amount: -95, time: 1 });
    const { result: r } = run(b, 1, 41);
    expect(r.frames).toBeLessThan(41);
    expect(r.events.at(-1)!.message).toMatch(/dead|reach/i);
  });
  it('is refused at a joint that the source does not move, or that others move as well', () => {
    const lone = table({});
    const other = lone.shaft([0, 300, 0]);
    lone.design.sources[0] = item({ ...lone.design.sources[0], motionOf: other.joint });
    expect(run(lone, 1, 5).result.findings[0]).toMatchObject({ code: 'profile-incomplete', field: 'motionOf' });
    const sum = new Builder().weightless();
    const [x, y] = [sum.shaft([0, 0, 0]), sum.shaft([100, 0, 0])];
    const carrier = sum.shaft([0, 200, 0]);
    const sun = sum.shaft([0, 200, 0], carrier.member);
    sum.couple('proportional', { a: x.joint, amountA: 1, b: carrier.joint, amountB: 1 });
    sum.couple('proportional', { a: y.joint, amountA: 1, b: sun.joint, amountB: 1 });
    const wheel = sum.shaft([60, 200, 0]);
    sum.mesh(sum.gear(sun.member, 20, 2), sum.gear(wheel.member, 40, 2, { phase: 4.5 }));
    sum.motor(x.joint, 60, { profile: 'part turn', amount: 90, time: 1, motionOf: wheel.joint });
    sum.motor(y.joint, 60);
    expect(run(sum, 1, 5).result.findings[0]).toMatchObject({ code: 'profile-incomplete', field: 'motionOf' });
  });
  it('is held against what the source can do', () => {
    const b = table({ mostSpeed: 1000, mostTorque: 0.001 });
    b.design.members.forEach((m) => Object.assign(m, { mass: 5, inertia: [0.01, 0.01, 0.01] }));
    const { result: r } = run(b, 1.6, 81);
    // 120 turns in 0.8 s with 1.5 times the mean speed: 13 500 rev/min.
    const fast = r.findings.find((f) => f.code === 'source-too-fast')!;
    expect(fast.message).toContain('13500 rev/min');
    expect(r.findings.map((f) => f.code)).toContain('source-too-weak');
    const enough = table({ mostSpeed: 13_501, mostTorque: 1e4 });
    expect(run(enough, 1.6, 81).result.findings).toEqual([]);
  });
});

function run(b: Builder, duration: number, frames: number) {
  const compiled = compile(b.design);
  const runner = new Runner(compiled, { duration, frames });
  while (runner.step());
  return { compiled, result: runner.result };
}

/** A crank of 40 mm, a rod of 120 mm and a block that slides on x, begun at 30°; the motion is stated of the block. */
function sliderCrank(fields: object): Builder {
  const b = new Builder().weightless();
  const phi = Math.PI / 6;
  const pin = [40 * Math.cos(phi), 40 * Math.sin(phi)] as const;
  const end = pin[0] + Math.sqrt(120 ** 2 - pin[1] ** 2);
  b.design.members.push(
    item({ id: 'crank', name: 'Crank', kind: 'lever', at: [0, 0, 0], axis: [0, 0, 1], mass: 1, inertia: [0.001, 0.001, 0.001] }),
    item({ id: 'rod', name: 'Rod', kind: 'lever', at: [pin[0], pin[1], 0], axis: [0, 0, 1], mass: 1, inertia: [0.001, 0.001, 0.001] }),
    item({ id: 'slide', name: 'Block', kind: 'slide', at: [end, 0, 0], axis: [0, 0, 1], mass: 2, inertia: [0.001, 0.001, 0.001] }),
  );
  b.design.joints.push(
    item({ id: 'main', name: 'Main bearing', type: 'revolute', parent: 'frame', child: 'crank', home: 0 }),
    item({ id: 'pin', name: 'Crank pin', type: 'revolute', parent: 'crank', child: 'rod' }),
    item({ id: 'block', name: 'Guide', type: 'prismatic', parent: 'frame', child: 'slide', axis: [1, 0, 0] }),
    item({ id: 'end', name: 'Gudgeon pin', type: 'revolute', parent: 'rod', child: 'slide', axis: [0, 0, 1] }),
  );
  b.motor('main', 60, { ...fields, motionOf: 'block' });
  return b;
}
