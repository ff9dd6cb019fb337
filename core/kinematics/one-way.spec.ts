import { describe, expect, it } from 'vitest';
import { Builder } from '../testing/designs';
import { Forces, nominalVelocities } from '../forces/index';
import { analyse } from '../checks/index';
import { compile, poseOf } from './index';
import { Hand } from '../motion/index';

const DEG = Math.PI / 180;

/** A ratchet wheel on the frame, fed by a pawl on an arm about the same axis and held by a second pawl on the frame. */
function feed(teeth: number, pawls = 1) {
  const b = new Builder().weightless();
  const arm = b.shaft([0, 0, 0]),
    wheel = b.shaft([0, 0, 0]);
  const rw = b.element('ratchet-wheel', wheel.member, { teeth, diameter: 80, width: 8 });
  const p1 = b.element('pawl', arm.member, { length: 30, width: 8, at: [0, 60, 0] });
  const p2 = b.element('pawl', 'frame', { length: 30, width: 8, at: [0, -60, 0] });
  b.couple('ratchet', { a: rw, b: p1, pawls });
  b.couple('ratchet', { a: rw, b: p2, pawls });
  b.motor(arm.joint, 10);
  return { b, arm, wheel };
}

describe('ratchet and pawl', () => {
  it('feeds the wheel a whole number of teeth for each stroke of the arm', () => {
    const { b } = feed(24);
    const m = poseOf(compile(b.design)),
      hand = new Hand(m);
    const stroke = (to: number): number => {
      for (const goal of [to, 0]) for (let k = 1, from = m.q[0]; k <= 20; k++) hand.move(0, from + ((goal * DEG - from) * k) / 20);
      return m.q[1] / DEG;
    };
    // 15° a tooth: a stroke of 40° takes two whole teeth; the wheel stands
    // while the arm goes back and is taken along on its way forward.
    expect(m.q[1]).toBe(0);
    expect(stroke(-40)).toBeCloseTo(30, 6);
    expect(stroke(-40)).toBeCloseTo(60, 6);
    expect(stroke(-44.9)).toBeCloseTo(90, 6);
    expect(stroke(-45.1)).toBeCloseTo(135, 6);
  });

  it('loses at most one tooth when turned back, and less with staggered pawls', () => {
    for (const [teeth, pawls] of [
      [24, 1],
      [24, 3],
      [10, 2],
    ]) {
      const b = new Builder().weightless();
      const wheel = b.shaft([0, 0, 0]);
      const rw = b.element('ratchet-wheel', wheel.member, { teeth, diameter: 80, width: 8 });
      b.couple('ratchet', { a: rw, b: b.element('pawl', 'frame', { length: 30, width: 8 }), pawls });
      b.motor(wheel.joint);
      const hand = new Hand(poseOf(compile(b.design)));
      const pitch = (2 * Math.PI) / teeth / pawls;
      hand.move(0, 10.4 * pitch);
      const back = hand.move(0, 0);
      expect(back.held?.which).toBe('pawl');
      expect(back.value).toBeCloseTo(10 * pitch, 6);
      expect(10.4 * pitch - back.value).toBeLessThan(pitch);
    }
  });

  it('lets go when it is lifted', () => {
    const b = new Builder().weightless();
    const wheel = b.shaft([0, 0, 0]);
    const rw = b.element('ratchet-wheel', wheel.member, { teeth: 24, diameter: 80, width: 8 });
    b.couple('ratchet', { a: rw, b: b.element('pawl', 'frame', { length: 30, width: 8 }), lifted: true });
    b.motor(wheel.joint);
    const hand = new Hand(poseOf(compile(b.design)));
    hand.move(0, 3);
    expect(hand.move(0, -2).value).toBeCloseTo(-2, 9);
  });

  it('carries the load that hangs on it when the source lets go, and nothing while the source drives', () => {
    const b = new Builder().weightless();
    const wheel = b.shaft([0, 0, 0]);
    const rw = b.element('ratchet-wheel', wheel.member, { teeth: 24, diameter: 80, width: 8 });
    const c = b.couple('ratchet', { a: rw, b: b.element('pawl', 'frame', { length: 30, width: 8 }) });
    b.motor(wheel.joint, 10);
    b.load('joint-load', { joint: wheel.joint, value: -12 });
    const m = poseOf(compile(b.design));
    const driven = new Forces(m);
    nominalVelocities(m, driven.velocity);
    expect(driven.evaluate().input[0]).toBeCloseTo(12, 9);
    expect(driven.state.couplings[0].port[0]).toBe(0);
    const letGo = new Forces(m, { driven: [] });
    expect(letGo.evaluate().couplings[0].port[0]).toBeCloseTo(12, 6);
    expect(letGo.state.input[0]).toBeCloseTo(0, 6);
    expect(c).toBeDefined();
  });

  it('is said to move one way instead of being left undriven', () => {
    const { b } = feed(24);
    const codes = analyse(b.design).findings.map((f) => f.code);
    expect(codes).toContain('moves-one-way');
    expect(codes).not.toContain('freedom-undriven');
  });
});

describe('one-way clutch', () => {
  const pair = (grips: 'forward' | 'back') => {
    const b = new Builder().weightless();
    const a = b.shaft([0, 0, 0]),
      d = b.shaft([0, 0, 0]);
    b.couple('one-way-clutch', { a: a.joint, b: d.joint, grips });
    b.motor(a.joint, 60);
    const m = poseOf(compile(b.design));
    return { m, hand: new Hand(m) };
  };

  it('takes the driven shaft along at once in one sense and leaves it standing in the other', () => {
    const { m, hand } = pair('forward');
    hand.move(0, 1);
    expect(m.q[1]).toBeCloseTo(1, 9);
    hand.move(0, -0.5);
    expect(m.q[1]).toBeCloseTo(1, 9);
    hand.move(0, 1.25);
    expect(m.q[1]).toBeCloseTo(2.75, 9);
    const back = pair('back');
    back.hand.move(0, 1);
    expect(back.m.q[1]).toBe(0);
    back.hand.move(0, -1);
    expect(back.m.q[1]).toBeCloseTo(-2, 9);
  });

  it('gives the driven shaft the driving speed when it grips', () => {
    const { m } = pair('forward');
    const f = new Forces(m);
    nominalVelocities(m, f.velocity);
    expect(f.velocity[1]).toBeCloseTo(2 * Math.PI, 9);
  });
});
