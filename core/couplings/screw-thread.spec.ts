import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { Forces, ledger } from '../forces/index';
import { compile, poseOf } from '../kinematics/index';
import { run } from '../motion/index';
import { Builder } from '../testing/designs';

/**
 * Shigley, example 8-1 without its collar: square thread 32 × 4, double, friction 0.08,
 * 6.4 kN: 15.94 N·m raise it and 0.466 N·m are given back when lowering (from memory).
 */
const JACK = { lead: 8, form: 'square', diameter: 30, friction: 0.08 } as const;

function jack(speed: number, stated: object = JACK, swapped = false): Builder {
  const b = new Builder().weightless();
  const m = b.member([0, 0, 0]);
  b.joint('screw', swapped ? m : 'frame', swapped ? 'frame' : m, stated);
  b.motor('j2', speed);
  b.load('force', { member: m, force: [0, 0, -6400] });
  return b;
}
const torque = (b: Builder): number => analyse(b.design).ledger!.sources[0].load;

describe('a screw joint whose thread rubs', () => {
  it('needs the textbook’s torque to raise, and gives back the textbook’s when it lowers', () => {
    expect(torque(jack(60))).toBeCloseTo(15.94, 2);
    expect(torque(jack(-60))).toBeCloseTo(0.466, 3);
    expect(torque(jack(60, { lead: 8 }))).toBeCloseTo((6400 * 0.008) / (2 * Math.PI), 9);
  });

  it('is the same with both members swapped, with either hand, and turns and travels as without', () => {
    // As the frame on the member it travels the other way for a positive turn.
    expect(Math.abs(torque(jack(-60, JACK, true)))).toBeCloseTo(15.94, 2);
    expect(torque(jack(-60, { ...JACK, hand: 'left' }))).toBeCloseTo(-15.94, 2);
    const a = analyse(jack(60).design);
    expect(a.freedoms).toBe(1);
    expect(a.findings.filter((f) => f.severity !== 'note')).toEqual([]);
    const r = run(a.compiled, { duration: 2, frames: 3 });
    expect(r.q[2 * r.coordinates + 1]).toBeCloseTo(0.016, 12);
  });

  it('counts what it loses, and says that it holds by itself where it does', () => {
    const m = poseOf(compile(jack(60).design));
    const l = ledger(m, new Forces(m));
    expect(l.efficiency).toBeCloseTo((6400 * 0.008) / (2 * Math.PI * 15.94), 3);
    expect(l.input - l.output).toBeCloseTo(l.loss, 9);
    const codes = analyse(jack(60, { ...JACK, friction: 0.1 }).design).findings.map((f) => f.code);
    expect(codes).toContain('self-locking');
    expect(analyse(jack(60, { ...JACK, diameter: undefined }).design).findings.map((f) => f.code)).toContain('thread-without-diameter');
  });

  it('rubs where it closes a loop as well', () => {
    // The load stands on a slide of its own; the screw between frame and slide is found after it.
    const b = new Builder().weightless();
    const s = b.slide([0, 0, 0], [0, 0, 1]);
    const nut = b.shaft([0, 0, 0]);
    b.joint('screw', nut.member, s.member, JACK);
    b.motor(nut.joint, -60);
    b.load('force', { member: s.member, force: [0, 0, -6400] });
    const a = analyse(b.design);
    expect(a.freedoms).toBe(1);
    expect(Math.abs(a.ledger!.sources[0].load)).toBeCloseTo(15.94, 2);
  });
});
