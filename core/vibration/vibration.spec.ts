import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { EigenvalueDecomposition, Matrix as Independent, SVD } from 'ml-matrix';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import type { Design } from '../fields/types';
import { Forces } from '../forces/index';
import { poseOf } from '../kinematics/index';
import { cholesky, solveRows, symmetricEigen } from '../math/index';
import { Builder, state } from '../testing/designs';
import { sliderCrank } from '../testing/mechanisms';
import { crossingsOf, excitationsOf } from './campbell';
import { type SpringTrain, springTrain } from './model';
import { type Modes, complianceOf, modesOf } from './modes';
import { vibrationOf } from './report';
import { SHEAR, complianceBetween } from './shafts';

const TURN = 2 * Math.PI;
const trainOf = (d: Design, held = false): SpringTrain => springTrain(new Forces(poseOf(analyse(d).compiled)), held);
const frequencies = (m: Modes): number[] => m.modes.map((x) => x.frequency);
const near = (got: number, wanted: number, within = 1e-9): void => expect(Math.abs(got / wanted - 1)).toBeLessThan(within);

describe('eigenvalues', () => {
  const symmetric = fc
    .integer({ min: 1, max: 9 })
    .chain((n) =>
      fc
        .array(fc.double({ min: -5, max: 5, noNaN: true }), { minLength: n * n, maxLength: n * n })
        .map((x) => Array.from({ length: n }, (_, i) => Float64Array.from({ length: n }, (_, j) => x[i * n + j] + x[j * n + i]))),
    );
  it('of symmetric matrices are those of ml-matrix, a general library; vectors are square to each other', () => {
    fc.assert(
      fc.property(symmetric, (a) => {
        const own = symmetricEigen(a);
        const other = new EigenvalueDecomposition(new Independent(a.map((r) => [...r])), { assumeSymmetric: true }).realEigenvalues.sort(
          (x, y) => x - y,
        );
        own.values.forEach((v, i) => expect(v).toBeCloseTo(other[i], 8));
        own.vectors.forEach((u, i) => own.vectors.forEach((w, j) => expect(u.reduce((s, x, k) => s + x * w[k], 0)).toBeCloseTo(i === j ? 1 : 0, 9)));
      }),
      { seed: 5, numRuns: 100 },
    );
  });
  it('what is not positive definite has no triangle', () => {
    expect(cholesky([Float64Array.of(1, 2), Float64Array.of(2, 1)])).toBeUndefined();
  });
  it('rows are solved one after the other; what follows from others is left out: as many are kept as the rank that ml-matrix finds', () => {
    const matrix = fc.tuple(fc.integer({ min: 1, max: 6 }), fc.integer({ min: 1, max: 6 })).chain(([m, n]) =>
      fc.array(fc.integer({ min: -4, max: 4 }), { minLength: m * n, maxLength: m * n }).map((x) => ({
        n,
        rows: Array.from({ length: m }, (_, i) => Float64Array.from(x.slice(i * n, (i + 1) * n))),
      })),
    );
    fc.assert(
      fc.property(matrix, ({ n, rows }) => {
        const { kept, pivot, inverse, basis } = solveRows(rows, n);
        expect(kept.length).toBe(new SVD(new Independent(rows.map((r) => [...r])), { autoTranspose: true }).rank);
        expect(basis.length).toBe(n - kept.length);
        for (const b of basis) for (const r of rows) expect(r.reduce((s, x, i) => s + x * b[i], 0)).toBeCloseTo(0, 9);
        // The motion in which one kept row alone gives by 1.
        kept.forEach((_, k) => {
          const x = new Float64Array(n);
          pivot.forEach((p, i) => (x[p] = inverse[i][k]));
          kept.forEach((at, i) => expect(rows[at].reduce((s, v, j) => s + v * x[j], 0)).toBeCloseTo(i === k ? 1 : 0, 9));
        });
      }),
      { seed: 3, numRuns: 300 },
    );
  });
});

/** Flat discs of steel on one shaft of a bar: places mm, diameters mm, all 20 mm wide. */
function discs(
  places: readonly (readonly [at: number, diameter: number])[],
  bar = 20,
  more: (b: Builder, s: { member: string; joint: string }) => void = () => undefined,
): Design {
  const b = new Builder().weightless();
  const s = b.shaft([0, 0, 0], 'frame', { name: 'Shaft' });
  const from = places[0][0];
  const to = places[places.length - 1][0];
  for (const [at, diameter] of places) b.element('pulley', s.member, { form: 'flat', diameter, width: 20, at: [0, 0, at] });
  b.element('rod', s.member, { diameter: bar, length: to - from, at: [0, 0, (from + to) / 2], density: 1 });
  more(b, s);
  return b.design;
}
const discInertia = (diameter: number): number => (7850 * Math.PI * (diameter / 1e3) ** 4 * 0.02) / 32;
const barStiffness = (bar: number, length: number): number => (SHEAR * 1e6 * Math.PI * (bar / 1e3) ** 4) / 32 / (length / 1e3);

describe('natural frequencies', () => {
  it('of two discs on a shaft: √(k·(J1 + J2)/(J1·J2)), and one loose motion (any text on vibration)', () => {
    const m = modesOf(
      trainOf(
        discs([
          [0, 200],
          [400, 150],
        ]),
      ),
    );
    const [J1, J2, k] = [discInertia(200), discInertia(150), barStiffness(20, 400)];
    expect(m.loose).toBe(1);
    near(frequencies(m)[0], Math.sqrt((k * (J1 + J2)) / (J1 * J2)) / TURN, 2e-4);
    // The node divides the shaft by the inertias: amplitudes are as −J1/J2.
    const [own, twist] = [m.modes[0].shape[0], m.modes[0].shape[1]];
    near((own + twist) / own, -J1 / J2, 2e-4);
  });
  it('of three discs: both roots of the closed form (Timoshenko, Vibration Problems in Engineering)', () => {
    const places = [
      [0, 180],
      [300, 240],
      [800, 160],
    ] as const;
    const m = modesOf(trainOf(discs(places)));
    const [J1, J2, J3] = places.map(([, d]) => discInertia(d));
    const [k1, k2] = [barStiffness(20, 300), barStiffness(20, 500)];
    const [a, b] = [k1 / J1 + k1 / J2 + k2 / J2 + k2 / J3, (k1 * k2 * (J1 + J2 + J3)) / (J1 * J2 * J3)];
    const roots = [-1, 1].map((sign) => Math.sqrt((a + sign * Math.sqrt(a * a - 4 * b)) / 2) / TURN);
    expect(m.modes).toHaveLength(2);
    roots.forEach((f, i) => near(frequencies(m)[i], f, 3e-4));
  });
  it('of a row of discs: the torque left over at the end is nothing (Holzer’s method, in any order of sizes)', () => {
    const row = fc.array(fc.tuple(fc.integer({ min: 60, max: 300 }), fc.integer({ min: 50, max: 400 })), { minLength: 2, maxLength: 6 });
    fc.assert(
      fc.property(row, (of) => {
        let z = 0;
        const places = of.map(([diameter, apart], i): [number, number] => [i ? (z += apart) : 0, diameter]);
        const train = trainOf(discs(places));
        const m = modesOf(train);
        expect(m.modes).toHaveLength(of.length - 1);
        const J = train.stations.map((s) => s.inertia);
        const k = train.springs.map((s) => s.stiffness);
        for (const { frequency } of m.modes) {
          const w2 = (TURN * frequency) ** 2;
          let [angle, torque, scale] = [1, 0, 0];
          J.forEach((j, i) => {
            torque += w2 * j * angle;
            scale = Math.max(scale, Math.abs(w2 * j * angle));
            if (i < k.length) angle -= torque / k[i];
          });
          expect(Math.abs(torque)).toBeLessThan(1e-6 * scale);
        }
      }),
      { seed: 11, numRuns: 40 },
    );
  });
  it('held where its motor drives it, it is a pendulum of torsion: √(k/J), no loose motion, whichever end that is', () => {
    const ends = [
      [0, 100],
      [500, 250],
    ] as const;
    for (const [place, free] of [
      [0, 250],
      [500, 100],
    ]) {
      const d = discs(ends, 20, (b, s) => b.motor(s.joint, 10, { place }));
      const m = modesOf(trainOf(d, true));
      expect(m.loose).toBe(0);
      near(frequencies(m)[0], Math.sqrt(barStiffness(20, 500) / discInertia(free)) / TURN, 2e-3);
      expect(modesOf(trainOf(d)).loose).toBe(1);
    }
  });
  it('the rotor of a motor swings where it drives the shaft, and a bar that lies across stays with the whole', () => {
    const two = [
      [0, 150],
      [300, 150],
    ] as const;
    const rotor = discs(two, 20, (b, s) => b.motor(s.joint, 10, { place: 600, rotor: discInertia(150) }));
    // The bar ends at 300 mm: what drives beyond it is fast on the disc there.
    const J = [discInertia(150), 2 * discInertia(150)];
    near(frequencies(modesOf(trainOf(rotor)))[0], Math.sqrt((barStiffness(20, 300) * (J[0] + J[1])) / (J[0] * J[1])) / TURN, 3e-4);
    const across = discs(two, 20, (b, s) => b.element('rod', s.member, { diameter: 10, length: 400, axis: [1, 0, 0], at: [0, 0, 300] }));
    const train = trainOf(across);
    expect(train.stations.map((s) => Math.round(1e6 * s.inertia))).toEqual(trainOf(discs(two)).stations.map((s) => Math.round(1e6 * s.inertia)));
    expect(train.mass[0][0]).toBeGreaterThan(trainOf(discs(two)).mass[0][0] * 1.05);
  });
  it('of a slide on a spring: √(c/m)', () => {
    const b = new Builder().weightless();
    const s = b.slide([0, 0, 0], [1, 0, 0], 'frame', { mass: 4 });
    b.load('joint-spring', { joint: s.joint, rate: 5 });
    const m = modesOf(trainOf(b.design));
    near(frequencies(m)[0], Math.sqrt(5000 / 4) / TURN, 1e-9);
  });
  it('across a rigid ratio the far side counts by its square: two shafts and a belt that does not give', () => {
    const b = new Builder().weightless();
    const shaft = (x: number): { member: string; joint: string } => b.shaft([x, 0, 0]);
    const [s1, s2] = [shaft(0), shaft(500)];
    const add = (member: string, diameter: number, at: number): string =>
      b.element('pulley', member, { form: 'flat', diameter, width: 20, at: [0, 0, at] });
    add(s1.member, 220, -400);
    const w1 = add(s1.member, 100, 0);
    const w2 = add(s2.member, 200, 0);
    add(s2.member, 260, 300);
    for (const [m, length, z] of [
      [s1.member, 400, -200],
      [s2.member, 300, 150],
    ] as const) {
      b.element('rod', m, { diameter: 22, length, at: [0, 0, z], density: 1 });
    }
    b.couple('belt', { wheels: [w1, w2], efficiency: 1 });
    const train = trainOf(b.design);
    const m = modesOf(train);
    // All on the first shaft: n = ω2/ω1 = 1/2.
    const J = [discInertia(220), discInertia(100) + discInertia(200) / 4, discInertia(260) / 4];
    const k = [barStiffness(22, 400), barStiffness(22, 300) / 4];
    const [a, c] = [k[0] / J[0] + k[0] / J[1] + k[1] / J[1] + k[1] / J[2], (k[0] * k[1] * (J[0] + J[1] + J[2])) / (J[0] * J[1] * J[2])];
    [-1, 1].forEach((sign, i) => near(frequencies(m)[i], Math.sqrt((a + sign * Math.sqrt(a * a - 4 * c)) / 2) / TURN, 3e-4));
    expect(train.assumptions.map((x) => x.why)).toContain('the stiffness of its band is not stated');
    // With a band that gives there is one mode more, and a very stiff one changes nothing.
    const banded = (EA: number): Modes => modesOf(trainOf({ ...b.design, couplings: b.design.couplings.map((x) => ({ ...x, bandStiffness: EA })) }));
    expect(banded(1e5).modes).toHaveLength(3);
    near(frequencies(banded(1e10))[0], frequencies(m)[0], 1e-4);
    expect(frequencies(banded(1e4))[0]).toBeLessThan(frequencies(m)[0]);
  });
  it('a band that gives between two wheels: both strands side by side, k = r²·EA·(1/L1 + 1/L2)', () => {
    const b = new Builder().weightless();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([400, 0, 0])];
    const wheel = (m: string): string => b.element('pulley', m, { form: 'flat', diameter: 200, width: 20 });
    b.couple('belt', { wheels: [wheel(s1.member), wheel(s2.member)], bandStiffness: 20_000 });
    const m = modesOf(trainOf(b.design));
    const [J, k] = [discInertia(200), (2 * 20_000) / 0.4];
    near(frequencies(m)[0], Math.sqrt((k * 0.01 * 2) / J) / TURN, 1e-9);
  });
  it('teeth give: a pair alone swings at √(c·(r1²/J1 + r2²/J2)), c by ISO 6336-1', () => {
    const b = new Builder().weightless();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([120, 0, 0])];
    b.mesh(b.gear(s1.member, 20, 3), b.gear(s2.member, 60, 3));
    const train = trainOf(b.design);
    const m = modesOf(train);
    const [spring] = train.springs;
    // 14 N/(mm·μm) is what spur gears have about (ISO 6336-1: c′), 20 for cγ.
    expect(spring.stiffness / 30 / 1e6 / Math.cos((20 * Math.PI) / 180) ** 2).toBeGreaterThan(14);
    expect(spring.stiffness / 30 / 1e6 / Math.cos((20 * Math.PI) / 180) ** 2).toBeLessThan(24);
    const [J1, J2] = [train.mass[0][0], train.mass[1][1]];
    near(frequencies(m)[0], Math.sqrt(spring.stiffness * (0.03 ** 2 / J1 + 0.09 ** 2 / J2)) / TURN, 1e-9);
  });
  it('energy of a mode is in its springs, all of it; modes are square to each other over the masses', () => {
    const train = trainOf(
      discs([
        [0, 180],
        [200, 240],
        [350, 90],
        [800, 160],
      ]),
    );
    const { modes } = modesOf(train);
    for (const m of modes) expect(m.energy.reduce((s, e) => s + e.part, 0)).toBeCloseTo(1, 12);
    const product = (a: Float64Array, b: Float64Array): number =>
      a.reduce((s, x, i) => s + x * train.mass[i].reduce((t, v, j) => t + v * b[j], 0), 0);
    for (const [i, a] of modes.entries()) {
      for (const [j, b] of modes.entries()) {
        if (i < j) expect(Math.abs(product(a.shape, b.shape))).toBeLessThan(1e-8 * Math.sqrt(product(a.shape, a.shape) * product(b.shape, b.shape)));
      }
    }
  });
  it('says what is missing', () => {
    const b = new Builder().weightless();
    b.gear(b.shaft([0, 0, 0]).member, 20, 3);
    expect(modesOf(trainOf(b.design)).trouble).toContain('nothing in the train gives');
    const bare = new Builder().weightless();
    const s = bare.shaft([0, 0, 0]);
    bare.load('joint-spring', { joint: s.joint, rate: 1 });
    expect(modesOf(trainOf(bare.design)).trouble).toBe('nothing that moves has a mass');
  });
});

describe('wind-up', () => {
  it('of a shaft: T·L/(G·Ip); of stepped bars the sum, and none where there is no bar', () => {
    const ip = (d: number): number => (Math.PI * d ** 4) / 32;
    const pieces = [
      { from: 0, to: 100, outer: 20, inner: 0 },
      { from: 100, to: 250, outer: 30, inner: 10 },
    ];
    near(complianceBetween(pieces, 0, 250), 1e3 * (100 / (SHEAR * ip(20)) + 150 / (SHEAR * (ip(30) - ip(10)))));
    near(complianceBetween(pieces, 50, 150), 1e3 * (50 / (SHEAR * ip(20)) + 50 / (SHEAR * (ip(30) - ip(10)))));
    expect(complianceBetween(pieces, 300, 400)).toBe(0);
  });
  it('at the end of a shaft that is held at the other; of one that is not held nothing is known', () => {
    const ends = [
      [0, 100],
      [500, 250],
    ] as const;
    const train = trainOf(
      discs(ends, 20, (b, s) => b.motor(s.joint, 10, { place: 0 })),
      true,
    );
    const f = new Float64Array(train.unknowns);
    f[train.stations[1].unknown] = 1;
    near(complianceOf(train)!(f)[train.stations[1].unknown], 1 / barStiffness(20, 500), 1e-9);
    expect(complianceOf(trainOf(discs(ends)))).toBeUndefined();
  });
  it('of an output: the whole shaft between the motor and the place that gives most', () => {
    const ends = [
      [0, 100],
      [500, 250],
    ] as const;
    for (const place of [0, 500]) {
      const d = discs(ends, 20, (b, s) => {
        b.motor(s.joint, 10, { place });
        b.load('joint-load', { joint: s.joint, value: -20 });
      });
      const [out] = vibrationOf(d, false).outputs;
      near(out.stiffness!, barStiffness(20, 500) / (180 / Math.PI), 1e-9);
      near(out.windUp!, 20 / out.stiffness!, 1e-9);
    }
  });
  it('is that of the home position: a crank that a spring of its slide holds swings by (dx/dθ)² of the spring', () => {
    const [r, l] = [50, 160];
    // Built with the crank at 30°; from there it goes home.
    const of = (angle: number): number => {
      const { b, crank, slider } = sliderCrank(r, l, Math.PI / 6);
      state(
        b.design.members.find((m) => m.id === crank.member)!,
        { mass: 1, massCentre: [0, 0, 0], inertia: [0.02, 0.02, 0.02] },
      );
      state(
        b.design.joints.find((x) => x.id === crank.joint)!,
        { home: angle - 30 },
      );
      b.load('joint-spring', { joint: slider.joint, rate: 2 });
      return vibrationOf(b.design, false).modes[0].frequency;
    };
    for (const home of [40, 90, 140]) {
      const t = (home * Math.PI) / 180;
      const slope = 1e-3 * r * Math.sin(t) * (1 + (r * Math.cos(t)) / Math.sqrt(l * l - (r * Math.sin(t)) ** 2));
      near(of(home), Math.sqrt((2000 * slope * slope) / 0.02) / TURN, 1e-6);
    }
  });
});

describe('excitations', () => {
  it('once a turn of each shaft and as teeth come into mesh; they meet a natural frequency at a speed', () => {
    const b = new Builder().weightless();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([120, 0, 0])];
    b.mesh(b.gear(s1.member, 20, 3), b.gear(s2.member, 60, 3));
    b.motor(s1.joint, 1500);
    const a = analyse(b.design);
    const all = excitationsOf(a.compiled, a.ledger);
    expect(all.map((e) => [e.kind, Number(e.frequency.toFixed(6))])).toEqual([
      ['turn', 8.333333],
      ['turn', 25],
      ['mesh', 500],
    ]);
    const mode = { frequency: 600, shape: new Float64Array(0), energy: [] };
    expect(crossingsOf([mode], all)).toEqual([{ mode: 0, excitation: 2, speed: expect.closeTo(1.2, 9) as number }]);
  });
});

describe('what is shown of it', () => {
  it('swings are brought to the source: alike along what is rigid; the mode of a chain of discs has its node between them', () => {
    const d = discs(
      [
        [0, 200],
        [400, 150],
      ],
      20,
      (b, s) => {
        const far = b.shaft([100, 0, 0], 'frame', { name: 'Far shaft' });
        const wheel = (m: string, diameter: number): string => b.element('pulley', m, { form: 'flat', diameter, width: 10, at: [0, 0, 0] });
        b.couple('belt', { wheels: [wheel(s.member, 60), wheel(far.member, 120)], efficiency: 1 });
        b.motor(s.joint, 300);
      },
    );
    const v = vibrationOf(d, false);
    const at = (name: string): number => v.modes[0].amplitudes[v.places.findIndex((p) => p.name.includes(name))]!;
    // The far shaft turns half as fast; brought to the source it swings as the place of its belt does.
    expect(at('Far shaft')).toBeCloseTo(v.modes[0].amplitudes[0]!, 9);
    expect(Math.max(...v.modes[0].amplitudes.map((x) => Math.abs(x ?? 0)))).toBeCloseTo(1, 12);
    expect(v).toMatchObject({ loose: 1, source: { speed: 300 } });
    expect(v.outputs).toHaveLength(1);
  });
  it('of the paddle winding gear: wind-up of the paddle under its load is load over stiffness, and held sources leave nothing loose', () => {
    const demo = JSON.parse(readFileSync(new URL('../../demo/paddle-winding-gear.json', import.meta.url), 'utf8')) as Design;
    const [paddle] = vibrationOf(demo, false).outputs;
    expect(paddle.load).toBeCloseTo(3879, 0);
    expect(paddle.windUp! * paddle.stiffness!).toBeCloseTo(paddle.load!, 6);
    expect(vibrationOf(demo, true).loose).toBe(0);
  });
});
