import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Design, Id, Joint } from '../fields/types';
import { type Frame, WORLD, frameOf, toLocalPoint, toLocalVector, within } from '../math/index';
import { Builder, item } from '../testing/designs';
import { floatingScrew, sliderCrank, sunAndPlanet, trunnionScrew } from '../testing/mechanisms';
import { STAGE_KINDS, insertStage, withInputShaft } from '../sizing/index';
import { emptyDesign } from '../document/index';
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
    expect(a.findings.filter((f) => f.severity === 'fault')).toEqual([]);
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
      expect(analyse(b.design).findings.filter((f) => f.severity === 'fault')).toEqual([]);
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
    expect(analyse(b.design).findings.filter((f) => f.severity === 'fault')).toEqual([]);
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

/** Rolls dice that were thrown before. */
function roller(dice: readonly number[]): (n: number) => number {
  let at = 0;
  return (n) => dice[at++ % dice.length] % n;
}

/**
 * The same design in another order: lists shuffled, sides of pairs swapped, wheels of
 * bands from another one on and the other way round, joints stated the other way round.
 */
function inAnotherOrder(d: Design, die: (n: number) => number): Design {
  const shuffled = <T>(list: readonly T[]): T[] => {
    const out = [...list];
    for (let i = out.length - 1; i > 0; i--) {
      const k = die(i + 1);
      [out[i], out[k]] = [out[k], out[i]];
    }
    return out;
  };
  const named = JSON.stringify([d.sources, d.loads, d.couplings, d.wanted]);
  const wheels = (w: readonly Id[]): Id[] => {
    const from = die(w.length);
    const round = [...w.slice(from), ...w.slice(0, from)];
    return die(2) ? round.reverse() : round;
  };
  return {
    ...d,
    members: shuffled(d.members),
    joints: shuffled(d.joints).map((j) => (!named.includes(`"${j.id}`) && j.parent !== 'frame' && die(2) ? turnedRound(d, j) : j)),
    elements: shuffled(d.elements),
    couplings: shuffled(d.couplings).map((c) => {
      if (['gear-pair', 'bevel-pair', 'crossed-gears'].includes(c.type) && die(2)) return { ...c, a: c.b, b: c.a };
      return c.wheels ? { ...c, wheels: wheels(c.wheels) } : c;
    }),
    sources: shuffled(d.sources),
    loads: shuffled(d.loads),
  };
}

/**
 * Figures of two designs that are the same one: speeds in space and
 * beside the carrier, loads, what sources give, what couplings lose.
 */
function expectAlike(d: Design, other: Design): void {
  const x = analyse(d).ledger,
    y = analyse(other).ledger;
  const near = (a: number, b: number, what: string): void => {
    if (Number.isNaN(b)) expect(a, what).toBeNaN();
    else expect(Math.abs(a - b), what).toBeLessThan(1e-7 * Math.max(1, Math.abs(b)));
  };
  for (const s of x.sources) near(y.sources.find((t) => t.source === s.source)!.load, s.load, s.source);
  // A joint that is stated the other way round no longer carries the same member: that is then measured about another joint.
  const turned = new Set(other.joints.filter((j) => d.joints.find((k) => k.id === j.id)!.child !== j.child).flatMap((j) => [j.child, j.parent]));
  for (const p of x.lines.filter((l) => !turned.has(l.member))) {
    const q = y.lines.find((l) => l.member === p.member)!;
    near(q.space, p.space, `${p.member} in space`);
    near(q.load, p.load, `${p.member} carries`);
  }
  near(y.loss, x.loss, 'loss');
  near(y.output, x.output, 'output');
}

const dice = fc.array(fc.nat(1000), { minLength: 40, maxLength: 40 });

describe.each(STAGE_KINDS.map((k) => [k.kind]))('a train with a stage of kind %s in another order', (kind) => {
  it('turns, carries and loses alike', () => {
    fc.assert(
      fc.property(dice, fc.double({ min: -40, max: 40, noNaN: true }), (thrown, load) => {
        const begun = withInputShaft(emptyDesign('x'), { type: 'motor', name: 'Motor' });
        const first = insertStage(begun.design, { kind: 'spur', from: begun.output })!;
        const made = insertStage(first.design, { kind, from: first.output })!;
        const at = made.design.joints.find((j) => j.child === made.output);
        const loads = at && [item({ id: 'L', name: 'L', type: 'joint-load', joint: at.id, value: load })];
        const d: Design = { ...made.design, loads: [...made.design.loads, ...(loads ?? [])] };
        expectAlike(d, inAnotherOrder(d, roller(thrown)));
      }),
      { numRuns: 12 },
    );
  });
});

describe('the same mechanism in another order', () => {
  it('moves alike and carries alike: lists shuffled, sides swapped, joints stated the other way round', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: MECHANISMS.length - 1 }), dice, (which, thrown) => {
        const d = MECHANISMS[which]();
        // A load at each member that turns on the frame and no source drives.
        const driven = d.sources.map((s) => s.joint);
        d.joints
          .filter((j) => j.parent === 'frame' && !driven.includes(j.id))
          .forEach((j, k) => d.loads.push(item({ id: `L${k}`, name: 'L', type: 'joint-load', joint: j.id, value: 7 + k })));
        expectAlike(d, inAnotherOrder(d, roller(thrown)));
      }),
      { numRuns: 120 },
    );
  });
});
