import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Design, readDesign } from '../document/index';
import { compile, poseOf } from '../kinematics/index';
import { lineAt } from '../math/index';
import { analyse } from '../checks/index';
import { Builder, item, state } from '../testing/designs';
import { type AlongLoad, Forces, STEEL, bearingForces, diagramOf, largestAlong, shaftDiagram } from './index';

const load = (at: number, force: [number, number, number], moment: [number, number, number] = [0, 0, 0]): AlongLoad => ({
  name: '',
  at,
  force,
  moment,
});
const bar = (from: number, to: number, outer: number, inner = 0) => ({ from, to, outer, inner });
const I = (d: number): number => (Math.PI * d ** 4) / 64;

describe('forces along a shaft', () => {
  // Tables of beams in any textbook of strength of materials (Gere and Timoshenko,
  // Mechanics of Materials, appendix on deflections); values computed from their formulas.
  it('a load in the middle of two supports: P·L/4, and P·L³/48EI', () => {
    const [P, L, d] = [800, 600, 30];
    const s = diagramOf('s', [load(0, [P / 2, 0, 0]), load(L / 2, [-P, 0, 0]), load(L, [P / 2, 0, 0])], [0, L], [bar(0, L, d)]);
    expect(largestAlong(s.at, s.resultant)).toEqual({ at: L / 2, value: expect.closeTo((P * L) / 4e3, 9) });
    const sag = (P * L ** 3) / (48 * STEEL * I(d));
    expect(lineAt(s.at, s.deflection![0], L / 2)).toBeCloseTo(-sag, 9);
    // The slope at the supports is P·L²/16EI.
    expect(Math.abs(s.slope![0][0])).toBeCloseTo((P * L * L) / (16 * STEEL * I(d)), 9);
    expect(Math.abs(s.shear[0][3])).toBe(P / 2);
  });
  it('an overhung load: P·a at the support, P·a²·(L + a)/3EI at its end', () => {
    const [P, L, a, d] = [500, 400, 150, 25];
    const s = diagramOf('s', [load(0, [0, (P * a) / L, 0]), load(L, [0, (-P * (L + a)) / L, 0]), load(L + a, [0, P, 0])], [0, L], [bar(0, L + a, d)]);
    expect(largestAlong(s.at, s.resultant)).toEqual({ at: L, value: expect.closeTo((P * a) / 1e3, 9) });
    expect(lineAt(s.at, s.deflection![1], L + a)).toBeCloseTo((P * a * a * (L + a)) / (3 * STEEL * I(d)), 9);
  });
  it('held by one joint: P·L³/3EI at the end of a cantilever, stepped as the sum of its parts', () => {
    const [P, L] = [100, 300];
    const [thick, thin] = [20, 12];
    const s = diagramOf('s', [load(0, [-P, 0, 0], [0, (-P * L) / 1e3, 0]), load(L, [P, 0, 0])], [0], [bar(0, L / 2, thick), bar(L / 2, L, thin)]);
    // Mohr: each half's curvature times its distance from the end.
    const end = (P / STEEL) * ((L ** 3 - (L / 2) ** 3) / (3 * I(thick)) + (L / 2) ** 3 / (3 * I(thin)));
    expect(lineAt(s.at, s.deflection![0], L)).toBeCloseTo(end, 8);
    expect(s.slope![0][0]).toBeCloseTo(0, 12);
  });
  it('turned between two wheels: the torsion stands between them alone, the bending of both planes adds as a hypotenuse', () => {
    const s = diagramOf(
      's',
      [load(0, [30, 40, 0]), load(100, [-60, -80, 0], [0, 0, 12]), load(300, [0, 0, 0], [0, 0, -12]), load(200, [30, 40, 0])].sort(
        (a, b) => a.at - b.at,
      ),
      [0, 200],
      [],
    );
    expect(lineAt(s.at, s.torsion, 50)).toBe(0);
    expect(Math.abs(lineAt(s.at, s.torsion, 250))).toBe(12);
    expect(lineAt(s.at, s.resultant, 100)).toBeCloseTo(5, 9);
    expect(s.deflection).toBeUndefined();
  });
  it('jumps at one place where two stand there but for rounding', () => {
    const s = diagramOf('s', [load(0, [0, 0, 0], [0, 0, 9]), load(1e-13, [1, 0, 0]), load(100, [-1, 0, 0], [0, 0.1, -9])], [0], []);
    expect(Math.abs(lineAt(s.at, s.torsion, s.loads[0].at))).toBe(9);
    expect(new Set(s.loads.map((l) => l.at)).size).toBe(2);
  });
  it('of any loads in balance: nothing is left beyond the last, and bending is the integral of shear', () => {
    const number = fc.double({ min: -1e3, max: 1e3, noNaN: true });
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.integer({ min: 1, max: 499 }), number, number, number), { minLength: 1, maxLength: 6 }), (list) => {
        const loads = list.map(([at, x, y, t]) => load(at, [x, y, 0], [0, 0, t]));
        const sum = (f: (l: AlongLoad) => number): number => loads.reduce((s, l) => s + f(l), 0);
        for (const k of [0, 1] as const) {
          const [total, first] = [sum((l) => l.force[k]), sum((l) => l.force[k] * l.at)];
          const far = -first / 500;
          const [a, b]: [number, number, number][] = [
            [0, 0, 0],
            [0, 0, 0],
          ];
          a[k] = -total - far;
          b[k] = far;
          loads.push(load(0, a), load(500, b));
        }
        loads.push(load(500, [0, 0, 0], [0, 0, -sum((l) => l.moment[2])]));
        const s = diagramOf(
          's',
          loads.sort((p, q) => p.at - q.at),
          [0, 500],
          [],
        );
        const last = s.at.length - 1;
        const scale = 1 + Math.max(...s.resultant);
        expect(Math.abs(s.bending[0][last]) / scale).toBeLessThan(1e-9);
        expect(Math.abs(s.bending[1][last]) / scale).toBeLessThan(1e-9);
        for (let i = 1; i <= last; i++) {
          const h = (s.at[i] - s.at[i - 1]) / 1e3;
          expect(Math.abs(s.bending[1][i] - s.bending[1][i - 1] + h * s.shear[0][i - 1]) / scale).toBeLessThan(1e-9);
          expect(Math.abs(s.bending[0][i] - s.bending[0][i - 1] - h * s.shear[1][i - 1]) / scale).toBeLessThan(1e-9);
        }
      }),
    );
  });
});

describe('a handbook’s worked shaft', () => {
  // Shigley's Mechanical Engineering Design, 9th ed., example 7-2 (from memory; recomputed
  // by statics): the intermediate shaft of a two-stage speed reducer. Wheels of
  // 12 in and 2.667 in, 2 in and 7.75 in from the left of two bearings
  // that are 10 in apart; 3240 lbf·in pass between them. lbf and in.
  it('bearings carry 375 and 1918 lbf; it bends with 750 lbf·in at the large wheel, and most with 4316 lbf·in at the small one', () => {
    const [lbf, inch] = [4.4482216152605, 25.4];
    const T = 3240;
    const b = new Builder().weightless();
    const { member, joint } = b.shaft([0, 0, 0]);
    const bearing = (at: number, thrust: string) => ({ at, thrust, form: 'rolling', inner: 25, outer: 52, width: 15, block: 'no' });
    state(b.design.joints[0], { bearings: [bearing(0, 'takes'), bearing(10 * inch, 'free')] });
    const wheel = (radius: number, along: number, sense: 1 | -1): void => {
      const tangential = T / radius;
      b.load('force', {
        member,
        at: [radius * inch, 0, along * inch],
        force: [-tangential * Math.tan(Math.PI / 9) * lbf, sense * tangential * lbf, 0],
      });
    };
    wheel(6, 2, 1);
    wheel(4 / 3, 7.75, -1);
    b.motor(joint, 0);
    const { forces } = analyse(b.design);
    forces.evaluate();
    const { bearings } = bearingForces(forces, joint)!;
    expect(bearings[0].radial / lbf / 375).toBeCloseTo(1, 2);
    expect(bearings[1].radial / lbf / 1918).toBeCloseTo(1, 3);
    const d = shaftDiagram(forces, member, false)!;
    const moment = (x: number): number => (x * 1e3) / lbf / inch;
    expect(moment(lineAt(d.at, d.resultant, 2 * inch)) / 750).toBeCloseTo(1, 2);
    const most = largestAlong(d.at, d.resultant);
    expect(most.at).toBeCloseTo(7.75 * inch, 9);
    expect(moment(most.value) / 4316).toBeCloseTo(1, 3);
    expect(Math.abs(moment(lineAt(d.at, d.torsion, 5 * inch)))).toBeCloseTo(T, 6);
    expect(lineAt(d.at, d.torsion, inch)).toBeCloseTo(0, 9);
  });
});

describe('the shaft of a design', () => {
  /** A pinion of 20 teeth and module 4 on a shaft between two bearings drives a wheel of 40 teeth, which 50 N·m load. */
  const shaft = (places: readonly [number, number], axis: [number, number, number] = [0, 0, 1]) => {
    const design = {
      format: 'unirota-design',
      version: 3,
      name: 'Lay shaft',
      settings: { gravity: [0, 0, 0] },
      members: [
        { id: 'a', name: 'Pinion shaft', kind: 'shaft', at: [0, 0, 0] },
        { id: 'b', name: 'Wheel shaft', kind: 'shaft', at: [120, 0, 0] },
      ],
      joints: [
        {
          id: 'ja',
          type: 'revolute',
          parent: 'frame',
          child: 'a',
          axis,
          bearings: [
            { at: places[0], outer: 47, inner: 20, width: 14, form: 'plain', block: 'no', thrust: 'takes' },
            { at: places[1], outer: 47, inner: 20, width: 14, form: 'plain', block: 'no', thrust: 'free' },
          ],
        },
        { id: 'jb', type: 'revolute', parent: 'frame', child: 'b' },
      ],
      elements: [
        { id: 'p', name: 'Pinion', type: 'gear', member: 'a', teeth: 20, module: 4, width: 30 },
        { id: 'w', name: 'Wheel', type: 'gear', member: 'b', teeth: 40, module: 4, width: 30 },
        { id: 'r', name: 'Bar', type: 'rod', member: 'a', diameter: 20, length: 240 },
      ],
      couplings: [{ id: 'c', type: 'gear-pair', a: 'p', b: 'w', efficiency: 1 }],
      sources: [{ id: 's', name: 'Motor', type: 'motor', joint: 'ja', speed: 100 * axis[2] }],
      loads: [{ id: 'l', name: 'Load', type: 'joint-load', joint: 'jb', value: 50 }],
      wanted: [],
    };
    const read = readDesign(design);
    expect(read.problems).toBeUndefined();
    const forces = new Forces(poseOf(compile(read.design as Design)));
    forces.velocity.set([(100 * Math.PI) / 30, -(50 * Math.PI) / 30]);
    forces.evaluate();
    return shaftDiagram(forces, 'a')!;
  };
  it('with a wheel in the middle of its two bearings: half of the tooth force at each, F·L/4 in bending, its torque from the wheel to the source', () => {
    const s = shaft([-100, 100]);
    // Ft = 50 / 0.08 = 625 N on the wheel's radius of 80 mm; F = Ft / cos 20°.
    const F = 625 / Math.cos(Math.PI / 9);
    expect(largestAlong(s.at, s.resultant)).toEqual({ at: expect.closeTo(0, 6), value: expect.closeTo((F * 0.2) / 4, 6) });
    expect(s.supports).toEqual([-100, 100]);
    const most = Math.hypot(lineAt(s.at, s.deflection![0], 0), lineAt(s.at, s.deflection![1], 0));
    expect(most).toBeCloseTo((F * 200 ** 3) / (48 * STEEL * I(20)), 7);
    // The torque of the source comes in at the joint, which has its place in the middle as well.
    expect(Math.max(...s.torsion.map(Math.abs))).toBeLessThan(1e-9);
  });
  it('is the same whichever way its joint points: bearings stand where they stand', () => {
    const [one, other] = [shaft([-60, 130]), shaft([-130, 60], [0, 0, -1])];
    expect(one.supports).toEqual([-60, 130]);
    expect(other.supports).toEqual([-60, 130]);
    for (const z of [-60, -20, 0, 60, 130]) {
      expect(lineAt(other.at, other.resultant, z)).toBeCloseTo(lineAt(one.at, one.resultant, z), 6);
      for (const k of [0, 1]) {
        expect(Math.abs(lineAt(one.at, one.deflection![k], z))).toBeCloseTo(Math.abs(lineAt(other.at, other.deflection![k], z)), 9);
      }
    }
    // F·a·b/L
    expect(largestAlong(one.at, one.resultant).value).toBeCloseTo(((625 / Math.cos(Math.PI / 9)) * 0.06 * 0.13) / 0.19, 6);
  });
});

describe('the largest along a shaft', () => {
  it('is the largest by size, with its place: the first of several, also at the second place or a negative one', () => {
    const at = Float64Array.of(0, 10, 20, 30);
    expect(largestAlong(at, Float64Array.of(1, 5, 2, 3))).toEqual({ at: 10, value: 5 });
    expect(largestAlong(at, Float64Array.of(1, 2, -7, 3))).toEqual({ at: 20, value: -7 });
    expect(largestAlong(at, Float64Array.of(4, -4, 1, 4))).toEqual({ at: 0, value: 4 });
    expect(largestAlong(new Float64Array(0), new Float64Array(0))).toEqual({ at: 0, value: 0 });
  });
});

describe('a shaft that is turned by hand', () => {
  /** A crank 212 mm to one side of its bearing, a pinion 40 mm to the other, which a load holds by its pair. */
  const made = (o: { swapped?: boolean; place?: number; crank?: boolean }): Builder => {
    const b = new Builder().weightless();
    const m = b.member([0, 0, 0]),
      w = b.shaft([60, 0, 0]);
    const j = o.swapped ? b.joint('revolute', m, 'frame') : b.joint('revolute', 'frame', m);
    b.mesh(b.gear(m, 20, 2, { at: [0, 0, 40] }), b.gear(w.member, 40, 2, { at: [0, 0, 40] }));
    const crank = b.element('crank', m, { radius: 350, handle: 120, section: 32, at: [0, 0, -212], axis: [0, 0, -1], up: [0, 1, 0] });
    b.load('joint-load', { joint: w.joint, value: 30 });
    b.design.sources.push(
      item({
        id: 'hand',
        name: 'Hand',
        type: 'crank',
        joint: j,
        speed: 30,
        ...(o.crank === false ? {} : { element: crank }),
        ...(o.place === undefined ? {} : { place: o.place }),
      }),
    );
    return b;
  };
  /** From where to where the shaft is twisted, mm, and by how much between. */
  const twisted = (b: Builder): { from: number; to: number; by: number[] } => {
    const forces = new Forces(poseOf(compile(b.design)));
    forces.evaluate();
    const s = shaftDiagram(forces, b.design.members[0].id, false)!;
    const [from, to] = [Math.min(...s.at), Math.max(...s.at)];
    return { from, to, by: [0.1, 0.5, 0.9].map((part) => Math.abs(lineAt(s.at, s.torsion, from + part * (to - from)))) };
  };
  // 30 N·m over 40 : 20.
  const BY = [15, 15, 15].map((x) => expect.closeTo(x, 9) as number);

  it('is twisted between its crank and what it drives, by the torque of the hand', () => {
    for (const swapped of [false, true]) expect(twisted(made({ swapped }))).toEqual({ from: -212, to: 40, by: BY });
  });
  it('where a place is stated the hand acts there; with neither, at the bearing', () => {
    expect(twisted(made({ place: -50 }))).toEqual({ from: -50, to: 40, by: BY });
    expect(twisted(made({ crank: false }))).toEqual({ from: 0, to: 40, by: BY });
  });
});
