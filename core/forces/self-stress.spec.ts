import { describe, expect, it } from 'vitest';
import { compile, poseOf } from '../kinematics/index';
import { type Vec3, cross, dot, vscale, vsub, toWorldVector, frameOf } from '../math/index';
import { Builder } from '../testing/designs';
import { Forces, reactionAt } from './index';

/** A joint on the way round a loop: 1 where the loop goes from what carries to what is carried. */
type Way = readonly [joint: string, sense: 1 | -1];

/**
 * A four-bar in a plane, tilted in space, and a second rocker on its coupler: two loops that share the crank, its pins at
 * different places across the plane, so that what statics leaves open is a force across it and two moments a loop.
 */
function sixBar(normal: Vec3): { b: Builder; loops: Way[][] } {
  const b = new Builder().weightless();
  const f = frameOf([0, 0, 0], normal, normal[0] === 0 ? [1, 0, 0] : [0, 1, 0]);
  const at = (x: number, y: number, z: number): Vec3 => toWorldVector(f, [x, y, z]);
  const place = { axis: f.z, up: f.x };
  const A = at(0, 0, 0),
    B = at(20, 50, 12),
    C = at(140, 90, -7),
    D = at(150, 0, 5),
    E = at(90, 110, 20),
    F = at(60, -30, -15);
  const crank = b.member(A, place),
    coupler = b.member(B, place),
    rocker = b.member(C, place),
    second = b.member(E, place);
  const a = b.joint('revolute', 'frame', crank);
  const bb = b.joint('revolute', crank, coupler);
  const c = b.joint('revolute', coupler, rocker);
  const off = (from: Vec3, to: Vec3): Vec3 => [dot(vsub(to, from), f.x), dot(vsub(to, from), f.y), dot(vsub(to, from), f.z)];
  const d = b.joint('revolute', 'frame', rocker, { at: off(C, D) });
  const e = b.joint('revolute', coupler, second);
  const g = b.joint('pin-in-slot', 'frame', second, { at: off(E, F), axis: [0, 0, 1], up: [1, 0, 0] });
  b.motor(a, 30);
  b.load('force', { member: coupler, at: [40, 25, 9], force: [7, -31, 100] });
  b.load('torque', { member: second, torque: [0.6, -0.4, 0.2] });
  const loops: Way[][] = [
    [
      [a, 1],
      [bb, 1],
      [c, 1],
      [d, -1],
    ],
    [
      [a, 1],
      [bb, 1],
      [e, 1],
      [g, -1],
    ],
  ];
  return { b, loops };
}

describe('what statics leaves open in plane loops', () => {
  const NORMALS: readonly Vec3[] = [
    [0, 0, 1],
    [1, 0, 0],
    [0, -1, 0],
    [2 / 3, 1 / 3, 2 / 3],
  ];
  it.each(NORMALS)('is chosen so that the moments which tilt the joints are least, by their squares: plane across %j', (...normal) => {
    const n = normal as unknown as Vec3;
    const { b, loops } = sixBar(n);
    const compiled = compile(b.design);
    const forces = new Forces(poseOf(compiled));
    for (const turn of [0, 0.4, -0.7]) {
      const c = compiled.structure.firstOf.get(b.design.joints[0].id)!;
      forces.pose.solve([c], [turn]);
      forces.evaluate();
      const most = Math.max(...loops.flat().map(([j]) => Math.hypot(...reactionAt(forces, j)!.moment)));
      expect(most).toBeGreaterThan(0.1);
      for (const loop of loops) {
        // A moment in the plane, and a force across it, that go round the loop change the sum of squares by nothing.
        let moment: Vec3 = [0, 0, 0],
          force = 0;
        for (const [joint, sense] of loop) {
          const r = reactionAt(forces, joint)!;
          const flat = vsub(r.moment, vscale(n, dot(r.moment, n)));
          moment = [moment[0] + sense * flat[0], moment[1] + sense * flat[1], moment[2] + sense * flat[2]];
          force += sense * dot(flat, cross(n, r.point)) * 1e-3;
        }
        for (const x of [...moment, force]) expect(Math.abs(x)).toBeLessThan(1e-9 * most);
      }
    }
  });
});
