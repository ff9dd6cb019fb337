import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import type { Design } from '../fields/types';
import { Forces, guideForces, reactionAt } from '../forces/index';
import { poseOf } from '../kinematics/index';
import { type Vec3, cross, localFrame, vadd, vscale, vsub } from '../math/index';
import { Builder } from '../testing/designs';
import { figure } from '../testing/figures';
import { bushLimits } from './plain-bearing';
import { canBeRated } from './rate';
import { ratingOf } from './trial';

/** A slide along y of the world at 100 mm/s, with a force on it, N, at a place, mm, both in its own axes, of which z travels. */
function guided(force: Vec3, at: Vec3, guide: object, more: object = {}): Design {
  const b = new Builder().weightless();
  const l = b.slide([0, 0, 0], [0, 1, 0]);
  b.motor(l.joint, 100);
  b.load('force', { member: l.member, at, force, follows: true });
  return { ...b.design, joints: b.design.joints.map((j) => ({ ...j, name: 'Guide', ...guide })), ...more } as Design;
}
const forcesOf = (d: Design): { forces: Forces; joint: string } => {
  const forces = new Forces(poseOf(analyse(d).compiled));
  forces.velocity[0] = 0.1;
  forces.evaluate();
  return { forces, joint: d.joints[0].id };
};

describe('shoes of a guide', () => {
  const vec = (most: number) => fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -most, max: most, noNaN: true }))) as unknown as fc.Arbitrary<Vec3>;
  it('together give the reaction of the joint, across and about all axes across; two rails also about the travel', () => {
    fc.assert(
      fc.property(
        vec(1000),
        vec(300),
        fc.double({ min: 20, max: 800, noNaN: true }),
        fc.double({ min: 50, max: 500, noNaN: true }),
        fc.constantFrom('x', 'y'),
        fc.double({ min: -100, max: 100, noNaN: true }),
        (force, at, shoeSpacing, railSpacing, railsAlong, shoesAt) => {
          const { forces, joint } = forcesOf(guided(force, at, { shoeSpacing, railSpacing, railsAlong, shoesAt }));
          const g = guideForces(forces, joint)!;
          const whole = reactionAt(forces, joint)!;
          // The slide's own axes: z along y of the world; x and y as its frame has them.
          const a: Vec3 = [0, 1, 0];
          const frame = localFrame(forces.pose.compiled.design.members.find((m) => m.kind === 'slide')!);
          const own = railsAlong === 'x' ? frame.x : frame.y;
          const n = cross(a, own);
          let sum: Vec3 = [0, 0, 0];
          let moment: Vec3 = [0, 0, 0];
          let k = 0;
          for (const i of [-1, 1]) {
            for (const j of [-1, 1]) {
              const f = vadd(vscale(n, g.shoes[k][0]), vscale(own, g.shoes[k][1]));
              const p = vadd(vscale(a, shoesAt + (i * shoeSpacing) / 2), vscale(own, (j * railSpacing) / 2));
              sum = vadd(sum, f);
              moment = vadd(moment, cross(vscale(vsub(p, whole.point), 1e-3), f));
              k++;
            }
          }
          const off = (x: Vec3, y: Vec3): number => Math.hypot(...vsub(x, y));
          const across = vsub(whole.force, vscale(a, whole.force[1]));
          expect(off(sum, across)).toBeLessThan(1e-8);
          // What the source gives along the travel has no arm about the joint's own point.
          expect(off(moment, whole.moment)).toBeLessThan(1e-8);
          expect(g.untaken).toBe(0);
        },
      ),
      { seed: 21, numRuns: 60 },
    );
  });
  it('by hand: 200 N across in the middle, 50 on each of four; 300 N along, 120 mm above two shoes 400 mm apart, a pair of 90 N', () => {
    const d = guided([0, 200, 0], [0, 0, 0], { shoeSpacing: 400, railSpacing: 300, shoeArea: 500, shoeMaterial: 'polyamide' });
    expect(
      figure(
        ratingOf(d).lines.find((l) => l.what === 'guide, plain')!,
        'F',
      ),
    ).toBeCloseTo(50, 9);
    const pair = guided([0, 0, -300], [0, 120, 0], { shoeSpacing: 400, shoeArea: 500, shoeMaterial: 'polyamide' });
    const l = ratingOf(pair).lines.find((x) => x.what === 'guide, plain')!;
    expect(figure(l, 'F')).toBeCloseTo((300 * 120) / 400, 9);
    expect(figure(l, 'v')).toBeCloseTo(100, 9);
    const [p, v, pv] = bushLimits('polyamide');
    const is = 90 / 500;
    expect(l.value).toBeCloseTo(Math.min(p / is, v / 0.1, pv / (is * 0.1)), 9);
  });
  it('a carriage: L10 = (C/P)³ of 100 km; static safety by C0; the application factor raises the load', () => {
    const d = guided([0, 2000, 0], [0, 0, 0], { shoeSpacing: 400, railSpacing: 300, shoeDynamic: 10_000, shoeStatic: 15_000 });
    const { lines } = ratingOf(d);
    const life = lines.find((l) => l.what === 'guide life')!;
    // 500 N on each: 8 000 times 100 km, at 0.36 km/h.
    expect(figure(life, 'L10')).toBeCloseTo(8000, 6);
    expect(life.value).toBeCloseTo((8000 * 1e5) / 0.1 / 3600, 0);
    expect(figure(life, 'v')).toBeCloseTo(100, 9);
    expect(life.reserve).toBeCloseTo(10_000 / figure(life, 'Cneed'), 9);
    expect(lines.find((l) => l.what === 'guide, static')!.value).toBeCloseTo(30, 9);
    const rough = ratingOf({ ...d, settings: { ...d.settings, applicationFactor: 2 } }).lines;
    expect(rough.find((l) => l.what === 'guide life')!.value / life.value).toBeCloseTo(1 / 8, 9);
    // A run at one speed is as the load case.
    const run = ratingOf({ ...d, runs: [{ id: 'r', name: 'Run', duration: 1, frames: 5 }] } as Design).lines.find((l) => l.what === 'guide life')!;
    expect(run.value / life.value).toBeCloseTo(1, 6);
  });
  it('one rail takes no moment about the travel: that is said; what is not stated too', () => {
    const why = (d: Design): string =>
      ratingOf(d)
        .unrated.map((u) => u.why)
        .join('; ');
    expect(why(guided([0, 200, 0], [100, 0, 0], { shoeSpacing: 400, shoeDynamic: 1000 }))).toContain(
      'one rail does not take the moment about its travel, up to 20.0 N·m',
    );
    expect(why(guided([0, 200, 0], [100, 0, 0], { shoeSpacing: 400, railSpacing: 200, shoeDynamic: 1000 }))).not.toContain('one rail');
    // What states a guide alone is rated already, before its step is looked at.
    expect(canBeRated(guided([0, 200, 0], [0, 0, 0], { shoeSpacing: 400, shoeDynamic: 1000 }))).toBe(true);
    expect(canBeRated(guided([0, 200, 0], [0, 0, 0], {}))).toBe(false);
    expect(why(guided([0, 200, 0], [0, 0, 0], {}))).toContain('the shoes of its guide are not stated');
    expect(why(guided([0, 200, 0], [0, 0, 0], { shoeSpacing: 400 }))).toContain('neither material and area');
  });
  it('shoes that stay carry more the further it has moved out of them; shoes that move with it do not', () => {
    const at = (shoesOn: string, travel: number): number => {
      const d = guided([0, 200, 0], [0, 0, 0], { shoeSpacing: 400, shoesOn });
      const { forces, joint } = forcesOf(d);
      forces.pose.q[0] = travel / 1e3;
      forces.pose.replace();
      forces.evaluate();
      return Math.max(...guideForces(forces, joint)!.shoes.map((f) => Math.hypot(...f)));
    };
    expect(at('what slides', 500)).toBeCloseTo(100, 6);
    // 200 N, 500 mm beyond the middle of two shoes 400 mm apart: 100 + 200·500/400.
    expect(at('what carries it', 500)).toBeCloseTo(350, 6);
    expect(at('what carries it', -500)).toBeCloseTo(350, 6);
    expect(at('what carries it', 0)).toBeCloseTo(100, 6);
  });
});
