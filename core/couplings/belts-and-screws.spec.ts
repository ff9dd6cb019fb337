import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { screwPitchDiameter } from '../elements/index';
import { Hand } from '../motion/index';
import { compile } from '../kinematics/index';
import { Builder } from '../testing/designs';
import { beltPath, screwEfficiency, tensionLimit } from './index';

import { contactsDoTheWorkOfTheRow, faults, ratio } from '../testing/coupled';

const RAD = Math.PI / 180;

describe('belts and chains', () => {
  const drive = (d1: number, d2: number, C: number, more: Record<string, unknown> = {}, pulley: Record<string, unknown> = {}) => {
    const b = new Builder();
    const s1 = b.shaft([0, 0, 0]),
      s2 = b.shaft([C, 0, 0]);
    const p1 = b.element('pulley', s1.member, { diameter: d1, width: 20, ...pulley }),
      p2 = b.element('pulley', s2.member, { diameter: d2, width: 20, ...pulley });
    b.couple('belt', { wheels: [p1, p2], ...more });
    b.motor(s1.joint, 600);
    return { b, s1, s2, p2 };
  };
  const lengthOf = (b: Builder): number => compile(b.design).couplings[0].model.derived!.find((d) => d.key === 'length')!.value as number;

  // Open and crossed belt: L and θ (Shigley, eqs. 17-1 to 17-4).
  it('have the textbook length and wrap, open and crossed', () => {
    const d = 100,
      D = 300,
      C = 700;
    const open = beltPath([
      { x: 0, y: 0, r: d / 2, side: 1 },
      { x: C, y: 0, r: D / 2, side: 1 },
    ]);
    const td = Math.PI - 2 * Math.asin((D - d) / (2 * C)),
      tD = 2 * Math.PI - td;
    expect(open.wraps[0]).toBeCloseTo(td, 12);
    expect(open.wraps[1]).toBeCloseTo(tD, 12);
    expect(open.length).toBeCloseTo(Math.sqrt(4 * C * C - (D - d) ** 2) + (D * tD + d * td) / 2, 9);
    const t = Math.PI + 2 * Math.asin((D + d) / (2 * C));
    expect(lengthOf(drive(d, D, C, { crossed: true }).b)).toBeCloseTo(Math.sqrt(4 * C * C - (D + d) ** 2) + ((D + d) * t) / 2, 9);
  });
  // T1/T2 = e^(fφ): e^(0.3π) = 2.566; a 38° groove raises it to e^(0.3π / sin 19°) (Shigley, section 17-2; from memory).
  it('slip at Euler’s ratio of tensions', () => {
    expect(tensionLimit(0.3, Math.PI)).toBeCloseTo(2.566, 3);
    expect(tensionLimit(0.3, Math.PI, 38 * RAD)).toBeCloseTo(Math.exp((0.3 * Math.PI) / Math.sin(19 * RAD)), 9);
  });
  it('turn alike when open, opposite when crossed, by exact diameters, with creep', () => {
    const o = drive(100, 300, 700);
    expect(ratio(o.b.design, o.s2.joint, o.s1.joint)).toBe('1/3');
    const x = drive(100, 300, 700, { crossed: true });
    expect(ratio(x.b.design, x.s2.joint, x.s1.joint)).toBe('-1/3');
    const c = drive(100, 300, 700, { creep: 0.02 });
    expect(ratio(c.b.design, c.s2.joint, c.s1.joint)).toBe('49/150');
    contactsDoTheWorkOfTheRow(o.b);
    contactsDoTheWorkOfTheRow(x.b);
  });
  it('turn by teeth when toothed, whatever the pitch', () => {
    const b = new Builder();
    const s1 = b.shaft([0, 0, 0]),
      s2 = b.shaft([200, 0, 0]),
      s3 = b.shaft([100, 60, 0]);
    const p = (m: string, teeth: number): string => b.element('pulley', m, { form: 'sprocket', teeth, pitch: 12.7, width: 8 });
    b.couple('chain', { wheels: [p(s1.member, 17), p(s2.member, 38), p(s3.member, 15)] });
    b.motor(s1.joint);
    expect(ratio(b.design, s2.joint, s1.joint)).toBe('17/38');
    expect(ratio(b.design, s3.joint, s1.joint)).toBe('17/15');
    contactsDoTheWorkOfTheRow(b);
  });
  it('turn an idler that bears from outside the other way', () => {
    const b = new Builder();
    const s1 = b.shaft([0, 0, 0]),
      s2 = b.shaft([300, 0, 0]),
      s3 = b.shaft([150, 60, 0]);
    const p = (m: string, diameter: number): string => b.element('pulley', m, { diameter, width: 20 });
    const [p1, p2, p3] = [p(s1.member, 100), p(s2.member, 100), p(s3.member, 50)];
    b.couple('belt', { wheels: [p1, p2, p3], outside: [p3] });
    b.motor(s1.joint);
    expect(ratio(b.design, s3.joint, s1.joint)).toBe('-2');
    contactsDoTheWorkOfTheRow(b);
  });
  it('load the shafts with both strands: pull and pre-tension', () => {
    const { b } = drive(100, 100, 500, { pretension: 200, efficiency: 1 });
    b.weightless();
    b.load('joint-load', { joint: b.design.joints[1].id, value: -10 });
    const r = analyse(b.design).forces.reactions();
    // Parallel strands: half of 10/0.05 N more in one, less in the other (Shigley,
    // eq. 17-8: the mean stays the pre-tension); the shaft is pulled by their sum.
    const a = analyse(b.design);
    expect([...a.forces.state.couplings[0].strands].sort((x, y) => x - y)).toEqual([expect.closeTo(100, 6), expect.closeTo(300, 6)]);
    expect(Math.abs(r[0])).toBeCloseTo(400, 6);
  });
  it('leaves the slack strand without tension when it is not pre-tensioned', () => {
    const { b } = drive(100, 100, 500, { efficiency: 1 });
    b.weightless();
    b.load('joint-load', { joint: b.design.joints[1].id, value: -10 });
    const a = analyse(b.design);
    expect(Math.min(...a.forces.state.couplings[0].strands)).toBeCloseTo(0, 9);
    expect(Math.abs(a.forces.reactions()[0])).toBeCloseTo(200, 6);
  });
  it('say when a wheel is out of line, when wheels overlap, and when pitches differ', () => {
    const o = drive(100, 300, 700);
    o.b.design.elements.find((e) => e.id === o.p2)!.at = [0, 0, 3];
    expect(analyse(o.b.design).findings.find((f) => f.code === 'belt-out-of-line')!.message).toContain('3 mm');
    expect(faults(drive(100, 300, 90).b.design).join()).toContain('too near');
    expect(faults(drive(100, 300, 700, {}, { form: 'sprocket', teeth: 20, pitch: 12 }).b.design).join()).toContain('does not suit a belt');
  });
});

describe('screws', () => {
  // Shigley, example 8-1: square thread 32 × 4, double, f = fc = 0.08, dc = 40
  // mm, 6.4 kN: 26.18 N·m to raise, 9.77 N·m to lower, e = 0.311 (from memory).
  it('need the torque of the textbook’s jack', () => {
    const e = screwEfficiency(8, 30, 0, 0.08, 0.08, 40);
    expect((6400 * 0.008) / (2 * Math.PI * e.forward)).toBeCloseTo(26.18, 2);
    expect((-e.backward * 6400 * 0.008) / (2 * Math.PI)).toBeCloseTo(9.77, 2);
    expect(e.forward).toBeCloseTo(0.311, 3);
    expect(e.backward).toBeLessThan(0);
    // A screw of a watch as one of a press: η = tan γ / tan(γ + ρ) (any text on screws).
    for (const size of [0.01, 1, 30]) {
      const [gamma, rho] = [Math.atan(8 / (30 * Math.PI)), Math.atan(0.08)];
      expect(screwEfficiency(8 * size, 30 * size, 0, 0.08).forward).toBeCloseTo(Math.tan(gamma) / Math.tan(gamma + rho), 12);
    }
  });
  // ISO 2904: pitch diameters d2 = d − P/2; Tr 40 × 7 has 36.5, Tr 32 × 6 has 29, Tr 16 × 4 has 14.
  it.each([
    [40, 7, 36.5],
    [32, 6, 29],
    [16, 4, 14],
  ])('Tr %i × %i has a pitch diameter of %f mm', (d, p, d2) => {
    expect(screwPitchDiameter({ id: 'e', name: 'e', type: 'screw', member: 'm', diameter: d, pitch: p })).toBe(d2);
  });
  const jack = (hand: 'right' | 'left', turning: 'screw' | 'nut') => {
    const b = new Builder();
    const turn = b.shaft([0, 0, 0]),
      slide = b.slide([0, 0, 0], [0, 0, 1]);
    const [s, n] = turning === 'screw' ? [turn, slide] : [slide, turn];
    b.couple('screw-drive', {
      a: b.element('screw', s.member, { diameter: 20, pitch: 4, starts: 2, hand, length: 200 }),
      b: b.element('nut', n.member, { outside: 40, bore: 20, length: 30 }),
    });
    b.motor(turn.joint);
    return { b, turn, slide };
  };
  it('carry the other part by lead and hand, whichever of the two turns', () => {
    // A right-hand screw turning + without travelling draws its nut to −z;
    // a nut turning + drives its screw to −(−z)… by the same relation.
    for (const [hand, turning, want] of [
      ['right', 'screw', '-8'],
      ['left', 'screw', '8'],
      ['right', 'nut', '-8'],
      ['left', 'nut', '8'],
    ] as const) {
      const { b, turn, slide } = jack(hand, turning);
      expect(ratio(b.design, slide.joint, turn.joint)).toBe(want);
      contactsDoTheWorkOfTheRow(b);
    }
  });
  it('balance power with friction in both senses', () => {
    for (const speed of [60, -60]) {
      const { b, slide } = jack('right', 'screw');
      b.design.sources[0].speed = speed;
      b.load('joint-load', { joint: slide.joint, value: -2000 });
      const l = analyse(b.design).ledger;
      expect(Math.abs(l.input - l.output - l.loss)).toBeLessThan(1e-9 * (Math.abs(l.input) + l.loss));
    }
  });
  it('are refused off their axis', () => {
    const { b } = jack('right', 'screw');
    b.design.elements[1].at = [1, 0, 0];
    expect(faults(b.design).join()).toContain('not on one axis');
  });
});

describe('rolling and proportional motion', () => {
  it('a wheel on a fixed track carries its axle π d per turn', () => {
    const b = new Builder();
    const car = b.slide([0, 0, 0], [1, 0, 0]),
      axle = b.shaft([0, 0, 0], car.member, { axis: [0, 1, 0] });
    b.couple('rolling', {
      a: b.element('wheel', axle.member, { diameter: 100, width: 20 }),
      b: b.element('track', 'frame', { length: 1000, width: 40, height: 30, at: [0, 0, -50], axis: [0, -1, 0], up: [1, 0, 0] }),
    });
    b.motor(car.joint, 10);
    const r = ratio(b.design, axle.joint, car.joint);
    expect(r).toMatch(/^-?1\/\(100π\)$/);
    contactsDoTheWorkOfTheRow(b);
  });
  it('two wheels roll on each other where their rims touch; else it says how far their axes stand and should', () => {
    const said = (apart: number): string | undefined => {
      const b = new Builder();
      const [s, t] = [b.shaft([0, 0, 0]), b.shaft([apart, 0, 0])];
      b.couple('rolling', {
        a: b.element('wheel', s.member, { diameter: 100, width: 20 }),
        b: b.element('wheel', t.member, { diameter: 60, width: 20 }),
      });
      b.motor(s.joint, 10);
      expect(ratio(b.design, t.joint, s.joint)).toBe('-5/3');
      return analyse(b.design).findings.find((f) => f.code === 'not-touching')?.message;
    };
    expect(said(80)).toBeUndefined();
    expect(said(82)).toMatch(/82 mm.*80 mm/);
  });
  /**
   * An arm about a post that carries an axle with a wheel of 100 mm,
   * 30° on; the wheel runs on top of a curved rail or hangs below it.
   */
  const turntable = (o: { radius: number; side?: 1 | -1; over?: 1 | -1; length?: number; off?: number; skew?: number; way?: 1 | -1 }) => {
    const { radius, side = 1, over = 1, length = radius, off = 0, skew = 0, way = 1 } = o;
    const b = new Builder();
    const post = b.shaft([0, 0, 70]);
    const out = (angle: number): [number, number, number] => [Math.cos(angle * RAD), Math.sin(angle * RAD), 0];
    const [x, y] = out(30).map((c) => c * (radius + off));
    const axle = b.shaft([x, y, 0], post.member, { axis: out(30 + skew).map((c) => way * c) as [number, number, number], up: [0, 0, 1] });
    const [tx, ty] = out(0).map((c) => c * radius);
    b.couple('rolling', {
      a: b.element('wheel', axle.member, { diameter: 100, width: 20 }),
      // The running face looks to the wheel; the track's own z to the post, or away from it where the radius is negative.
      b: b.element('track', 'frame', {
        length,
        width: 40,
        height: 30,
        curve: side * radius,
        at: [tx, ty, -50 * over],
        axis: [-side, 0, 0],
        up: [0, -side * over, 0],
      }),
    });
    b.motor(post.joint, 10);
    return { b, post, axle };
  };
  it('a wheel on a curve turns by the radius over its own, exactly, on either side of it and in whatever sense axes point', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 200, max: 9000 }),
        fc.constantFrom(1 as const, -1 as const),
        fc.constantFrom(1 as const, -1 as const),
        fc.constantFrom(1 as const, -1 as const),
        (radius, side, over, way) => {
          const { b, post, axle } = turntable({ radius, side, over, way, length: radius * 2 });
          expect(analyse(b.design).findings.filter((f) => f.severity !== 'note' && f.code !== 'engagement-open')).toEqual([]);
          const r = ratio(b.design, axle.joint, post.joint);
          expect(Math.abs(Number(r.split('/')[0]) / Number(r.split('/')[1] ?? 1))).toBeCloseTo(radius / 50, 12);
          // Rolling: the post turns about +z, so the arm moves to the left of
          // where it points; the touching point of the wheel stands still.
          expect(Math.sign(parseFloat(r))).toBe(-over * way);
          contactsDoTheWorkOfTheRow(b);
        },
      ),
      { numRuns: 24 },
    );
  });
  it('a wheel askew in its curve rolls by what lies along its axis, and it is said that it slides; beside the rail it rolls on nothing', () => {
    const said = (o: Parameters<typeof turntable>[0]): string[] => analyse(turntable(o).b.design).findings.map((f) => f.code);
    expect(said({ radius: 1000 })).not.toContain('askew-in-curve');
    const skew = analyse(turntable({ radius: 1000, skew: 5 }).b.design).findings.find((f) => f.code === 'askew-in-curve');
    expect(skew?.message).toMatch(/ 5° askew/);
    // Stated the other way round it is as much.
    expect(analyse(turntable({ radius: 1000, skew: -5, way: -1 }).b.design).findings.find((f) => f.code === 'askew-in-curve')?.message).toContain(
      '5° askew',
    );
    // Stops of 20° either side of 30°, and a rail of 600 mm either way from 0°: 34°, where 50° on 1 000 mm are needed.
    const short = turntable({ radius: 1000, length: 1200 }).b.design;
    Object.assign(short.joints[0], { lower: -20, upper: 20 });
    const left = analyse(short).findings.find((f) => f.code === 'leaves-engagement');
    expect(left?.message).toContain(`a track of ${((2 * 1000 * 50 * Math.PI) / 180).toFixed(1)} mm`);
    expect(said({ radius: 1000, off: 25 })).not.toContain('beside-track');
    expect(said({ radius: 1000, off: 35 })).toContain('beside-track');
    const tilted = turntable({ radius: 1000 });
    tilted.b.design.members.find((m) => m.id === tilted.axle.member)!.axis = [1, 0, 1];
    expect(faults(tilted.b.design).join()).toContain('point to the middle of its curve');
    const rail = (more: object): string => {
      const { b } = turntable({ radius: 1000 });
      Object.assign(b.design.elements[1], more);
      return faults(b.design).join();
    };
    expect(rail({ curve: 15 })).toContain('wider than its curve');
    expect(rail({ length: 7000 })).toContain('once round its curve are 6283.19 mm');
  });
  it('a curved track ends where it ends: 1500 mm of 1000 mm radius are 85.94°, half of it each way from its middle; a closed one never', () => {
    for (const side of [1, -1] as const) {
      const { b, post } = turntable({ radius: 1000, side, length: 1500 });
      const a = analyse(b.design);
      const way = new Hand(a.pose).interval(a.compiled.structure.firstOf.get(post.joint)!);
      // The wheel stands 30° on from the middle of the track.
      expect(way.upper!.at * 360).toBeCloseTo(0.75 / RAD - 30, 6);
      expect(way.lower!.at * 360).toBeCloseTo(-0.75 / RAD - 30, 6);
      expect(way.upper!.leaves).toContain('the track of 1500 mm');
    }
    const ring = analyse(turntable({ radius: 1000, length: 2 * Math.PI * 1000 }).b.design);
    expect(ring.findings.map((f) => f.code)).not.toContain('engagement-open');
  });
  it('two wheels turn by their diameters, opposite', () => {
    const b = new Builder();
    const s1 = b.shaft([0, 0, 0]),
      s2 = b.shaft([60, 0, 0]);
    b.couple('rolling', {
      a: b.element('wheel', s1.member, { diameter: 40, width: 20 }),
      b: b.element('wheel', s2.member, { diameter: 80, width: 20 }),
    });
    b.motor(s1.joint);
    expect(ratio(b.design, s2.joint, s1.joint)).toBe('-1/2');
    contactsDoTheWorkOfTheRow(b);
  });
  const dials = (amountB: number | string, more = {}) => {
    const b = new Builder();
    const knob = b.shaft([0, 0, 0]),
      pointer = b.shaft([50, 0, 0]),
      slide = b.slide([0, 50, 0], [1, 0, 0]),
      slide2 = b.slide([0, 90, 0], [1, 0, 0]);
    b.couple('proportional', { a: knob.joint, amountA: 1, b: pointer.joint, amountB, ...more });
    b.couple('proportional', { a: knob.joint, amountA: 1, b: slide.joint, amountB: 8 });
    b.couple('proportional', { a: slide.joint, amountA: 1, b: slide2.joint, amountB: 1.6 });
    b.motor(knob.joint);
    return { b, knob, pointer, slide, slide2 };
  };
  it('ties turn to turn, turn to travel and travel to travel exactly', () => {
    const d = dials(3.2);
    expect(ratio(d.b.design, d.pointer.joint, d.knob.joint)).toBe('16/5');
    expect(ratio(d.b.design, d.slide.joint, d.knob.joint)).toBe('8');
    expect(ratio(d.b.design, d.slide2.joint, d.knob.joint)).toBe('64/5');
    expect(ratio(d.b.design, d.knob.joint, d.slide.joint)).toBe('1/8');
    const r = dials('1/3', { reversed: true });
    expect(ratio(r.b.design, r.pointer.joint, r.knob.joint)).toBe('-1/3');
    contactsDoTheWorkOfTheRow(d.b);
  });
  it('says what it does in a sentence', () => {
    const d = dials(3.2);
    expect(compile(d.b.design).couplings[1].model.derived![0].value).toContain('moves');
    expect(compile(d.b.design).couplings[1].model.derived![0].value).toContain('8 mm');
  });
  it('stands off by its offset while the first is at zero', () => {
    const d = dials(2, { offset: 0.25 });
    const a = analyse(d.b.design);
    a.pose.solve([0], [2 * Math.PI]);
    expect(a.pose.q[1] / (2 * Math.PI)).toBeCloseTo(2.25, 12);
  });
});

describe('a loop of a rack and a screw', () => {
  it('mixes powers of π, so it is solved in floating point and stays consistent', () => {
    const b = new Builder();
    const turn = b.shaft([0, 0, 0]),
      slide = b.slide([0, 0, 0], [0, 0, 1]),
      p = b.shaft([20, 0, 0], 'frame', { axis: [0, 1, 0] });
    b.couple('screw-drive', {
      a: b.element('screw', turn.member, { diameter: 20, pitch: 4, length: 200 }),
      b: b.element('nut', slide.member, { outside: 30, bore: 20, length: 30 }),
    });
    b.couple('rack-mesh', {
      a: b.gear(p.member, 20, 1),
      b: b.element('rack', slide.member, { teeth: 60, module: 1, width: 10, height: 6, at: [10, 0, 0], axis: [0, -1, 0], up: [0, 0, 1] }),
    });
    b.couple('proportional', { a: turn.joint, amountA: 1, b: p.joint, amountB: 0.0637 });
    b.motor(turn.joint);
    const a = analyse(b.design);
    expect(a.compiled.reduction.mixed.length).toBe(1);
    expect(a.freedoms).toBe(0);
  });
});
