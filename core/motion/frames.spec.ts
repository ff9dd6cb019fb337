import { describe, expect, it } from 'vitest';
import { compile } from '../kinematics/index';
import { Builder } from '../testing/designs';
import { run } from './index';

/** A 24-tooth ratchet wheel, its pawl on a lever that goes to and fro by 32° in a second. */
function feed(): Builder {
  const b = new Builder().weightless();
  const w = b.shaft([0, 0, 0]),
    l = b.shaft([0, 0, 0]);
  const wheel = b.element('ratchet-wheel', w.member, { teeth: 24, diameter: 100, width: 10 });
  b.couple('ratchet', { a: wheel, b: b.element('pawl', l.member, { length: 40, width: 10 }) });
  b.motor(l.joint, 10, { profile: 'to and fro', amount: 32, time: 1 });
  return b;
}

describe('what happens in a led run does not depend on the frames asked for', () => {
  const FRAMES = [2, 5, 11, 61, 401];

  it('a ratchet is fed by 32° and then by two teeth a stroke: 122° in four', () => {
    for (const frames of FRAMES) {
      const r = run(compile(feed().design), { duration: 4, frames, stand: true });
      expect((r.q[(r.frames - 1) * r.coordinates] * 180) / Math.PI).toBeCloseTo(32 + 3 * 30, 6);
      expect(r.events.filter((e) => e.kind === 'pawl-grips')).toHaveLength(4);
      expect(r.events.filter((e) => e.kind === 'pawl-lets-go').map((e) => Number(e.time.toFixed(6)))).toEqual([0.5, 1.5, 2.5, 3.5]);
    }
  });

  it('a feed pawl and a holding pawl under back load: 10 teeth and a lever of 50° feed 50° and hold at 36°', () => {
    for (const frames of FRAMES) {
      const b = new Builder().weightless();
      const w = b.shaft([0, 0, 0]),
        l = b.shaft([0, 0, 0]);
      const wheel = b.element('ratchet-wheel', w.member, { teeth: 10, diameter: 100, width: 10 });
      const pawl = (on: string) => b.element('pawl', on, { length: 40, width: 10 });
      b.couple('ratchet', { a: wheel, b: pawl(l.member) });
      b.couple('ratchet', { a: wheel, b: pawl('frame') });
      b.load('joint-load', { joint: w.joint, value: -1 });
      b.motor(l.joint, 10, { profile: 'to and fro', amount: 50, time: 1 });
      const at = (duration: number): number => {
        const r = run(compile(b.design), { duration, frames });
        return (r.q[(r.frames - 1) * r.coordinates] * 180) / Math.PI;
      };
      expect(at(0.5)).toBeCloseTo(50, 4);
      expect(at(1)).toBeCloseTo(36, 4);
      // The next stroke takes the wheel up where it is held: 36° + 50°, held at 72°.
      expect(at(1.5)).toBeCloseTo(86, 4);
      expect(at(2)).toBeCloseTo(72, 4);
    }
  });

  it('a stop that is met and left between two frames is met and left', () => {
    for (const frames of FRAMES) {
      const b = new Builder().weightless();
      const s = b.shaft([0, 0, 0], 'frame');
      b.design.joints[0].upper = 20;
      b.motor(s.joint, 10, { profile: 'to and fro', amount: 30, time: 1, speedShape: 'harmonic' });
      const r = run(compile(b.design), { duration: 1, frames });
      const kinds = r.events.map((e) => e.kind);
      expect(kinds.slice(0, 2)).toEqual(['stop-reached', 'stop-left']);
      // Harmonic out in half a second: 15° (1 − cos 2πt) = 20° where cos 2πt = −1/3.
      expect(r.events[0].time).toBeCloseTo(Math.acos(-1 / 3) / (2 * Math.PI), 6);
    }
  });

  it('a follower leaves its cam at the same time however few frames there are', () => {
    const times = FRAMES.map((frames) => {
      const b = new Builder().weightless();
      const c = b.shaft([0, 0, 0]);
      const f = b.slide([40, 0, 0], [1, 0, 0], 'frame', { mass: 1 });
      const cam = b.element('cam', c.member, {
        base: 80,
        roller: 0,
        width: 10,
        segments: [
          { angle: 180, rise: 20, law: 'harmonic' },
          { angle: 180, rise: -20, law: 'harmonic' },
        ],
        follower: 'knife',
      });
      const e = b.element('follower', f.member, { form: 'knife', size: 10, width: 10 });
      b.couple('cam-contact', { a: cam, b: e });
      b.load('joint-load', { joint: f.joint, value: -2 });
      b.motor(c.joint, 240);
      const r = run(compile(b.design), { duration: 0.2, frames });
      return r.events.find((x) => x.kind === 'follower-lifts')?.time;
    });
    for (const t of times) expect(t).toBeCloseTo(times[times.length - 1]!, 6);
    // s = 10 (1 − cos ωt) mm: the acceleration falls to −F/m where ω² 10 mm cos ωt = −2 m/s².
    const w = 8 * Math.PI;
    expect(times[0]).toBeCloseTo(Math.acos(-2 / (0.01 * w * w)) / w, 5);
  });
});
