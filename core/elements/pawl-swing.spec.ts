import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { emptyDesign } from '../document/index';
import { swingingPawls } from '../kinematics/index';
import { insertStage, withInputShaft } from '../sizing/index';
import { type Pawl, type RatchetWheel, pawlSwing, ratchetOutline, swingOverPitch } from './index';

const wheelOf = (more: Partial<RatchetWheel> = {}): RatchetWheel => ({
  id: 'w',
  name: 'w',
  type: 'ratchet-wheel',
  member: 'm',
  teeth: 12,
  diameter: 120,
  depth: 9,
  width: 10,
  ...more,
});
const pawlOf = (more: Partial<Pawl> = {}): Pawl => ({ id: 'p', name: 'p', type: 'pawl', member: 'f', length: 50, width: 10, ...more });
/** Pin off the wheel; the nose towards the rim. */
const place = { pivot: [42, 75] as const, towards: Math.atan2(-0.25, -0.75) };
const TURN = 2 * Math.PI;

describe('a pawl on its wheel', () => {
  it('swings between root and tip by the triangle of axis, pin and nose', () => {
    const s = pawlSwing(wheelOf(), pawlOf(), place)!;
    for (const [swing, radius] of [
      [s.root, 51],
      [s.tip, 60],
    ]) {
      const a = place.towards + s.lifts * swing;
      expect(Math.hypot(42 + 50 * Math.cos(a), 75 + 50 * Math.sin(a))).toBeCloseTo(radius, 9);
    }
    expect(s.tip).toBeGreaterThan(s.root);
    expect(pawlSwing(wheelOf(), pawlOf({ length: 20 }), place)).toBeUndefined();
  });

  it('rides up the back and drops in once a pitch, in either sense, whatever the shape of the teeth: its nose touches and never stands in the wheel', () => {
    const shape = fc.record({
      free: fc.constantFrom('forward' as const, 'back' as const),
      faceAngle: fc.integer({ min: -20, max: 0 }),
      land: fc.constantFrom(0, 3),
      back: fc.constantFrom('straight' as const, 'curved' as const),
      teeth: fc.integer({ min: 8, max: 24 }),
    });
    fc.assert(
      fc.property(shape, (more) => {
        const wheel = wheelOf(more),
          pawl = pawlOf();
        const s = pawlSwing(wheel, pawl, place)!;
        const steps = 60;
        const over = swingOverPitch(wheel, pawl, place, s, steps);
        for (const x of over) expect(x <= s.tip + 1e-9).toBe(true);
        // Up, but for one way down over the tip, along the face and down to
        // the deepest; a land is a chord, a little deeper in its middle.
        const down = [...over].map((x, k) => over[(k + 1) % steps] < x - 0.01 * (s.tip - s.root));
        expect(down.filter((d, k) => d && !down[(k + steps - 1) % steps])).toHaveLength(1);
        // It drops in. How deep depends on how the arc of its nose lies to the face:
        // along a radial face it comes down behind the tip, on the back beside the foot.
        expect(Math.max(...over) - Math.min(...over)).toBeGreaterThan(0.5 * (s.tip - s.root));
        // The nose is on the outline, or at the foot.
        const free = more.free === 'back' ? -1 : 1;
        const outline = ratchetOutline(wheel);
        over.forEach((x, k) => {
          const a = place.towards + s.lifts * x;
          const [nx, ny] = [42 + 50 * Math.cos(a), 75 + 50 * Math.sin(a)];
          const t = (-free * TURN * k) / more.teeth / steps;
          const [px, py] = [nx * Math.cos(t) - ny * Math.sin(t), nx * Math.sin(t) + ny * Math.cos(t)];
          expect(toOutline(outline, px, py)).toBeLessThan(1e-5);
        });
      }),
      { numRuns: 40, examples: [[{ free: 'forward', faceAngle: 0, land: 3, back: 'curved', teeth: 24 }]] },
    );
  });

  it('is put into a train with a face at its nose, and swings with the pose', () => {
    for (const free of ['forward', 'back']) {
      const begun = withInputShaft(emptyDesign('x'), { type: 'crank', name: 'Crank' });
      const made = insertStage(begun.design, { kind: 'ratchet', from: begun.output, values: { free } })!;
      const a = analyse(made.design);
      expect(a.findings.map((f) => f.code)).not.toContain('pawl-between-teeth');
      const [pawl] = swingingPawls(a.pose.kinematics);
      const swing = a.compiled.couplings[0].model.derived!.find((d) => d.key === 'swing')!.value as number;
      const at = (part: number): number => {
        a.pose.setFree([((free === 'back' ? -1 : 1) * part * TURN) / Number(made.design.elements[0]['teeth' as never])]);
        return Math.abs(pawl.at(a.pose.q));
      };
      const rest = at(0.001);
      const most = Math.max(...[0.2, 0.4, 0.6, 0.7, 0.8, 0.9].map((part) => Math.abs(at(part) - rest)));
      expect(most).toBeGreaterThan((0.5 * swing * Math.PI) / 180);
      expect(at(1.001)).toBeCloseTo(rest, 6);
    }
  });
});

/** Distance of a point to an outline, mm. */
function toOutline(o: number[], x: number, y: number): number {
  let best = Infinity;
  for (let k = 0, j = o.length - 2; k < o.length; j = k, k += 2) {
    const [ax, ay, dx, dy] = [o[j], o[j + 1], o[k] - o[j], o[k + 1] - o[j + 1]];
    const t = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
    best = Math.min(best, Math.hypot(x - ax - t * dx, y - ay - t * dy));
  }
  return best;
}
