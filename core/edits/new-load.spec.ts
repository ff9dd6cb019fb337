import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { type Design, emptyDesign, readDesign } from '../document/index';
import { loadEffects, senseOf } from '../forces/index';
import { JOINT_KINDS } from '../joints/index';
import { LOAD_KINDS } from '../loads/index';
import { unit } from '../math/index';
import { Builder } from '../testing/designs';
import { hasWeight, newLoad, withWeight } from './index';
import { insertStage, withInputShaft } from '../sizing/index';

const train = (): Design => {
  const s = withInputShaft(emptyDesign('Train'), { type: 'motor', name: 'Motor' });
  return insertStage(s.design, { kind: 'rack', from: s.output })!.design;
};

describe('a load to begin with', () => {
  it('of every kind is a sound part of the design and changes what the train needs, or holds', () => {
    const d = train();
    for (const k of LOAD_KINDS) {
      const load = newLoad(d, k.type)!;
      const loaded = { ...d, loads: [load] };
      expect([k.type, readDesign(structuredClone(loaded)).problems]).toEqual([k.type, undefined]);
      expect(analyse(loaded).findings.filter((f) => f.severity === 'fault')).toEqual([]);
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
  it('opposes the motion about or along the axis of its joint, of every kind, stated either way round, whichever way the source runs', () => {
    const reached: string[] = [];
    for (const { type, freedoms } of JOINT_KINDS.filter((k) => k.freedoms.length)) {
      for (const reversed of [false, true]) {
        for (const speed of [30, -30]) {
          const b = new Builder().weightless();
          const m = b.member([0, 0, 0], { axis: unit([1, 2, 2]), mass: 1 });
          const more = type === 'screw' ? { lead: 5 } : {};
          const j = reversed ? b.joint(type, m, 'frame', more) : b.joint(type, 'frame', m, more);
          freedoms.forEach((_, k) => void b.motor(k ? `${j}:${k}` : j, speed));
          const { forces } = analyse(b.design);
          const sense = (c: string): 1 | -1 => senseOf(forces, c);
          for (const [load, at, has] of [
            ['joint-load', { joint: j }, true],
            ['torque', { member: m }, freedoms.some((f) => f.motion !== 'slide')],
            ['force', { member: m }, freedoms.some((f) => f.motion === 'slide')],
          ] as const) {
            if (!has) continue;
            const made = newLoad(b.design, load, { ...at, sense })!;
            const found = loadEffects(analyse({ ...b.design, loads: [made] }).forces).get(made.id);
            const name = `${type}${reversed ? ', the other way round' : ''}, ${speed}: ${load}`;
            expect([name, found]).toEqual([name, 'opposes']);
            reached.push(`${type} ${load}`);
          }
        }
      }
    }
    expect(new Set(reached).size).toBe(JOINT_KINDS.length - 1 + 6 + 4);
  });
  it('weight is counted unless it is taken out, and comes back as it was', () => {
    const d = train();
    expect([hasWeight(d), hasWeight(withWeight(d, false)), hasWeight(withWeight(withWeight(d, false), true))]).toEqual([true, false, true]);
    expect(withWeight(withWeight(d, false), true)).toEqual(d);
    expect(readDesign(withWeight(d, false)).problems).toBeUndefined();
  });
});
