import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compile, type Pose, poseOf } from '../kinematics/index';
import { PLACEMENT } from '../math/index';
import { Builder } from '../testing/designs';
import { analyse } from '../checks/index';
import { JOINT_KINDS, jointKind } from './index';

/** Where a point of a member's reference position stands now, m. */
const at = (m: Pose, member: string, p: readonly number[]): number[] => {
  const t = m.placements,
    b = PLACEMENT * m.compiled.structure.bodyOf.get(member)!;
  return [0, 1, 2].map((r) => t[b + 4 * r] * p[0] + t[b + 4 * r + 1] * p[1] + t[b + 4 * r + 2] * p[2] + t[b + 4 * r + 3]);
};
const close = (a: readonly number[], b: readonly number[]): void => a.forEach((v, k) => expect(v).toBeCloseTo(b[k], 10));

/** One member on the frame by a joint of the given type, at the origin, z up. */
function one(type: string, more: object = {}) {
  const b = new Builder().weightless();
  const member = b.member([0, 0, 0]);
  b.joint(type, 'frame', member, { ...(type === 'screw' ? { lead: 10 } : {}), ...more });
  return { member, m: poseOf(compile(b.design)) };
}

describe('joints', () => {
  it('have the freedoms that the trade gives them', () => {
    // IFToMM: lower pairs and their mobility.
    const freedoms = { fixed: 0, revolute: 1, prismatic: 1, screw: 1, cylindrical: 2, 'pin-in-slot': 2, planar: 3, spherical: 3 };
    expect(Object.fromEntries(JOINT_KINDS.map((k) => [k.type, k.freedoms.length]))).toEqual(freedoms);
    for (const [type, n] of Object.entries(freedoms)) expect(one(type).m.kinematics.count).toBe(n);
    expect(jointKind('nothing')).toBeUndefined();
  });

  it('turn, slide and screw by their coordinates, and never wrap', () => {
    const quarter = Math.PI / 2;
    const turn = one('revolute');
    turn.m.setFree([quarter + 40 * Math.PI]);
    close(at(turn.m, turn.member, [1, 0, 0]), [0, 1, 0]);
    expect(turn.m.q[0] / turn.m.kinematics.scale[0]).toBeCloseTo(20.25, 12);
    const slide = one('prismatic');
    slide.m.setFree([0.4]);
    close(at(slide.m, slide.member, [1, 0, 0]), [1, 0, 0.4]);
    const screw = one('screw');
    screw.m.setFree([quarter]);
    close(at(screw.m, screw.member, [1, 0, 0]), [0, 1, 0.0025]);
    const left = one('screw', { hand: 'left' });
    left.m.setFree([quarter]);
    close(at(left.m, left.member, [1, 0, 0]), [0, 1, -0.0025]);
  });

  it('of several freedoms let each through by itself', () => {
    const c = one('cylindrical');
    c.m.setFree([Math.PI / 2, 0.3]);
    close(at(c.m, c.member, [1, 0, 0]), [0, 1, 0.3]);
    const p = one('planar');
    p.m.setFree([0.1, 0.2, Math.PI / 2]);
    close(at(p.m, p.member, [1, 0, 0]), [0.1, 1.2, 0]);
    const s = one('pin-in-slot');
    s.m.setFree([0.25, Math.PI]);
    close(at(s.m, s.member, [1, 0, 0]), [-0.75, 0, 0]);
  });

  it('keep lengths whatever they do: members stay rigid', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('revolute', 'screw', 'cylindrical', 'planar', 'spherical', 'pin-in-slot'),
        fc.array(fc.double({ min: -1.4, max: 1.4, noNaN: true }), { minLength: 3, maxLength: 3 }),
        (type, q) => {
          const { m, member } = one(type);
          m.setFree(q.slice(0, m.kinematics.freeCount));
          const points = [
            [0, 0, 0],
            [1, 2, 3],
            [-2, 0.5, 1],
          ];
          const now = points.map((p) => at(m, member, p));
          for (let i = 0; i < 3; i++) {
            for (let j = 0; j < i; j++) {
              const d = (a: readonly number[], b: readonly number[]): number => Math.hypot(...a.map((v, k) => v - b[k]));
              expect(d(now[i], now[j])).toBeCloseTo(d(points[i], points[j]), 10);
            }
          }
        },
      ),
    );
  });

  it('stated from the carried side move the same way: their numbers belong to child against parent', () => {
    // The frame as the child of a shaft: a positive turn of the frame against the shaft turns the shaft back.
    const b = new Builder().weightless();
    const member = b.member([0, 0, 0]);
    b.design.joints.push({ id: 'j', type: 'revolute', parent: member, child: 'frame' });
    const m = poseOf(compile(b.design));
    m.setFree([Math.PI / 2]);
    close(at(m, member, [1, 0, 0]), [0, -1, 0]);
  });

  it('close loops as they carry trees: a shaft in two bearings on one line still turns, and is redundant in its forces only', () => {
    for (const [type, freedoms] of [
      ['revolute', 1],
      ['cylindrical', 1],
      ['spherical', 1],
      ['fixed', 0],
    ] as const) {
      const b = new Builder().weightless();
      const s = b.shaft([0, 0, 0]);
      b.joint(type, 'frame', s.member, { at: [0, 0, 100] });
      expect(analyse(b.design).freedoms, type).toBe(freedoms);
    }
  });

  it('out of line lock what they carry', () => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]);
    b.joint('revolute', 'frame', s.member, { at: [0, 30, 100] });
    expect(analyse(b.design).freedoms).toBe(0);
  });
});
