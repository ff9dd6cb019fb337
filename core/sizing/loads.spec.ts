import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { type Design, emptyDesign, readDesign } from '../document/index';
import { loadEffects } from '../forces/index';
import type { Id } from '../fields/types';
import { LOAD_KINDS } from '../loads/index';
import { unit } from '../math/index';
import { Builder } from '../testing/designs';
import { hasWeight, insertStage, newLoad, withInputShaft, withWeight } from './index';

const train = (): Design => {
  const s = withInputShaft(emptyDesign('Train'), { type: 'motor', name: 'Motor' });
  return insertStage(s.design, { kind: 'rack', from: s.output })!.design;
};

/** Speeds of joints in steady motion. */
const nominal = (d: Design): Map<Id, number> => {
  const { compiled, forces } = analyse(d);
  return new Map(compiled.structure.coordinates.map((c) => [c.joint.id, forces.velocity[c.index]]));
};

describe('a load to begin with', () => {
  it('of every kind is a sound part of the design and changes what the train needs, or holds', () => {
    const d = train();
    for (const k of LOAD_KINDS) {
      const load = newLoad(d, k.type)!;
      const loaded = { ...d, loads: [load] };
      expect([k.type, readDesign(structuredClone(loaded)).problems]).toEqual([k.type, undefined]);
      expect(analyse(loaded).findings.filter((f) => f.severity === 'stop')).toEqual([]);
    }
    const needed = (load: NonNullable<ReturnType<typeof newLoad>>): number =>
      Math.abs(analyse({ ...withWeight(d, false), loads: [load] }).ledger.sources[0].load);
    // 100 N on the rack's slide, at the pitch radius of 20 mm over the mesh's 0.98.
    expect(needed(newLoad(d, 'joint-load')!)).toBeCloseTo((100 * 0.02) / 0.98, 9);
  });
  it('acts where it is asked to, has a name and an id of its own, and is not made where nothing can move', () => {
    const d = train();
    const slide = d.joints.find((j) => j.type === 'prismatic')!;
    const first = newLoad(d, 'force', { member: slide.child, point: [1, 2, 3] })!;
    expect(first).toMatchObject({ member: slide.child, at: [1, 2, 3] });
    const second = newLoad({ ...d, loads: [first] }, 'force', { joint: slide.id })!;
    expect(second).toMatchObject({ member: slide.child });
    expect(second.id).not.toBe(first.id);
    expect(second.name).not.toBe(first.name);
    expect(newLoad(d, 'joint-friction', { member: slide.child })).toMatchObject({ joint: slide.id });
    for (const k of LOAD_KINDS) expect(newLoad(emptyDesign('Nothing'), k.type)).toBeUndefined();
    expect(newLoad(d, 'no such')).toBeUndefined();
  });
  it('acts about or along the axis of the joint that carries its member, and opposes the motion whichever way the source runs', () => {
    for (const axis of [[1, 0, 0], [0, 1, 0], unit([1, 2, 2])] as const) {
      for (const speed of [60, -60]) {
        const b = new Builder().weightless();
        const s = b.shaft([0, 0, 0], 'frame', { axis });
        const t = b.slide([0, 0, 300], axis);
        b.couple('proportional', { a: s.joint, b: t.joint, amountA: 1, amountB: -40 });
        b.motor(s.joint, speed);
        const rates = nominal(b.design);
        for (const [type, joint] of [
          ['torque', s],
          ['force', t],
          ['joint-load', s],
          ['joint-load', t],
        ] as const) {
          const load = newLoad(b.design, type, { joint: joint.joint, sense: (j) => (rates.get(j)! < 0 ? -1 : 1) })!;
          const loaded = { ...b.design, loads: [load] };
          const { pose, forces } = analyse(loaded);
          expect([type, loadEffects(forces).get(load.id)]).toEqual([type, 'opposes']);
          expect(analyse(loaded).ledger.output).toBeGreaterThan(1);
          expect(pose.freedomCount()).toBe(1);
        }
      }
    }
  });
  it('weight is counted unless it is taken out, and comes back as it was', () => {
    const d = train();
    expect([hasWeight(d), hasWeight(withWeight(d, false)), hasWeight(withWeight(withWeight(d, false), true))]).toEqual([true, false, true]);
    expect(withWeight(withWeight(d, false), true)).toEqual(d);
    expect(readDesign(withWeight(d, false)).problems).toBeUndefined();
  });
});
