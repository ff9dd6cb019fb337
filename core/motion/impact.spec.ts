import { describe, expect, it } from 'vitest';
import { compile } from '../kinematics/index';
import { Builder } from '../testing/designs';
import { worstAgain } from '../testing/instants';
import { type RunResult, run } from './index';

const G = 9.80665;
const times = (r: RunResult, kind: string): number[] => r.events.filter((e) => e.kind === kind).map((e) => e.time);
const kinds = (r: RunResult): string[] => r.events.map((e) => e.kind);

/** A ball that falls from 1 m onto the lower stop of its slide. */
function ball(restitution?: number): Builder {
  const b = new Builder();
  const s = b.slide([0, 0, 0], [0, 0, 1], 'frame', { mass: 3, inertia: [1, 1, 1] });
  Object.assign(
    b.design.joints.find((j) => j.id === s.joint)!,
    { lower: -1000, restitution },
  );
  return b;
}

describe('restitution at a stop', () => {
  it('stays there where none is stated', () => {
    const r = run(compile(ball().design), { duration: 2, frames: 3 });
    expect(kinds(r)).toEqual(['stop-reached']);
    expect(r.q[2]).toBeCloseTo(-1, 9);
  });

  it('bounces as a ball does: each flight is e times as long as the one before', () => {
    // Falls for √(2h/g), then flies 2 e v/g, 2 e² v/g, and so on: common textbook of mechanics.
    const e = 0.6;
    const r = run(compile(ball(e).design), { duration: 1.6, frames: 8 });
    const fall = Math.sqrt(2 / G);
    const at = times(r, 'stop-reached');
    expect(at[0]).toBeCloseTo(fall, 7);
    for (let k = 1; k <= 3; k++) expect(at[k] - at[k - 1]).toBeCloseTo(2 * fall * e ** k, 6);
    expect(r.findings).toEqual([]);
  });

  it('comes to rest at last, after as long as the series of its flights says', () => {
    const e = 0.5;
    const fall = Math.sqrt(2 / G);
    const r = run(compile(ball(e).design), { duration: 2, frames: 5 });
    const last = times(r, 'stop-reached').at(-1)!;
    expect(last).toBeCloseTo(fall * (1 + (2 * e) / (1 - e)), 2);
    expect(r.q[r.frames - 1]).toBeCloseTo(-1, 9);
    expect(r.v[r.frames - 1]).toBe(0);
  });

  it('throws a train back with e times its speeds, whichever of its joints the stop is on', () => {
    for (const where of [0, 1]) {
      const b = new Builder().weightless();
      const shafts = [b.shaft([0, 0, 0], 'frame', { mass: 1, inertia: [1, 1, 2] }), b.shaft([30, 0, 0], 'frame', { mass: 1, inertia: [1, 1, 3] })];
      b.mesh(b.gear(shafts[0].member, 20), b.gear(shafts[1].member, 40));
      // 5 N·m on 2 + 3/4 kg·m² for one turn of the pinion.
      b.load('joint-load', { joint: shafts[0].joint, value: 5 });
      Object.assign(
        b.design.joints.find((j) => j.id === shafts[where].joint)!,
        where ? { lower: -180, restitution: 0.4 } : { upper: 360, restitution: 0.4 },
      );
      const acceleration = 5 / 2.75;
      const hit = Math.sqrt((2 * 2 * Math.PI) / acceleration);
      const r = run(compile(b.design), { duration: hit * 2, frames: 31 });
      const at = times(r, 'stop-reached');
      expect(at[0]).toBeCloseTo(hit, 6);
      expect(at[1] - at[0]).toBeCloseTo(2 * 0.4 * hit, 5);
    }
  });
});

/**
 * A follower that only weight keeps on a cam with jumps of speed: 90° of
 * rest, up 20 mm in 90° evenly, rest for 90°, down at once or evenly.
 */
function jumping(speed: number, segments: object[], coupling: object = {}): Builder {
  const b = new Builder();
  const cam = b.shaft([0, 0, 0], 'frame', { axis: [0, 1, 0], up: [1, 0, 0] });
  const e = b.element('cam', cam.member, { base: 60, width: 10, roller: 16, segments, phase: -90 });
  const stem = b.slide([0, 0, 0], [0, 0, 1], 'frame', { up: [1, 0, 0], mass: 2, massCentre: [0, 0, 60], inertia: [0, 0, 0] });
  const f = b.element('follower', stem.member, { size: 16, width: 10, at: [0, 0, 38], axis: [0, 1, 0], up: [1, 0, 0] });
  b.couple('cam-contact', { a: e, b: f, ...coupling });
  b.motor(cam.joint, speed);
  return b;
}
const UP = [
  { angle: 90, rise: 0, law: 'dwell' },
  { angle: 90, rise: 20, law: 'constant velocity' },
  { angle: 90, rise: 0, law: 'dwell' },
  { angle: 90, rise: -20, law: '4-5-6-7' },
];
const DROP = [
  { angle: 120, rise: 20, law: '4-5-6-7' },
  { angle: 60, rise: 0, law: 'dwell' },
  { angle: 4, rise: -20, law: 'snail drop' },
  { angle: 176, rise: 0, law: 'dwell' },
];

describe('a cam whose law jumps', () => {
  it('strikes its follower, throws it at the end of the rise, and has it back after the flight of a body thrown upwards', () => {
    const speed = 60;
    const c = compile(jumping(speed, UP).design);
    const r = run(c, { duration: 0.8, frames: 41 });
    expect(worstAgain(c, r)).toBeLessThan(1e-9);
    // 20 mm in a quarter of a second: struck to 80 mm/s, thrown with them, back after 2 v/g.
    const v = 0.08;
    expect(kinds(r)).toEqual(['follower-struck', 'follower-lifts', 'follower-lands']);
    expect(r.events[0].time).toBeCloseTo(0.25, 7);
    expect(r.events[0].message).toContain('80 mm/s');
    expect(r.events[1].time).toBeCloseTo(0.5, 7);
    expect(r.events[2].time).toBeCloseTo(0.5 + (2 * v) / G, 6);
  });

  it('does so whatever the frames, and the other way round as well', () => {
    const of = (frames: number, speed: number): number[] =>
      run(compile(jumping(speed, UP).design), { duration: 0.8, frames })
        .events.map((e) => e.time)
        .slice(0, 3);
    const few = of(3, 60),
      many = of(401, 60);
    expect(few).toHaveLength(3);
    few.forEach((t, k) => expect(t).toBeCloseTo(many[k], 6));
    // Backwards the even way is a fall from rest that begins at 180°, and ends at
    // 90° where it is caught: at 80 mm/s it is under the follower all the way.
    const back = run(compile(jumping(-60, UP).design), { duration: 0.8, frames: 41 });
    expect(kinds(back)).toEqual(['follower-lifts', 'follower-lands', 'follower-struck']);
    expect(back.events[0].time).toBeCloseTo(0.5, 7);
    // The roller falls g t²/2 till it has come as far as the cam's 80 mm/s.
    expect(back.events[1].time).toBeCloseTo(0.5 + (2 * 0.08) / G, 6);
  });

  it('lets its follower fall freely where it drops off', () => {
    const r = run(compile(jumping(60, DROP).design), { duration: 0.9, frames: 21 });
    expect(kinds(r)).toEqual(['follower-lifts', 'follower-lands']);
    expect(r.events[0].time).toBeCloseTo(0.5, 7);
    expect(r.events[1].time).toBeCloseTo(0.5 + Math.sqrt((2 * 0.02) / G), 6);
  });

  it('has its follower bounce by the stated restitution', () => {
    const e = 0.3;
    const r = run(compile(jumping(60, DROP, { restitution: e }).design), { duration: 0.9, frames: 21 });
    const at = times(r, 'follower-lands');
    const fall = Math.sqrt((2 * 0.02) / G);
    expect(at[1] - at[0]).toBeCloseTo(2 * e * fall, 6);
    expect(at[2] - at[1]).toBeCloseTo(2 * e * e * fall, 6);
  });

  it('follows its law where it is held by form, or where inertia is not counted', () => {
    expect(kinds(run(compile(jumping(60, UP, { held: 'form' }).design), { duration: 0.8, frames: 9 }))).toEqual([]);
    expect(kinds(run(compile(jumping(60, UP).design), { duration: 0.8, frames: 9, inertia: false }))).toEqual([]);
  });
});
