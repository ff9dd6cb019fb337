import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Design } from '../fields/types';
import { compile, type Pose, poseOf } from '../kinematics/index';
import { Builder, item } from '../testing/designs';
import { bodyMasses } from './body-masses';
import { alongFreedom, inertialWrenches, kineticEnergy, moveBodies, sumTowardsFrame } from './newton-euler';

/** A chain of bodies with one block each, every joint about or along its own axis. */
interface Link {
  type: 'revolute' | 'prismatic' | 'screw';
  axis: [number, number, number];
  at: [number, number, number];
  block: [number, number, number];
  offset: [number, number, number];
}
function chain(links: readonly Link[]): Design {
  const b = new Builder();
  const { design } = b;
  links.forEach((l, k) => {
    design.members.push({ id: `m${k}`, name: `M${k}`, kind: 'body', at: l.at, axis: l.axis });
    design.joints.push({ id: `j${k}`, type: l.type, parent: k ? `m${k - 1}` : 'frame', child: `m${k}`, ...(l.type === 'screw' ? { lead: 8 } : {}) });
    design.elements.push(
      item({
        id: `e${k}`,
        name: `E${k}`,
        type: 'block',
        member: `m${k}`,
        length: l.block[0],
        depth: l.block[1],
        height: l.block[2],
        at: l.offset,
        density: 7850,
      }),
    );
  });
  return design;
}
const whole = (min: number, max: number) => fc.integer({ min, max });
const three = (min: number, max: number) => fc.tuple(whole(min, max), whole(min, max), whole(min, max));
const link: fc.Arbitrary<Link> = fc.record({
  type: fc.constantFrom<Link['type']>('revolute', 'prismatic', 'screw'),
  axis: three(-3, 3).filter((a) => a.some((x) => x !== 0)),
  at: three(-200, 200),
  block: three(5, 80),
  offset: three(-60, 60),
});
const rate = fc.double({ min: -3, max: 3, noNaN: true });

/** Energy, and all that moves, for coordinates, rates and accelerations. */
function state(m: Pose, q: readonly number[], v: readonly number[], a?: readonly number[]) {
  m.setFree(q);
  m.updateAxes();
  const masses = bodyMasses(m.compiled);
  const motion = { twist: new Float64Array(6 * m.kinematics.bodies), accel: new Float64Array(6 * m.kinematics.bodies) };
  moveBodies(m, Float64Array.from(v), a && Float64Array.from(a), motion);
  const own = new Float64Array(6 * m.kinematics.bodies);
  inertialWrenches(m, masses, motion, own);
  return { masses, motion, own, energy: kineticEnergy(m, masses, motion) };
}

describe('one body that turns about a fixed axis', () => {
  // A block of 0.785 kg whose middle is 60 mm from the axis.
  const m = poseOf(compile(chain([{ type: 'revolute', axis: [0, 0, 1], at: [0, 0, 0], block: [40, 50, 50], offset: [60, 0, 0] }])));
  const mass = 7850 * 0.04 * 0.05 * 0.05;
  const inertia = (mass * (0.04 ** 2 + 0.05 ** 2)) / 12 + mass * 0.06 ** 2;

  it('needs mass times radius times speed squared towards the axis, and inertia times acceleration about it', () => {
    const { own: all, masses } = state(m, [0], [10], [4]);
    const own = all.subarray(6);
    const [x, y] = masses.centre.subarray(3, 5);
    expect(Math.hypot(x, y)).toBeCloseTo(0.06, 12);
    expect(own[3]).toBeCloseTo(mass * (-100 * x - 4 * y), 9);
    expect(own[4]).toBeCloseTo(mass * (-100 * y + 4 * x), 9);
    expect(own[5]).toBeCloseTo(0, 12);
    expect(own[2]).toBeCloseTo(inertia * 4, 9);
    expect(alongFreedom(m, all, 0, 1)).toBeCloseTo(inertia * 4, 9);
  });
  it('has half the inertia about the axis times speed squared as energy, wherever it stands', () => {
    for (const q of [0, 1, -2.5, 40]) expect(state(m, [q], [10]).energy).toBeCloseTo(0.5 * inertia * 100, 9);
  });
});

describe('any chain of bodies', () => {
  const anyState = fc.array(fc.record({ link, q: rate, v: rate, a: rate }), { minLength: 1, maxLength: 5 });

  it('takes by its inertial wrenches exactly the power that its energy grows by', () => {
    fc.assert(
      fc.property(anyState, (s) => {
        const m = poseOf(compile(chain(s.map((x) => x.link))));
        if (m.kinematics.count !== s.length || m.kinematics.freeCount !== s.length) return;
        const scale = Array.from(m.kinematics.motion, (k) => (k === 1 ? 0.05 : 1));
        const [q, v, a] = [s.map((x, k) => x.q * scale[k]), s.map((x, k) => x.v * scale[k]), s.map((x, k) => x.a * scale[k])];
        const { motion, own } = state(m, q, v, a);
        let power = 0;
        for (let k = 6; k < own.length; k++) power += own[k] * motion.twist[k];
        // An independent way: the energy a moment later and earlier.
        const dt = 1e-5;
        const at = (t: number): number =>
          state(
            m,
            q.map((x, k) => x + v[k] * t + (a[k] * t * t) / 2),
            v.map((x, k) => x + a[k] * t),
          ).energy;
        const growing = (at(dt) - at(-dt)) / (2 * dt);
        expect(power).toBeCloseTo(growing, 4);
      }),
      { numRuns: 150 },
    );
  });

  it('hands on to each joint what all beyond it need', () => {
    fc.assert(
      fc.property(anyState, (s) => {
        const m = poseOf(compile(chain(s.map((x) => x.link))));
        const own = Float64Array.from({ length: 6 * m.kinematics.bodies }, (_, k) => Math.sin(k * 7.3));
        const external = Float64Array.from({ length: 6 * m.kinematics.bodies }, (_, k) => Math.cos(k * 3.1));
        const wrench = new Float64Array(6 * m.kinematics.bodies);
        sumTowardsFrame(m.kinematics, own, external, wrench);
        for (let b = 1; b < m.kinematics.bodies; b++) {
          for (let k = 0; k < 6; k++) {
            let beyond = 0;
            for (let c = 1; c < m.kinematics.bodies; c++) {
              let x = c;
              while (x && x !== b) x = m.kinematics.parentOf[x];
              if (x === b) beyond += own[6 * c + k] - external[6 * c + k];
            }
            expect(wrench[6 * b + k]).toBeCloseTo(beyond, 9);
          }
        }
      }),
      { numRuns: 60 },
    );
  });

  it('moves by the sum of what its joints do: each twist is the last one’s and its own joint’s', () => {
    fc.assert(
      fc.property(anyState, (s) => {
        const m = poseOf(compile(chain(s.map((x) => x.link))));
        if (m.kinematics.freeCount !== s.length) return;
        const q = s.map((x) => x.q * 0.05);
        const total = state(
          m,
          q,
          s.map((x) => x.v),
        ).motion.twist;
        // One joint at a time, added up.
        const sum = new Float64Array(total.length);
        s.forEach((x, k) => {
          const alone = state(
            m,
            q,
            s.map((_, j) => (j === k ? x.v : 0)),
          ).motion.twist;
          for (let i = 0; i < sum.length; i++) sum[i] += alone[i];
        });
        total.forEach((x, i) => expect(x).toBeCloseTo(sum[i], 9));
      }),
      { numRuns: 60 },
    );
  });
});
