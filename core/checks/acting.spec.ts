import { describe, expect, it } from 'vitest';
import { curesFor } from '../sizing/index';
import type { Design, Finding } from '../fields/types';
import { Builder, state } from '../testing/designs';
import { sliderCrank } from '../testing/mechanisms';
import { analyse } from './analyse';

const said = (d: Design, code: string): Finding | undefined => analyse(d).findings.find((f) => f.code === code);
/** The design after the first fix of a finding. */
function fixed(d: Design, code: string): Design {
  return curesFor(d, said(d, code)!)[0].apply(d);
}

describe('findings about home', () => {
  const pair = () => {
    const b = new Builder().weightless();
    const m = b.shaft([0, 0, 0]),
      o = b.shaft([60, 0, 0]);
    b.mesh(b.gear(m.member, 20, 2), b.gear(o.member, 40, 2, { phase: 4.5 }));
    b.motor(m.joint);
    state(b.design.joints[1], { lower: -30, upper: 30 });
    return b;
  };
  it('says that a home puts another joint beyond its stop', () => {
    const b = pair();
    state(b.design.joints[0], { home: -40 });
    expect(said(b.design, 'home-beyond-train-stop')).toBeUndefined();
    state(b.design.joints[0], { home: -90 });
    expect(said(b.design, 'home-beyond-train-stop')).toMatchObject({ ids: [b.design.joints[1].id], message: expect.stringContaining('45°') });
  });
  it('of a second freedom outside its stops has a fix that works', () => {
    const b = new Builder().weightless();
    const m = b.member([0, 0, 0]);
    const j = b.joint('cylindrical', 'frame', m, { lower2: 5, upper2: 20, home2: '127/5' });
    b.motor(j);
    expect(said(b.design, 'home-outside-stops')).toMatchObject({ field: 'home2' });
    const after = fixed(b.design, 'home-outside-stops');
    expect(after.joints[0]).toMatchObject({ home2: 20 });
    expect(said(after, 'home-outside-stops')).toBeUndefined();
  });
});

describe('findings about what acts', () => {
  it('a torque across the axis of its shaft drives nothing; turned about the axis it does', () => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0], 'frame', { axis: [0, 1, 0] });
    b.motor(s.joint);
    b.load('torque', { member: s.member, torque: [0, 0, 5] });
    expect(said(b.design, 'load-without-work')).toMatchObject({ severity: 'caution', cures: ['about-its-axis'] });
    const after = fixed(b.design, 'load-without-work');
    expect(after.loads[0]).toMatchObject({ torque: [0, 5, 0] });
    expect(said(after, 'load-without-work')).toBeUndefined();
    expect(Math.abs(analyse(after).ledger.sources[0].load)).toBeCloseTo(5, 9);
  });
  it('a force through the axis only loads the bearings: a note; one beside it is none', () => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]);
    b.motor(s.joint);
    const l = b.load('force', { member: s.member, at: [0, 0, 20], force: [100, 0, 0] });
    expect(said(b.design, 'load-without-work')).toMatchObject({ severity: 'note' });
    state(
      b.design.loads.find((x) => x.id === l)!,
      { at: [0, 10, 20] },
    );
    expect(said(b.design, 'load-without-work')).toBeUndefined();
  });
  it('a stated mass that turns about its own axis needs moments of inertia', () => {
    const b = new Builder();
    const s = b.shaft([0, 0, 0], 'frame', { mass: 3 });
    b.motor(s.joint);
    expect(said(b.design, 'mass-without-inertia')?.ids).toEqual([s.member]);
    state(b.design.members[0], { inertia: [0.1, 0.1, 0.1] });
    expect(said(b.design, 'mass-without-inertia')).toBeUndefined();
  });
  it('near a dead point forces grow without bound, and it is said', () => {
    const at = (theta: number): Finding | undefined => {
      const { b, crank, slider } = sliderCrank(50, 160, theta);
      // The slider is led: at the dead centre it can hardly turn the crank.
      b.design.sources = [];
      b.motor(slider.joint, 10);
      b.load('joint-load', { joint: crank.joint, value: 20 });
      return said(b.design, 'forces-without-bound');
    };
    expect(at(0.5)).toBeUndefined();
    expect(at(1e-5)).toMatchObject({ severity: 'caution' });
  });
  it('where two axes of a ball joint fall together, a load along one of them has no bound: figures stay finite, and it is said', () => {
    const at = (home2: number, load = 5): { forces: number[]; found?: Finding } => {
      const b = new Builder().weightless();
      const m = b.member([0, 0, 0], { mass: 1, inertia: [0.1, 0.1, 0.1] });
      const j = b.joint('spherical', 'frame', m, { home2 } as object);
      b.load('joint-load', { joint: j, value: load });
      const a = analyse(b.design);
      return { forces: [...a.forces.reactions()], found: a.findings.find((f) => f.code === 'forces-without-bound') };
    };
    expect(at(30).found).toBeUndefined();
    expect(at(90, 0).found).toBeUndefined();
    for (const home2 of [90, 89.9999999]) {
      expect(at(home2).forces.every(Number.isFinite)).toBe(true);
      expect(at(home2).found).toMatchObject({ severity: 'caution' });
    }
  });
  it('a design in which nothing can move is never without a fault', () => {
    const b = new Builder();
    const [p, q] = [b.member([0, 0, 0]), b.member([100, 0, 0])];
    b.joint('revolute', 'frame', p);
    b.joint('revolute', 'frame', q);
    b.joint('revolute', p, q, { at: [-50, 80, 0] });
    expect(said(b.design, 'no-motion')).toMatchObject({ severity: 'fault' });
    expect(said(b.design, 'no-motion')!.message).toMatch(/^no motion possible/);
  });
  it('what only follows from a member that nothing carries says so', () => {
    const b = new Builder();
    const s = b.shaft([0, 0, 0]);
    const loose = b.member([60, 0, 0]);
    const c = b.mesh(b.gear(s.member, 20, 2), b.gear(loose, 40, 2));
    b.motor(s.joint);
    const after = analyse(b.design).findings.filter((f) => f.ids.includes(c));
    expect(after.length).toBeGreaterThan(0);
    for (const f of after) expect(f.because).toEqual([loose]);
  });
});
