import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../../checks/index';
import { pitchDiameter, pulleyRadius } from '../../elements/index';
import { Builder } from '../../testing/designs';
import { beltPath } from './index';

const MU_PI = Math.exp(0.3 * Math.PI);

/** Wheels of the given diameters and places on shafts, the first driven unless said otherwise, with a load on every other. */
function band(
  wheels: { d: number; at: [number, number]; load?: number; outside?: boolean }[],
  more: object = {},
  order = wheels.map((_, i) => i),
  source = 0,
) {
  const b = new Builder().weightless();
  const shafts = wheels.map((w) => b.shaft([w.at[0], w.at[1], 0]));
  const ids = wheels.map((w, i) => b.element('pulley', shafts[i].member, { diameter: w.d, width: 20 }));
  b.couple('belt', { wheels: order.map((i) => ids[i]), outside: ids.filter((_, i) => wheels[i].outside), efficiency: 1, friction: 0.3, ...more });
  b.motor(shafts[source].joint, 600);
  wheels.forEach((w, i) => w.load && b.load('joint-load', { joint: shafts[i].joint, value: w.load }));
  const a = analyse(b.design);
  return { a, shafts, ids, torque: a.ledger.sources[0].load, speed: (i: number) => a.ledger.lines.find((l) => l.member === shafts[i].member)!.speed };
}
const found = (a: ReturnType<typeof analyse>, code: string) => a.findings.filter((f) => f.code === code);

describe('creep of a friction belt', () => {
  const two = [
    { d: 100, at: [0, 0] as [number, number], load: 0 },
    { d: 300, at: [700, 0] as [number, number], load: -10 },
  ];
  // F·r on both shafts, whatever creeps: the pull is one; the speed is what creep takes (Shigley, section 17-2).
  it('takes speed from the driven wheel, and its power from the driver alone', () => {
    const { a, torque, speed } = band(two, { creep: 0.02, pretension: 500 });
    expect(speed(1)).toBeCloseTo((600 / 3) * 0.98, 9);
    expect(torque).toBeCloseTo(10 / 3, 9);
    expect(a.ledger.efficiency).toBeCloseTo(0.98, 9);
  });
  it('falls behind whichever wheel drives, however the wheels are listed', () => {
    for (const order of [
      [0, 1],
      [1, 0],
    ]) {
      expect(band(two, { creep: 0.02, pretension: 500 }, order).speed(1)).toBeCloseTo(196, 9);
      const back = [
        { ...two[0], load: -10 },
        { ...two[1], load: 0 },
      ];
      const r = band(back, { creep: 0.02, pretension: 500 }, order, 1);
      expect(r.speed(0)).toBeCloseTo(600 * 3 * 0.98, 9);
      expect(r.torque).toBeCloseTo(30, 9);
    }
  });
});

describe('a band over several wheels', () => {
  const wheels = [
    { d: 100, at: [0, 0] as [number, number] },
    { d: 120, at: [400, 30] as [number, number], load: -3 },
    { d: 200, at: [420, 380] as [number, number], load: -8 },
    { d: 80, at: [60, 300] as [number, number], load: -2 },
  ];
  it('loses once on the way to each wheel, not along its rows', () => {
    const { torque, a } = band(wheels, { efficiency: 0.95, pretension: 600 });
    const ideal = 3 * (100 / 120) + 8 * (100 / 200) + 2 * (100 / 80);
    expect(torque).toBeCloseTo(ideal / 0.95, 9);
    expect(a.ledger.efficiency).toBeCloseTo(0.95, 9);
  });
  it('answers the same in whatever order and sense its run is listed', () => {
    const base = band(wheels, { efficiency: 0.95, creep: 0.01, pretension: 600 });
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 3 }), fc.boolean(), (turn, back) => {
        const order = [0, 1, 2, 3].map((_, k) => (k + turn) % 4);
        const r = band(wheels, { efficiency: 0.95, creep: 0.01, pretension: 600 }, back ? order.reverse() : order);
        expect(r.torque).toBeCloseTo(base.torque, 9);
        for (const i of [1, 2, 3]) expect(r.speed(i)).toBeCloseTo(base.speed(i), 9);
        expect(r.a.ledger.efficiency).toBeCloseTo(base.a.ledger.efficiency!, 9);
        const strands = (x: typeof r) => [...x.a.forces.state.couplings[0].strands].sort((p, q) => p - q);
        strands(r).forEach((t, k) => expect(t).toBeCloseTo(strands(base)[k], 6));
      }),
    );
  });
  it('an idler that presses from outside takes the strand nearest to it, or past the line of centres the other one', () => {
    const idler = (y: number, order: number[], otherWay: boolean) =>
      band(
        [
          { d: 100, at: [0, 0] },
          { d: 100, at: [300, 0], load: -1 },
          { d: 50, at: [150, y], outside: true },
        ],
        { pretension: 100, otherWay },
        order,
      );
    const length = (r: ReturnType<typeof idler>) => r.a.compiled.couplings[0].model.derived!.find((d) => d.key === 'length')!.value as number;
    // Two cross tangents of √(d² − (R + r)²), which slope by asin((R + r)/d) against the line of centres, and this by atan(10/150).
    const d = Math.hypot(150, 10);
    const due = (slope: number): number => 300 + 2 * Math.sqrt(d * d - 75 * 75) + 2 * 50 * (Math.PI + slope) + 25 * 2 * slope;
    for (const past of [false, true]) {
      for (const [y, order] of [
        [-10, [0, 1, 2]],
        [10, [1, 0, 2]],
        [-10, [2, 1, 0]],
      ] as const) {
        const r = idler(y, [...order], past);
        expect(found(r.a, 'belt-cannot-lie')).toEqual([]);
        expect(r.speed(2)).toBeCloseTo(-1200, 9);
        expect(length(r)).toBeCloseTo(due(Math.asin(75 / d) + (past ? 1 : -1) * Math.atan2(10, 150)), 9);
      }
    }
  });
  it('says when it cannot run as it is listed', () => {
    const { a } = band([
      { d: 100, at: [0, 0] },
      { d: 100, at: [300, 0], load: -1 },
      { d: 50, at: [150, 200], outside: true },
    ]);
    expect(found(a, 'belt-cannot-lie')).toHaveLength(1);
  });
});

describe('slip', () => {
  const drive = (pretension: number) =>
    band(
      [
        { d: 100, at: [0, 0] },
        { d: 100, at: [500, 0], load: -10 },
      ],
      { pretension },
    ).a;
  // F = 10/0.05 = 200 N; with T1 + T2 = 2·F0 (parallel strands), T1/T2
  // = e^(μπ) at F0 = F/2·(e^(μπ) + 1)/(e^(μπ) − 1) (Shigley, eq. 17-9).
  const limit = (100 * (MU_PI + 1)) / (MU_PI - 1);
  it('comes where the pre-tension is below what the wrap needs, and says what is needed', () => {
    expect(found(drive(limit * 0.99), 'belt-slips')[0].severity).toBe('fault');
    expect(found(drive(limit * 0.9), 'belt-slips')[0].message).toContain(`${limit.toPrecision(3)} N`);
  });
  it('is near from 80 % of what holds, and not spoken of below', () => {
    // used = (T1 − T2)/T2 over e^(μπ) − 1, so F0 = 100 + 200/(share·(e^(μπ) − 1)).
    const at = (share: number): number => 100 + 200 / (share * (MU_PI - 1));
    expect(found(drive(at(0.85)), 'belt-slips')).toMatchObject([{ severity: 'caution', message: expect.stringContaining('85 %') }]);
    expect(found(drive(at(0.79)), 'belt-slips')).toEqual([]);
  });
  it('without a pre-tension, what it would need is a note', () => {
    expect(found(drive(0), 'belt-slips')).toMatchObject([{ severity: 'note', message: expect.stringContaining(limit.toPrecision(3)) }]);
  });
});

describe('chains and toothed belts', () => {
  const sprocket = (teeth: number, pitch = 12.7) => ({ id: 'e', name: 'e', type: 'pulley', member: 'm', form: 'sprocket' as const, teeth, pitch });
  // Pitch circle of a sprocket for unit pitch, 1/sin(180°/z): 5.4422 for 17, 7.9787 for 25 teeth (ISO 606, annex; recomputed).
  it('a sprocket’s pitch circle goes through the chain’s joints; motion counts by its teeth', () => {
    expect(pitchDiameter(sprocket(17))).toBeCloseTo(5.4422 * 12.7, 3);
    expect(pitchDiameter(sprocket(25))).toBeCloseTo(7.9787 * 12.7, 3);
    expect(pulleyRadius(sprocket(17))).toBeCloseTo((17 * 12.7) / (2 * Math.PI), 12);
  });
  const chain = (C: number, z1 = 19, z2 = 38) => {
    const b = new Builder();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([C, 0, 0])];
    const [p1, p2] = [z1, z2].map((teeth, i) => b.element('pulley', [s1, s2][i].member, { form: 'sprocket', teeth, pitch: 12.7, width: 8 }));
    b.couple('chain', { wheels: [p1, p2] });
    b.motor(s1.joint, 60);
    return analyse(b.design).findings;
  };
  it('a chain that does not close on whole links says at what distances it would, in even numbers', () => {
    const f = chain(400).find((x) => x.code === 'belt-not-whole')!;
    const [, below, above] = /(\d+) links at [\d.]+ mm between the axes, or (\d+) links/.exec(f.message)!.map(Number);
    expect([below % 2, above - below]).toEqual([0, 2]);
    const at = Number(/links at ([\d.]+) mm/.exec(f.message)![1]);
    // L/p = 2C/p + (z1 + z2)/2 + ((z2 − z1)/2π)²·p/C (ISO 606 and Shigley, eq. 17-34), an approximation for the far strands.
    expect((2 * at) / 12.7 + 28.5 + ((19 / (2 * Math.PI)) ** 2 * 12.7) / at).toBeCloseTo(below, 1);
    expect(chain(at).some((x) => x.code === 'belt-not-whole' || x.code === 'chain-odd')).toBe(false);
  });
  it.each([false, true])('a toothed belt says at what distances it would close on whole teeth, crossed: %s', (crossed) => {
    const belt = (C: number) => {
      const b = new Builder();
      const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([C, 0, 0])];
      const [p1, p2] = [20, 44].map((teeth, i) => b.element('pulley', [s1, s2][i].member, { form: 'toothed', teeth, pitch: 8, width: 8 }));
      b.couple('belt', { wheels: [p1, p2], form: 'toothed', crossed });
      b.motor(s1.joint, 60);
      return analyse(b.design).findings.find((x) => x.code === 'belt-not-whole');
    };
    const f = belt(301)!;
    for (const m of f.message.matchAll(/(\d+) teeth at ([\d.]+) mm/g)) {
      const [n, C] = [Number(m[1]), Number(m[2])];
      const [r1, r2] = [20, 44].map((z) => (z * 8) / (2 * Math.PI));
      const reach = crossed ? r1 + r2 : r2 - r1;
      const lean = Math.asin(reach / C);
      // Length of an open or a crossed belt: 2C cos φ + π(r1 + r2) + 2φ(r2 ∓ r1) (Shigley, eqs. 17-1 and 17-2, from memory).
      expect(2 * C * Math.cos(lean) + Math.PI * (r1 + r2) + 2 * lean * reach).toBeCloseTo(8 * n, 1);
      expect(belt(C)).toBeUndefined();
    }
    expect([...f.message.matchAll(/teeth at/g)].length).toBeGreaterThan(0);
  });
  it('a sprocket of few teeth is noted with the swing of its speed', () => {
    const f = chain(400, 11, 38).find((x) => x.code === 'few-teeth')!;
    expect(f.message).toContain(`${(100 * (1 - Math.cos(Math.PI / 11))).toFixed(2)} %`);
  });
  it('lengths between two wheels are those of the path', () => {
    const path = beltPath([
      { x: 0, y: 0, r: 50, side: 1 },
      { x: 400, y: 0, r: 50, side: 1 },
    ]);
    expect(path.length).toBeCloseTo(800 + 100 * Math.PI, 9);
  });
});
