import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { compile, poseOf } from '../kinematics/index';
import { insertStage, withInputShaft } from '../sizing/index';
import { emptyDesign } from '../document/index';
import { norm, type Vec3 } from '../math/index';
import { Builder, item } from '../testing/designs';
import { Forces, ledger, loadSheet, reactionAt } from './index';

/** A design's forces at its reference position, in steady motion. */
function at(b: Builder): { forces: Forces; table: ReturnType<typeof ledger> } {
  const forces = new Forces(poseOf(compile(b.design)));
  return { forces, table: ledger(forces.pose, forces) };
}

describe('a screw joint whose thread rubs', () => {
  const THREAD = {
    lead: 10,
    friction: 0.1,
    diameter: 30,
    bearings: [{ at: 0, inner: 10, outer: 20, width: 5, thrust: 'takes', form: 'plain', block: 'no' }],
  };
  // Torque to raise, Shigley eq. 8-1, with the 30° flanks of a trapezoidal thread.
  const sec = 1 / Math.cos(Math.PI / 12);
  const raise = (F: number): number => (F * 0.03 * (10 + Math.PI * 0.1 * 30 * sec)) / (2 * (Math.PI * 30 - 0.1 * 10 * sec));

  it.each([
    ['in an open chain', false],
    ['stated from the other side', true],
  ])('%s puts the load on its bearing once, and takes in what it gives out and loses', (_n, turned) => {
    const b = new Builder().weightless();
    const m = b.member([0, 0, 0]);
    const j = turned ? b.joint('screw', m, 'frame', THREAD) : b.joint('screw', 'frame', m, THREAD);
    b.motor(j, 60);
    b.load('force', { member: m, force: [0, 0, turned ? 1000 : -1000] });
    const { forces, table } = at(b);
    expect(table.sources[0].load).toBeCloseTo(raise(1000), 9);
    // 10 mm/s against 1 000 N.
    expect(table.output).toBeCloseTo(10, 9);
    expect(table.input).toBeCloseTo(raise(1000) * 2 * Math.PI, 9);
    expect(table.input - table.output - table.loss).toBeCloseTo(0, 9);
    expect(norm(reactionAt(forces, j)!.force)).toBeCloseTo(1000, 9);
    const lines = loadSheet(forces, m, 'frame', false).lines;
    expect(
      lines
        .filter((l) => l.kind !== 'load')
        .map((l) => norm(l.force))
        .sort(),
    ).toEqual([0, expect.closeTo(1000, 9)]);
  });
});

describe('the loss of a mesh acts between its two wheels', () => {
  const ETA = 0.9;
  const pair = (internal: boolean): { b: Builder; out: string; shaft: string; r1: number; r2: number } => {
    const b = new Builder().weightless();
    const [r1, r2] = [20, internal ? 60 : 40];
    const s1 = b.shaft([0, 0, 0]),
      s2 = b.shaft([internal ? r2 - r1 : r1 + r2, 0, 0]);
    b.mesh(b.gear(s1.member, 20, 2), b.gear(s2.member, r2, 2, { internal, ...(internal ? { rim: 160 } : {}) }), { efficiency: ETA });
    b.motor(s1.joint, 60);
    b.load('joint-load', { joint: s2.joint, value: internal ? -9 : 9 });
    return { b, out: s2.joint, shaft: s1.joint, r1: r1 / 1e3, r2: r2 / 1e3 };
  };
  it.each([false, true])('bearings carry (T1 ± T2)/a across the line of centres, internal %s', (internal) => {
    const { b, out, shaft, r1, r2 } = pair(internal);
    const { forces, table } = at(b);
    const F0 = 9 / ETA / r2;
    expect(Math.abs(table.sources[0].load)).toBeCloseTo(F0 * r1, 9);
    const across = Math.abs(reactionAt(forces, out)!.force[1]);
    const due = internal ? (9 - F0 * r1) / (r2 - r1) : (F0 * r1 + 9) / (r1 + r2);
    expect(across).toBeCloseTo(due, 9);
    if (!internal) expect(across).toBeCloseTo((F0 * (r1 + ETA * r2)) / (r1 + r2), 9);
    expect(Math.abs(reactionAt(forces, shaft)!.force[1])).toBeCloseTo(due, 9);
    // The couple on the driven wheel: what is left of the loss, against its turning.
    const couple = Math.abs(9 - due * r2);
    expect(couple).toBeCloseTo((F0 * r1 * r2 * (1 - ETA)) / (internal ? r2 - r1 : r1 + r2), 9);
  });
  it('nothing but bearings acts on a carrier: loaded with 50 N·m it carries 50, its pins 50/r', () => {
    const b = new Builder().weightless();
    const sun = b.shaft([0, 0, 0]),
      arm = b.shaft([0, 0, 0]),
      planet = b.shaft([40, 0, 0], arm.member);
    const p = b.gear(planet.member, 20, 2);
    b.mesh(b.gear(sun.member, 20, 2), p, { efficiency: ETA });
    b.mesh(p, b.element('gear', 'frame', { teeth: 60, module: 2, width: 20, internal: true, rim: 160 }), { efficiency: ETA });
    b.motor(sun.joint, 60);
    b.load('joint-load', { joint: arm.joint, value: -50 });
    const { forces, table } = at(b);
    expect(table.lines.find((l) => l.member === arm.member)!.load).toBeCloseTo(50, 9);
    expect(Math.abs(reactionAt(forces, planet.joint)!.force[1])).toBeCloseTo(50 / 0.04, 7);
    expect(table.input - table.output - table.loss).toBeCloseTo(0, 9);
  });
  it('a rack feels ηF, and its pinion’s bearing as much', () => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]),
      slide = b.slide([0, 0, 0], [1, 0, 0], 'frame', { up: [0, 1, 0] });
    b.couple('rack-mesh', {
      a: b.gear(s.member, 20, 2),
      b: b.element('rack', slide.member, { teeth: 40, module: 2, width: 20, height: 20, at: [-20, 0, 0], axis: [0, 1, 0], up: [0, 0, 1] }),
      efficiency: ETA,
    });
    b.motor(s.joint, 60);
    const way = Math.sign(at(b).table.lines.find((l) => l.member === slide.member)!.speed);
    b.load('joint-load', { joint: slide.joint, value: -way * 900 });
    const { forces, table } = at(b);
    expect(Math.abs(table.sources[0].load)).toBeCloseTo((900 * 0.02) / ETA, 9);
    expect(Math.abs(reactionAt(forces, s.joint)!.force[0])).toBeCloseTo(900, 7);
  });
  it('a belt on two wheels pulls its bearings aside by (T1 − T2)/a', () => {
    const b = new Builder().weightless();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([300, 0, 0])];
    const wheel = (m: string): string => b.element('pulley', m, { form: 'flat', diameter: 80, width: 20 });
    b.couple('belt', { wheels: [wheel(s1.member), wheel(s2.member)], pretension: 500, efficiency: ETA, creep: 0 });
    b.motor(s1.joint, 60);
    b.load('joint-load', { joint: s2.joint, value: -9 });
    const { forces } = at(b);
    expect(Math.abs(reactionAt(forces, s2.joint)!.force[1])).toBeCloseTo((9 / ETA - 9) / 0.3, 9);
    expect(Math.abs(reactionAt(forces, s2.joint)!.force[0])).toBeCloseTo(1000, 6);
  });
});

describe('one-way couplings that drive', () => {
  const clutch = (more: object, speed: number, load: number, second?: number) => {
    const b = new Builder().weightless();
    const a = b.shaft([0, 0, 0]),
      o = b.shaft([0, 0, 50]);
    b.couple('one-way-clutch', { a: a.joint, b: o.joint, ...more });
    b.motor(a.joint, speed);
    if (second !== undefined) b.motor(o.joint, second);
    b.load('joint-load', { joint: o.joint, value: load });
    return analyse(b.design);
  };
  it('a clutch takes its shaft along: 60, 60 and 5 N·m; gripping back, −30 and −5', () => {
    const a = clutch({}, 60, -5);
    expect(a.ledger.lines.map((l) => l.speed)).toEqual([expect.closeTo(60, 9), expect.closeTo(60, 9)]);
    expect(a.ledger.sources[0].load).toBeCloseTo(5, 9);
    expect(a.ledger.lines[1].load).toBeCloseTo(5, 9);
    expect(a.ledger.input - a.ledger.output - a.ledger.loss).toBeCloseTo(0, 9);
    const back = clutch({ grips: 'back' }, -30, 5);
    expect(back.ledger.lines[1].speed).toBeCloseTo(-30, 9);
    expect(back.ledger.sources[0].load).toBeCloseTo(-5, 9);
  });
  it('two motors through a clutch: the faster one drives, and a slower one is told that it is held against', () => {
    const over = clutch({}, 60, -5, 70);
    expect(over.ledger.sources.map((s) => s.load)).toEqual([expect.closeTo(0, 9), expect.closeTo(5, 9)]);
    expect(over.findings.map((f) => f.code)).not.toContain('grip-against-source');
    expect(clutch({}, 60, -5, 50).findings.map((f) => f.code)).toContain('grip-against-source');
  });
});

describe('two bearings stated as two joints on one axis', () => {
  const shaft = (order: boolean): { forces: Forces; joints: string[] } => {
    const b = new Builder().weightless();
    const m = b.member([0, 0, 0]);
    const make = (z: number): string => b.joint('revolute', 'frame', m, { at: [0, 0, z] });
    const joints = order ? [make(0), make(100)] : [make(100), make(0)].reverse();
    b.motor(joints[0], 60);
    b.load('force', { member: m, at: [0, 0, 75], force: [400, 0, 0] });
    b.load('torque', { member: m, torque: [0, 0, -3] });
    return { forces: at(b).forces, joints };
  };
  it.each([true, false])('are simple supports: 100 N and 300 N, whichever is stated first (%s)', (order) => {
    const { forces, joints } = shaft(order);
    const [first, second] = joints.map((j) => reactionAt(forces, j)!);
    expect(first.force[0]).toBeCloseTo(-100, 9);
    expect(second.force[0]).toBeCloseTo(-300, 9);
    for (const r of [first, second]) expect(norm([r.moment[0], r.moment[1], 0] as Vec3)).toBeCloseTo(0, 9);
  });
});

describe('what is stated at a pin that closes a loop', () => {
  const linkage = (early: boolean): { forces: Forces; rod: string } => {
    const b = new Builder().weightless();
    const [crank, rod, rocker] = [b.member([0, 0, 0]), b.member([40, 0, 0]), b.member([200, -20, 0])];
    const pin = (): string => b.joint('revolute', rocker, rod, { id: 'pin', at: [160, 70, 0] });
    if (early) pin();
    const first = b.joint('revolute', 'frame', crank, { id: 'first' });
    b.joint('revolute', crank, rod, { id: 'second' });
    b.joint('revolute', 'frame', rocker, { id: 'third' });
    if (!early) pin();
    b.motor(first, 30);
    b.design.loads.push(item({ id: 'rub', name: 'Rub', type: 'joint-friction', joint: 'pin', value: 2 }));
    return { forces: at(b).forces, rod };
  };
  it.each([true, false])('keeps its name on the sheet, stated first %s', (early) => {
    const { forces, rod } = linkage(early);
    const rub = loadSheet(forces, rod, 'frame', false).lines.filter((l) => l.id === 'rub');
    expect(rub).toHaveLength(1);
    expect(norm(rub[0].moment)).toBeCloseTo(2, 9);
    const pin = loadSheet(forces, rod, 'frame', false).lines.find((l) => l.id === 'pin')!;
    expect(pin.moment[2]).toBeCloseTo(0, 9);
  });
});

describe('a member that does not turn', () => {
  it('is told by its travel: the coupler of a parallelogram goes as fast as the crank’s end, with the force along its way', () => {
    const b = new Builder().weightless();
    const [crank, coupler, rocker] = [b.member([0, 0, 0]), b.member([0, 60, 0]), b.member([200, 0, 0])];
    const first = b.joint('revolute', 'frame', crank);
    b.joint('revolute', crank, coupler);
    b.joint('revolute', 'frame', rocker);
    b.joint('revolute', rocker, coupler, { at: [200, 0, 0] });
    b.motor(first, 30);
    b.load('force', { member: coupler, at: [100, 0, 0], force: [50, 20, 0] });
    const { table } = at(b);
    const line = (m: string) => table.lines.find((l) => l.member === m)!;
    const { travel } = line(coupler);
    // Upright at the top the crank's end goes back along x at 60 mm · π rad/s.
    expect(travel!.speed).toBeCloseTo(60 * Math.PI, 8);
    expect(travel!.direction[0]).toBeCloseTo(-1, 9);
    expect(travel!.load).toBeCloseTo(50, 8);
    expect(travel!.power).toBeCloseTo((50 * 60 * Math.PI) / 1e3, 8);
    expect(line(crank).travel).toBeUndefined();
    // Its torque about its own joint stands as it was.
    expect(line(coupler).motion).toBe('turn');
  });
});

describe('stages in series', () => {
  it('efficiencies of planetary sets multiply', () => {
    const efficiency = (sets: number): number => {
      let s = withInputShaft(emptyDesign('sets'), { type: 'motor', name: 'Motor', fields: { speed: 600 } });
      for (let k = 0; k < sets; k++) s = insertStage(s.design, { kind: 'planetary', from: s.output })!;
      const joint = s.design.joints.find((j) => j.child === s.output)!.id;
      const sense = Math.sign(analyse(s.design).ledger.lines.find((l) => l.member === s.output)!.speed);
      const d = {
        ...s.design,
        settings: { gravity: [0, 0, 0] as Vec3 },
        loads: [item({ id: 'l', name: 'l', type: 'joint-load', joint, value: -sense * 40 })],
      };
      return analyse(d).ledger.efficiency!;
    };
    const one = efficiency(1);
    expect(one).toBeLessThan(1);
    expect(efficiency(2)).toBeCloseTo(one ** 2, 9);
    expect(efficiency(3)).toBeCloseTo(one ** 3, 9);
  });
});

describe('the lines of a load sheet', () => {
  it('are called as what acts: weight, inertia, the source by its name or what holds a joint, everything else by its own', () => {
    const b = new Builder();
    const s = b.shaft([0, 0, 0], 'frame', { mass: 2, massCentre: [30, 0, 0], inertia: [1e-3, 1e-3, 1e-3], axis: [0, 1, 0], up: [1, 0, 0] });
    b.motor(s.joint, 300);
    b.load('force', { member: s.member, at: [10, 0, 0], force: [0, 0, -50] });
    Object.assign(b.design.sources[0], { name: 'Geared motor' });
    Object.assign(b.design.joints[0], { name: 'Journal' });
    Object.assign(b.design.loads[0], { name: 'Cable pull' });
    const { forces } = at(b);
    forces.evaluate({ inertia: true });
    const named = (inertia: boolean): [string, string][] => loadSheet(forces, s.member, s.member, inertia).lines.map((l) => [l.kind, l.name]);
    // Wherever the centre of mass is, they add up to nothing about any point.
    const off = at(b);
    Object.assign(b.design.members[0], { massCentre: [30, -20, 15] });
    off.forces = new Forces(poseOf(compile(b.design)));
    off.forces.velocity[0] = 10 * Math.PI;
    off.forces.evaluate({ inertia: true });
    const sheet = loadSheet(off.forces, s.member, s.member, true);
    for (const x of [...sheet.sumForce, ...sheet.sumMoment]) expect(x).toBeCloseTo(0, 9);
    // Inertia acts at the centre of mass, as weight does.
    for (const kind of ['inertia', 'weight']) {
      const line = sheet.lines.find((l) => l.kind === kind)!;
      expect(norm(line.force)).toBeGreaterThan(10);
      line.point.forEach((x, k) => expect(x).toBeCloseTo([30, -20, 15][k], 9));
    }
    expect(Object.fromEntries(named(true))).toEqual({
      weight: 'Weight',
      inertia: 'Inertia',
      source: 'Geared motor',
      joint: 'Journal',
      load: 'Cable pull',
    });
  });
});
