import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import type { Design } from '../fields/types';
import { compile } from '../kinematics/index';
import { Hand, run } from '../motion/index';
import { Builder } from '../testing/designs';

/** A 20-tooth pinion of module 2 over a rack that slides along x. */
function rackAndPinion(teeth: number, stops: { lower?: number; upper?: number } = {}, at = 0): Builder & { slide: string; pinion: string } {
  const b = new Builder().weightless();
  const p = b.shaft([at, 20, 0]),
    s = b.slide([0, 0, 0], [1, 0, 0]);
  b.couple('rack-mesh', {
    a: b.gear(p.member, 20, 2),
    b: b.element('rack', s.member, { teeth, module: 2, width: 10, height: 12, axis: [0, 1, 0], up: [0, 0, 1] }),
  });
  b.motor(p.joint, 60);
  Object.assign(b.design.joints[1], stops);
  return Object.assign(b, { slide: s.joint, pinion: p.joint });
}
const found = (d: Design, code: string) => analyse(d).findings.filter((f) => f.code === code);
const pitch = 2 * Math.PI;

describe('leaving engagement', () => {
  it('of a rack: its teeth end half a pitch beyond the last, however the rack stands under its pinion', () => {
    fc.assert(
      fc.property(fc.integer({ min: 12, max: 60 }), fc.integer({ min: -30, max: 30 }), (teeth, at) => {
        const b = rackAndPinion(teeth, {}, at);
        const { pose } = analyse(b.design);
        const way = new Hand(pose).interval(0);
        // z pitches of π m in all; 20 of them to a turn.
        expect((way.upper!.at - way.lower!.at) * 20).toBeCloseTo(teeth, 8);
        const travels = [way.lower!.own, way.upper!.own].sort((x, y) => x - y);
        const first = -(Math.floor(teeth / 2) + 0.5) * pitch;
        expect(travels[0]).toBeCloseTo(at - (first + teeth * pitch), 8);
        expect(travels[1]).toBeCloseTo(at - first, 8);
      }),
      { numRuns: 40 },
    );
  });

  it('of a rack is a stop finding that says how many teeth would reach, and these do', () => {
    const short = found(rackAndPinion(21, { lower: -100, upper: 100 }).design, 'leaves-engagement');
    expect(short).toHaveLength(2);
    expect(short[0].severity).toBe('fault');
    const enough = Number(/(\d+) teeth would do/.exec(short[0].message)![1]);
    // ±100 mm need 100/(2π) pitches to either side of the middle tooth.
    expect(enough).toBeLessThan(2 * (100 / pitch) + 4);
    expect(found(rackAndPinion(enough, { lower: -100, upper: 100 }).design, 'leaves-engagement')).toEqual([]);
  });

  it('of a rack ends a run when its teeth are used up', () => {
    const { design } = rackAndPinion(21);
    const r = run(compile(design), { duration: 5, frames: 7 });
    // Ten and a half pitches at 20 a second.
    expect(r.events.map((e) => e.kind)).toEqual(['leaves-engagement']);
    expect(r.events[0].time).toBeCloseTo(10.5 / 20, 6);
  });

  it('of a screw: the whole nut stays on its thread', () => {
    const screw = (length: number, upper: number): Builder => {
      const b = new Builder().weightless();
      const s = b.shaft([0, 0, 0]),
        n = b.slide([0, 0, 0], [0, 0, 1]);
      const e = b.element('screw', s.member, { diameter: 20, pitch: 4, length });
      b.couple('screw-drive', { a: e, b: b.element('nut', n.member, { diameter: 20, outside: 40, length: 30 }) });
      b.motor(s.joint, 60);
      Object.assign(b.design.joints[1], { lower: 0, upper });
      return b;
    };
    expect(found(screw(200, 85).design, 'leaves-engagement')).toEqual([]);
    const beyond = found(screw(200, 100).design, 'leaves-engagement');
    expect(beyond).toHaveLength(1);
    expect(beyond[0].message).toContain('a thread of 230 mm would do');
    expect(found(screw(230, 100).design, 'leaves-engagement')).toEqual([]);
  });

  it('is said in numbers where the train begins at the very end of a thread', () => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]),
      n = b.slide([0, 0, 85], [0, 0, 1]);
    const e = b.element('screw', s.member, { diameter: 20, pitch: 4, length: 200 });
    b.couple('screw-drive', { a: e, b: b.element('nut', n.member, { diameter: 20, outside: 40, length: 30 }) });
    b.motor(s.joint, 60);
    Object.assign(b.design.joints[1], { lower: -50, upper: 20 });
    const [f, ...others] = found(b.design, 'leaves-engagement');
    expect(others).toEqual([]);
    // The screw stands 20 mm the other way relative to the nut.
    expect(f.message).toMatch(/ends at 0 mm and the stops let it go to −20 mm.*a thread of 240 mm would do/);
  });

  it('is looked for with whichever source moves the coupling', () => {
    const b = new Builder().weightless();
    const other = b.shaft([500, 0, 0]);
    b.motor(other.joint, 60);
    const { design } = rackAndPinion(21, { lower: -100, upper: 100 });
    const both = { ...design, members: [...b.design.members.map((m) => ({ ...m, id: 'x' })), ...design.members] };
    both.joints = [{ ...b.design.joints[0], id: 'jx', child: 'x' }, ...design.joints];
    both.sources = [{ ...b.design.sources[0], id: 'sx', joint: 'jx' }, ...design.sources];
    expect(found(both, 'leaves-engagement')).toHaveLength(2);
  });
});
