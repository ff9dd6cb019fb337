import type { JointLoad } from '../loads/joint-load';
import { describe, expect, it } from 'vitest';
import { withWeight } from '../edits/index';
import { insertStage, withInputShaft } from '../sizing/index';
import { analyse } from '../checks/index';
import { touch } from '../cams/index';
import { type Design, emptyDesign } from '../document/index';
import { camOf } from '../elements/index';
import { Forces, nominalVelocities } from '../forces/index';
import { compile, poseOf } from '../kinematics/index';
import { Vec3 } from '../math/index';
import { Builder, item, state } from '../testing/designs';

const SEGMENTS = [
  { angle: 120, rise: 16, law: 'modified sine' },
  { angle: 40, rise: 0, law: 'dwell' },
  { angle: 140, rise: -16, law: '4-5-6-7' },
  { angle: 60, rise: 0, law: 'dwell' },
];

/** A cam about z at the origin; its follower slides along x, or swings about a pivot on x. */
function drive(cam: Record<string, unknown> = {}, coupling: Record<string, unknown> = {}) {
  const b = new Builder().weightless();
  const shaft = b.shaft([0, 0, 0]);
  const swing = cam['carries'] === 'swinging';
  const segments = SEGMENTS.map((s) => ({ ...s, rise: swing ? s.rise * 0.8 : s.rise }));
  const e = b.element('cam', shaft.member, { base: 80, width: 10, roller: 20, segments, ...cam });
  const data = camOf(b.design.elements[0]);
  if (typeof data === 'string') throw new Error(data);
  const t = touch(data.shape, 0, 0).trace;
  const f = swing ? b.shaft([data.shape.distance, 0, 0]) : b.slide([0, 0, 0], [1, 0, 0], 'frame', { up: [0, 1, 0] });
  // Local coordinates of the follower's member: a shaft has the world's
  // axes; the slide's z is the world's x and its x the world's y.
  const at: Vec3 = swing ? [t[0] - data.shape.distance, t[1], 0] : [t[1], 0, t[0]];
  const roller = b.element('follower', f.member, { form: cam['follower'] ?? 'roller', size: 20, width: 10, at });
  b.couple('cam-contact', { a: e, b: roller, ...coupling });
  b.motor(shaft.joint, 60);
  b.load('joint-load', { joint: f.joint, value: swing ? (cam['armSide'] === 'right' ? -5 : 5) : -200 });
  return { b, data, shaft, f };
}
const codes = (d: Design): string[] =>
  analyse(d)
    .findings.filter((x) => x.severity !== 'note')
    .map((x) => x.code);

const KINDS: [string, Record<string, unknown>][] = [
  ['translating roller', {}],
  ['translating roller with offset', { offset: 12 }],
  ['translating knife edge', { follower: 'knife' }],
  ['translating flat face', { follower: 'flat' }],
  ['swinging roller', { carries: 'swinging', distance: 110, arm: 90 }],
  ['swinging roller, arm on the right', { carries: 'swinging', distance: 110, arm: 90, armSide: 'right' }],
  ['swinging flat face', { carries: 'swinging', follower: 'flat', distance: 110 }],
];

describe('cam and follower', () => {
  it.each(KINDS)('%s: one freedom, and the follower moves by the law', (_n, cam) => {
    const { b, data, f } = drive(cam);
    const a = analyse(b.design);
    expect(a.freedoms).toBe(1);
    const m = poseOf(compile(b.design));
    const i = m.compiled.structure.firstOf.get(f.joint)!;
    const k = data.shape.motion === 'swinging' ? 1 : 1e-3;
    let most = 0;
    for (const phi of [0.4, 1.1, 2, 2.6, 3.5, 5]) {
      expect(m.solve([0], [phi])).toBe('ok');
      const [y] = data.motion.at(phi);
      expect(Math.abs(m.q[i])).toBeCloseTo(k * y, 9);
      most = Math.max(most, Math.abs(m.q[i]));
    }
    expect(most).toBeGreaterThan(0);
  });

  it.each(KINDS)('%s: takes the torque that virtual work asks, and the contact does no other work', (_n, cam) => {
    const { b, f } = drive(cam);
    const m = poseOf(compile(b.design));
    const i = m.compiled.structure.firstOf.get(f.joint)!;
    const forces = new Forces(m);
    for (const phi of [0.6, 1.3, 3.2, 4.4]) {
      m.solve([0], [phi]);
      nominalVelocities(m, forces.velocity);
      const s = forces.evaluate();
      const { value: load = 0 }: JointLoad = b.design.loads[0];
      expect(s.input[0] * forces.velocity[0]).toBeCloseTo(-load * forces.velocity[i], 9);
      // The bearing's reaction has no moment about the shaft but the motor's: the contact force goes through the real contact point.
      const R = forces.reactions();
      expect(R[5]).toBeCloseTo(s.input[0], 8);
      expect(s.couplings[0].tangential).toBeGreaterThan(0);
    }
  });

  it('gives what friction takes as a loss', () => {
    const { b } = drive({}, { efficiency: 0.8 });
    const m = poseOf(compile(b.design)),
      f = new Forces(m);
    m.solve([0], [1]);
    nominalVelocities(m, f.velocity);
    const s = f.evaluate();
    expect(s.couplings[0].loss).toBeCloseTo(0.2 * s.input[0] * f.velocity[0], 9);
  });

  it('pulls only where a groove holds the follower', () => {
    const by = (held: string): number => {
      const { b } = drive({}, { held });
      state(b.design.loads[0], { value: 200 });
      const m = poseOf(compile(b.design)),
        f = new Forces(m);
      m.solve([0], [1]);
      nominalVelocities(m, f.velocity);
      return f.evaluate().couplings[0].tangential;
    };
    // By form the force is a size along the normal; by force its sign says that the follower would leave.
    expect(Math.abs(by('form'))).toBeCloseTo(Math.abs(by('force')), 9);
    expect(by('force')).toBeLessThan(0);
  });

  it('says what cannot be: motion, joint, place, sizes', () => {
    const change = (d: Design, more: object): Design => ({ ...d, elements: d.elements.map((e, i) => (i ? e : { ...e, ...more })) });
    const { b } = drive();
    expect(codes(b.design)).toEqual([]);
    expect(codes(change(b.design, { segments: [{ angle: 300, rise: 0, law: 'dwell' }] }))).toContain('cam-motion');
    expect(codes(change(b.design, { segments: [] }))).toContain('cam-motion');
    expect(codes(change(b.design, { carries: 'swinging' }))).toContain('follower-joint');
    expect(codes(change(b.design, { base: 100 }))).toContain('follower-off-cam');
    expect(codes(change(b.design, { offset: 60 }))).toContain('cam-motion');
    const steep = SEGMENTS.map((s, i) => ({ ...s, angle: [30, 130, 140, 60][i] }));
    expect(codes(change(b.design, { segments: steep }))).toContain('cam-pressure-angle');
    expect(codes(change(b.design, { base: 40, roller: 80, segments: steep }))).toContain('cam-undercut');
  });

  it('takes its motion from a table of points where one is stated', () => {
    const points = [0, 60, 150, 220, 300].map((angle, i) => ({ angle, value: [0, 8, 14, 9, 1][i] }));
    const { b, f } = drive({ points });
    const m = poseOf(compile(b.design));
    const i = m.compiled.structure.firstOf.get(f.joint)!;
    for (const p of points) {
      m.solve([0], [(p.angle * Math.PI) / 180]);
      expect(m.q[i] * 1e3).toBeCloseTo(p.value, 8);
    }
  });
  it('held by force with nothing that presses is a caution, also standing still; a spring, or form, is not', () => {
    const begun = withInputShaft(emptyDesign('Cam'), { type: 'motor', name: 'Motor' });
    const d = insertStage(begun.design, { kind: 'cam', from: begun.output })!.design;
    const said = (x: Design): boolean => analyse(x).findings.some((f) => f.code === 'follower-not-pressed');
    expect(said(d)).toBe(false);
    // Its slide lies level: without the spring only friction would keep it there.
    const loose = { ...withWeight(d, false), loads: [] };
    expect(said(loose)).toBe(true);
    expect(said({ ...loose, sources: loose.sources.map((s) => ({ ...s, speed: 0 })) })).toBe(true);
    expect(said({ ...loose, couplings: loose.couplings.map((c) => item({ ...c, held: 'form' })) })).toBe(false);
    // One that pulls it off is said as well.
    expect(said({ ...d, loads: d.loads.map((l) => item({ ...l, preload: 50 })) })).toBe(true);
  });
});
