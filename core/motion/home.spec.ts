import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { compile } from '../kinematics/index';
import { Builder } from '../testing/designs';
import { Hand, run } from './index';

const codes = (b: Builder): string[] => analyse(b.design).findings.map((f) => f.code);

describe('home', () => {
  it('counts on any joint of the train: a wheel at 90° puts its pinion at −270°', () => {
    const b = new Builder();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([40, 0, 0])];
    b.mesh(b.gear(s1.member, 20, 1), b.gear(s2.member, 60, 1));
    b.motor(s1.joint);
    b.design.joints[1].home = 90;
    const { pose, findings } = analyse(b.design);
    expect(pose.q[0] / (2 * Math.PI)).toBeCloseTo(-0.75, 12);
    expect(findings.map((f) => f.code)).not.toContain('homes-contradict');
  });

  it('counts for every source, and those that contradict are named', () => {
    const b = new Builder();
    const [s1, s2, s3] = [b.shaft([0, 0, 0]), b.shaft([40, 0, 0]), b.shaft([0, 100, 0])];
    b.mesh(b.gear(s1.member, 20, 1), b.gear(s2.member, 60, 1));
    b.motor(s1.joint);
    b.motor(s3.joint);
    b.design.joints[0].home = 30;
    b.design.joints[2].home = -45;
    const { pose } = analyse(b.design);
    expect(pose.q[0]).toBeCloseTo(Math.PI / 6, 12);
    expect(pose.q[2]).toBeCloseTo(-Math.PI / 4, 12);
    b.design.joints[1].home = 5;
    const wrong = analyse(b.design).findings.filter((f) => f.code === 'homes-contradict');
    expect(wrong.map((f) => f.ids)).toEqual([[s2.joint]]);
    expect(wrong[0].message).toContain('stands at −10°');
    b.design.joints[1].home = -10;
    expect(codes(b)).not.toContain('homes-contradict');
  });
});

describe('many joints at once', () => {
  const slides = (n: number): Builder => {
    const b = new Builder();
    for (let k = 0; k < n; k++) {
      const s = b.slide([0, 50 * k, 0], [1, 0, 0], 'frame', { mass: 1, inertia: [1, 1, 1] });
      Object.assign(b.design.joints[k], { home: k, lower: -5, upper: 100 });
      b.load('joint-friction', { joint: s.joint, value: 1 });
    }
    return b;
  };

  it('stand at home, each by itself', () => {
    const { pose, findings } = analyse(slides(40).design);
    expect([...pose.q].map((q) => Number((q * 1000).toFixed(9)))).toEqual(Array.from({ length: 40 }, (_, k) => k));
    expect(findings.map((f) => f.code)).not.toContain('homes-contradict');
  });

  it('are held by friction, and come to their stops, however many they are', () => {
    const held = run(compile(slides(30).design), { duration: 0.1, frames: 2 });
    expect(Math.max(...held.q.map(Math.abs))).toBe(0);
    const b = slides(30);
    for (const j of b.design.joints) b.load('joint-load', { joint: j.id, value: 20 });
    const stopped = run(compile(b.design), { duration: 1, frames: 3 });
    expect(stopped.events.filter((e) => e.kind === 'stop-reached')).toHaveLength(30);
    for (const q of stopped.q.slice(-30)) expect(q).toBeCloseTo(0.1, 6);
  });
});

describe('stops on every freedom', () => {
  /** A sleeve that turns and slides on one axis, its travel led. */
  function sleeve(): Builder & { joint: string } {
    const b = new Builder();
    const m = b.member([0, 0, 0]);
    const joint = b.joint('cylindrical', 'frame', m);
    b.design.sources.push({ id: 's', name: 'Pusher', type: 'motor', joint: `${joint}:1`, speed: 10 });
    return Object.assign(b, { joint });
  }

  it('hold the travel of a sleeve that may turn as well, typed either way round', () => {
    for (const [lower2, upper2] of [
      [-5, 25],
      [25, -5],
    ]) {
      const b = sleeve();
      Object.assign(b.design.joints[0], { lower2, upper2 });
      const a = analyse(b.design);
      const hand = new Hand(a.pose);
      expect(hand.interval(1).upper!.at).toBeCloseTo(25, 12);
      expect(hand.move(1, 0.1)).toMatchObject({ held: { joint: b.joint, which: 'upper' } });
      expect(a.pose.q[1]).toBeCloseTo(0.025, 12);
      // 10 mm/s: 2.5 s.
      const r = run(compile(b.design), { duration: 4, frames: 9 });
      expect(r.events.map((e) => [e.kind, Number(e.time.toFixed(6))])).toEqual([['stop-reached', 2.5]]);
      expect(r.events[0].message).toContain('travel');
    }
  });

  it('say by the name of the freedom that its home lies outside', () => {
    const b = sleeve();
    Object.assign(b.design.joints[0], { lower2: 0, upper2: 10, home2: 12 });
    const f = analyse(b.design).findings.find((x) => x.code === 'home-outside-stops')!;
    expect(f.message).toContain('(travel)');
    expect(f.field).toBe('home2');
  });
});
