import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Design, Id, Joint } from '../fields/types';
import { type Frame, WORLD, frameOf, toLocalPoint, toLocalVector, within } from '../math/index';
import { Builder, item } from '../testing/designs';
import { floatingScrew, sliderCrank, sunAndPlanet, trunnionScrew } from '../testing/mechanisms';
import { analyse } from './analyse';

const turnsOf = (d: Design, member: Id): number => analyse(d).ledger.lines.find((l) => l.member === member)!.space;

describe('carriers and motions are found over all joints, those that close loops as well', () => {
  it('a trunnion screw draws a lever through its nut: a lead a turn', () => {
    const { b, lever } = trunnionScrew(5, 200, 100);
    const a = analyse(b.design);
    expect(a.findings.filter((f) => f.severity !== 'note')).toEqual([]);
    expect(a.freedoms).toBe(1);
    // 5 mm/s at 100 mm: 0.05 rad/s.
    expect(Math.abs(turnsOf(b.design, lever))).toBeCloseTo((0.05 * 60) / (2 * Math.PI), 9);
  });

  it('the screw’s torque is F·l/2π for the force at the lever’s end', () => {
    const { b, swing } = trunnionScrew(5, 200, 100);
    b.load('joint-load', { joint: swing, value: 100 });
    // 100 N·m at 100 mm: 1 000 N.
    expect(Math.abs(analyse(b.design).ledger.sources[0].load)).toBeCloseTo((1000 * 0.005) / (2 * Math.PI), 7);
  });

  it('a screw floats between two levers: turning it spreads them, leading one takes the other along', () => {
    const { b, lever, first } = floatingScrew(5, 200, 100);
    const a = analyse(b.design);
    expect(a.findings.filter((f) => f.severity === 'stop')).toEqual([]);
    expect(a.freedoms).toBe(2);
    const rate = (n: number): number => (n * 2 * Math.PI) / 60;
    // Both levers stand upright: their ends move along the screw, apart by 5 mm/s as the thread has it.
    const apart = (rate(turnsOf(b.design, lever)) - rate(turnsOf(b.design, first))) * 100;
    expect(Math.abs(apart)).toBeCloseTo(5, 9);
  });

  it('sun and planet: the sun makes ωa (1 + zp/zs) − ωp zp/zs', () => {
    for (const [zs, zp] of [
      [30, 30],
      [40, 20],
      [18, 45],
    ] as const) {
      const { b, sun, rod, arm } = sunAndPlanet(zs, zp);
      expect(analyse(b.design).findings.filter((f) => f.severity === 'stop')).toEqual([]);
      const [ws, wp, wa] = [sun, rod, arm].map((x) => turnsOf(b.design, x.member));
      expect(wa).toBeCloseTo(60, 9);
      expect(ws).toBeCloseTo(wa * (1 + zp / zs) - (wp * zp) / zs, 8);
    }
  });

  it('opposed threads on one screw move two nuts against each other', () => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]);
    const nut = (z: number) => b.slide([0, 0, z], [0, 0, 1]);
    const [n1, n2] = [nut(50), nut(-50)];
    const screw = (at: number, hand: string) => b.element('screw', s.member, { diameter: 20, pitch: 4, length: 90, at: [0, 0, at], hand });
    const body = (m: string) => b.element('nut', m, { diameter: 20, outside: 40, length: 20 });
    b.couple('screw-drive', { a: screw(50, 'right'), b: body(n1.member) });
    b.couple('screw-drive', { a: screw(-50, 'left'), b: body(n2.member) });
    b.motor(s.joint, 60);
    expect(turnsOf(b.design, n1.member)).toBeCloseTo(-turnsOf(b.design, n2.member), 9);
    expect(Math.abs(turnsOf(b.design, n1.member))).toBeCloseTo(4, 9);
  });

  it('an idler on a lever of its own runs with the belt', () => {
    const b = new Builder().weightless();
    const [p, q] = [b.shaft([0, 0, 0]), b.shaft([300, 0, 0])];
    const lever = b.shaft([150, 150, 0]);
    const idler = b.shaft([150, 60, 0], lever.member);
    const wheel = (m: string, d: number) => b.element('pulley', m, { form: 'flat', diameter: d, width: 20 });
    const wheels = [wheel(p.member, 100), wheel(q.member, 100), wheel(idler.member, 50)];
    b.couple('belt', { wheels, outside: [wheels[2]] });
    b.motor(p.joint, 60);
    b.load('joint-spring', { joint: lever.joint, rate: 1 });
    expect(analyse(b.design).findings.filter((f) => f.severity === 'stop')).toEqual([]);
    expect(turnsOf(b.design, q.member)).toBeCloseTo(60, 9);
    expect(Math.abs(turnsOf(b.design, idler.member))).toBeCloseTo(120, 9);
  });
});

/** The same joint stated the other way round: its parent carried by its child. */
function turnedRound(d: Design, j: Joint): Joint {
  const frame = (id: Id): Frame => {
    const m = d.members.find((x) => x.id === id);
    return m ? frameOf(m.at ?? [0, 0, 0], m.axis, m.up) : WORLD;
  };
  const local = (j.axis ?? j.up) ? frameOf(j.at ?? [0, 0, 0], j.axis, j.up) : { ...WORLD, o: j.at ?? WORLD.o };
  const world = within(frame(j.child), local);
  const to = frame(j.parent);
  return { ...j, parent: j.child, child: j.parent, at: toLocalPoint(to, world.o), axis: toLocalVector(to, world.z), up: toLocalVector(to, world.x) };
}

const MECHANISMS: readonly (() => Design)[] = [
  () => trunnionScrew().b.design,
  () => floatingScrew().b.design,
  () => sunAndPlanet(24, 36).b.design,
  () => sliderCrank(50, 200, 0.7).b.design,
];

describe('the same mechanism in another order', () => {
  it('moves alike and carries alike: lists shuffled, sides swapped, joints stated the other way round', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: MECHANISMS.length - 1 }), fc.array(fc.nat(1000), { minLength: 40, maxLength: 40 }), (which, dice) => {
        const d = MECHANISMS[which]();
        // A load at each member that turns on the frame and no source drives.
        const driven = d.sources.map((s) => s.joint);
        d.joints
          .filter((j) => j.parent === 'frame' && !driven.includes(j.id))
          .forEach((j, k) => d.loads.push(item({ id: `L${k}`, name: 'L', type: 'joint-load', joint: j.id, value: 7 + k })));
        let at = 0;
        const die = (n: number): number => dice[at++ % dice.length] % n;
        const shuffled = <T>(list: readonly T[]): T[] => {
          const out = [...list];
          for (let i = out.length - 1; i > 0; i--) {
            const k = die(i + 1);
            [out[i], out[k]] = [out[k], out[i]];
          }
          return out;
        };
        const named = new Set([...driven, ...d.loads.map((l) => (l as unknown as { joint: string }).joint)]);
        const other: Design = {
          ...d,
          members: shuffled(d.members),
          joints: shuffled(d.joints).map((j) => (!named.has(j.id) && j.parent !== 'frame' && die(2) ? turnedRound(d, j) : j)),
          elements: shuffled(d.elements),
          couplings: shuffled(d.couplings).map((c) => (c.type === 'gear-pair' && die(2) ? { ...c, a: c.b, b: c.a } : c)),
        };
        const x = analyse(d).ledger,
          y = analyse(other).ledger;
        for (const s of x.sources) expect(y.sources.find((t) => t.source === s.source)!.load).toBeCloseTo(s.load, 6);
        const turning = d.joints.filter((j) => j.parent === 'frame').map((j) => j.child);
        for (const m of turning) {
          const p = x.lines.find((l) => l.member === m)!,
            q = y.lines.find((l) => l.member === m)!;
          expect(q.space).toBeCloseTo(p.space, 7);
          expect(q.load).toBeCloseTo(p.load, 6);
        }
      }),
      { numRuns: 120 },
    );
  });
});
