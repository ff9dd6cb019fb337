import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { readDesign } from '../document/index';
import { type Vec3, cross, norm, vadd, vscale, vsub } from '../math/index';
import { Builder, state } from '../testing/designs';
import { bearingForces, reactionAt } from './index';

const bearing = (at: number, thrust: 'takes' | 'free' = 'free') => ({ at, thrust, form: 'rolling', inner: 20, outer: 42, width: 12, block: 'no' });

/** A shaft along an axis with bearings and forces on it, at places along it (mm) and off it. */
function shaft(bearings: ReturnType<typeof bearing>[], loads: { at: Vec3; force: Vec3 }[], axis: Vec3 = [0, 0, 1]) {
  const b = new Builder().weightless();
  const s = b.shaft([0, 0, 0], 'frame', { axis });
  state(b.design.joints[0], { bearings });
  for (const l of loads) b.load('force', { member: s.member, ...l });
  b.motor(s.joint, 0);
  const a = analyse(b.design);
  a.forces.evaluate();
  return { b, a, joint: s.joint, r: bearingForces(a.forces, s.joint)! };
}

describe('bearings of a joint', () => {
  it('two share a load by the lever, also outside them', () => {
    // 100 N at 250 of bearings at 0 and 400: 37.5 and 62.5; at 500 outside: −25 and 125 (statics).
    const between = shaft([bearing(0), bearing(400)], [{ at: [0, 0, 250], force: [100, 0, 0] }]).r;
    expect(between.bearings.map((x) => -x.force[0])).toEqual([expect.closeTo(37.5, 9), expect.closeTo(62.5, 9)]);
    const outside = shaft([bearing(0), bearing(400)], [{ at: [0, 0, 500], force: [0, 100, 0] }]).r;
    expect(outside.bearings.map((x) => -x.force[1])).toEqual([expect.closeTo(-25, 9), expect.closeTo(125, 9)]);
    expect(between.by).toBe('statics');
  });
  it('thrust goes to the one that takes it; where none does it is told', () => {
    const load = [{ at: [30, 0, 100] as Vec3, force: [0, 0, -80] as Vec3 }];
    const taken = shaft([bearing(0, 'takes'), bearing(200)], load).r;
    expect(taken.bearings.map((x) => x.axial)).toEqual([expect.closeTo(80, 9), 0]);
    // The arm of 30 mm tilts the shaft: 80·30/200 either way.
    expect(taken.bearings.map((x) => x.radial)).toEqual([expect.closeTo(12, 9), expect.closeTo(12, 9)]);
    expect(shaft([bearing(0), bearing(200)], load).r.untaken).toBeCloseTo(80, 9);
  });
  it('three carry as a continuous beam on stiff supports', () => {
    // Two equal spans, a load in the middle of one: 13/32, 22/32, −3/32
    // (three-moment equation; AISC Manual, beam diagrams, from memory).
    const { r } = shaft([bearing(0), bearing(300), bearing(600)], [{ at: [0, 0, 150], force: [-32, 0, 0] }]);
    expect(r.by).toBe('beam');
    [13, 22, -3].forEach((x, k) => expect(r.bearings[k].force[0]).toBeCloseTo(x, 8));
    // The same along another axis, and with the load the other way.
    const turned = shaft([bearing(0), bearing(300), bearing(600)], [{ at: [0, 0, 150], force: [0, 0, 32] }], [0, 1, 0]).r;
    [13, 22, -3].forEach((x, k) => expect(turned.bearings[k].force[2]).toBeCloseTo(-x, 8));
  });
  it('of any number hold what the joint holds: force and moment about its point', () => {
    const place = fc.integer({ min: -400, max: 400 });
    const part = fc.integer({ min: -90, max: 90 });
    fc.assert(
      fc.property(
        fc.uniqueArray(place, { minLength: 2, maxLength: 5 }),
        fc.array(fc.record({ at: fc.tuple(part, part, place), force: fc.tuple(part, part, part) }), { minLength: 1, maxLength: 4 }),
        (at, loads) => {
          const { a, r, joint } = shaft(
            at.map((z, k) => bearing(z, k ? 'free' : 'takes')),
            loads,
          );
          const whole = reactionAt(a.forces, joint)!;
          let force: Vec3 = [0, 0, 0],
            moment: Vec3 = [0, 0, 0];
          for (const b of r.bearings) {
            force = vadd(force, b.force);
            moment = vadd(moment, cross([0, 0, b.at * 1e-3], b.force));
          }
          const size = 1 + norm(whole.force) + norm(whole.moment);
          expect(norm(vsub(force, whole.force))).toBeLessThan(1e-8 * size);
          // About the axis itself the bearings hold nothing: the source does.
          const tilt = vsub(vsub(moment, whole.moment), vscale([0, 0, 1], moment[2] - whole.moment[2]));
          expect(norm(tilt)).toBeLessThan(1e-7 * size);
        },
      ),
      { numRuns: 60 },
    );
  });
  it('one alone holds the tilting as well, and a joint without any states none', () => {
    const { r } = shaft([bearing(0, 'takes')], [{ at: [0, 0, 100], force: [50, 0, 0] }]);
    expect(r.bearings[0].tilting).toBeCloseTo(5, 9);
    const { a, joint } = shaft([], [{ at: [0, 0, 100], force: [50, 0, 0] }]);
    expect(bearingForces(a.forces, joint)).toBeUndefined();
  });
  it('are part of a sound document', () => {
    const { b } = shaft([bearing(0), bearing(100)], []);
    expect(readDesign(structuredClone(b.design)).problems).toBeUndefined();
    state(b.design.joints[0], { bearings: [{ at: 0 }] });
    expect(readDesign(structuredClone(b.design)).problems).toBeDefined();
  });
});
