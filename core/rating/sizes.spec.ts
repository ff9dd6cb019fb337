import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { num } from '../elements/index';
import type { Design } from '../fields/types';
import { Builder } from '../testing/designs';
import { ratingFixes } from './fixes';
import { ratingSizes } from './sizes';
import { ratingOf, troublesOf, withRatingFix } from './trial';

/** A pair of case-hardened steel. */
function pair(torque: number, [z1, z2]: readonly [number, number] = [20, 60], more: object = {}): Design {
  const b = new Builder();
  const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([(3 * (z1 + z2)) / 2, 0, 0])];
  const given = { materialGroup: 'case-hardened steel', accuracyGrade: 6, width: 30, ...more };
  b.mesh(b.gear(s1.member, z1, 3, given), b.gear(s2.member, z2, 3, { ...given, phase: z2 % 2 ? 0 : 180 / z2 }));
  b.motor(s1.joint, 300);
  b.load('joint-load', { joint: s2.joint, value: -torque });
  return b.design;
}
const own = (d: Design): number[] => ratingOf(d).lines.flatMap((l) => (l.item === d.couplings[0].id ? [l.reserve] : []));
const rootsOf = (d: Design): number[] => d.elements.map((e) => ratingOf(d).lines.find((l) => l.what === 'root' && l.element === e.id)!.reserve);
const stated = (d: Design, field: string): number[] => d.elements.map((e) => num((e as unknown as Record<string, number>)[field]));

/** The torque at which the least reserve is as wanted. */
function torqueAt(reserve: number, least: (torque: number) => number): number {
  let [low, high] = [1, 5000];
  for (let k = 0; k < 30; k++) {
    const middle = (low + high) / 2;
    if (least(middle) > reserve) low = middle;
    else high = middle;
  }
  return low;
}

describe('sizes proposed for a mesh that bears more than is wanted', () => {
  const d = pair(60);
  const sizes = ratingSizes(d, d.couplings[0].id);
  const by = (field: string) => sizes.find((f) => f.changes[0].field === field)!;
  it('each still bears all that is wanted, and brings no fault or caution', () => {
    expect(Math.min(...own(d))).toBeGreaterThan(1.5);
    expect(sizes.map((f) => f.changes[0].field).sort()).toEqual(['module', 'shift', 'width']);
    for (const f of sizes) {
      expect(Math.min(...own(withRatingFix(d, f))), f.label).toBeGreaterThanOrEqual(1);
      expect(troublesOf(withRatingFix(d, f)), f.label).toEqual(troublesOf(d));
    }
  });
  it('the module is the smallest of ISO 54 that does, the face the narrowest that is tried', () => {
    const after = withRatingFix(d, by('module'));
    const [m] = stated(after, 'module');
    expect(m).toBeLessThan(3);
    const next = { 2.5: 2, 2: 1.5, 1.5: 1.25, 1.25: 1 }[m]!;
    const less = { label: '', changes: by('module').changes.map((c) => ({ ...c, value: next })) };
    expect(Math.min(...own(withRatingFix(d, less)))).toBeLessThan(1);
    const width = Math.min(...stated(withRatingFix(d, by('width')), 'width'));
    expect(width).toBeGreaterThanOrEqual(18);
    expect(width).toBeLessThan(30);
  });
  it('nothing smaller is proposed where no more is borne than is wanted', () => {
    const just = pair(torqueAt(1.01, (t) => Math.min(...own(pair(t)))));
    expect(ratingSizes(just, just.couplings[0].id).filter((f) => f.changes[0].field !== 'shift')).toEqual([]);
  });
  it('of every demo: what is proposed for its meshes holds on the whole design', () => {
    let proposed = 0;
    for (const name of ['paddle-winding-gear', 'towpath-trolley', 'weed-rake']) {
      const demo = JSON.parse(readFileSync(new URL(`../../demo/${name}.json`, import.meta.url), 'utf8')) as Design;
      for (const c of demo.couplings.filter((x) => x.type === 'gear-pair' || x.type === 'rack-mesh')) {
        for (const f of ratingSizes(demo, c.id)) {
          proposed++;
          const lines = ratingOf(withRatingFix(demo, f)).lines.filter((l) => l.item === c.id);
          expect(Math.min(...lines.map((l) => l.reserve)), f.label).toBeGreaterThanOrEqual(1);
        }
      }
    }
    expect(proposed).toBeGreaterThan(3);
  });
});

describe('profile shifts that make both roots alike', () => {
  it.each([
    [17, 68],
    [20, 60],
    [25, 100],
    [60, 20],
  ] as const)('of %s and %s teeth: equal within what a hundredth of a module makes, the sum as it was, the pinion shifted outward', (z1, z2) => {
    const d = pair(40, [z1, z2]);
    const before = rootsOf(d);
    const fix = ratingSizes(d, d.couplings[0].id).find((f) => f.changes[0].field === 'shift')!;
    const after = withRatingFix(d, fix);
    const [ra, rb] = rootsOf(after);
    expect(Math.abs(Math.log(ra / rb))).toBeLessThan(0.02);
    expect(Math.min(ra, rb)).toBeGreaterThan(Math.min(...before));
    const [xa, xb] = stated(after, 'shift');
    expect(xa + xb).toBeCloseTo(0, 9);
    expect(z1 < z2 ? xa : xb).toBeGreaterThan(0);
    // ISO/TR 4467: shifts of a pair without a sum lie between 0.1 and 0.5 for such ratios (from memory).
    expect(Math.abs(xa)).toBeLessThan(0.6);
  });
  it('is a fix where the pinion’s root fails and the wheel’s does not', () => {
    const made = (torque: number): Design => ({ ...pair(torque, [17, 90]), settings: { flankSafety: 0.1 } }) as Design;
    const d = made(torqueAt(0.98, (t) => Math.min(...rootsOf(made(t)))));
    expect(Math.min(...own(d))).toBeLessThan(1);
    const fix = ratingFixes(d, d.couplings[0].id).find((f) => f.changes[0].field === 'shift')!;
    expect(fix.label).toMatch(/^Profile shifts 0\.\d+ and −0\.\d+ instead of 0 and 0: both roots alike$/);
    expect(Math.min(...own(withRatingFix(d, fix)))).toBeGreaterThanOrEqual(1);
  });
  it('none where a gear meshes with others too, of a rack, or where nothing is stated', () => {
    const trolley = JSON.parse(readFileSync(new URL('../../demo/swing-footbridge.json', import.meta.url), 'utf8')) as Design;
    for (const c of trolley.couplings) expect(ratingSizes(trolley, c.id).filter((f) => f.changes[0].field === 'shift')).toEqual([]);
    const bare = pair(40, [20, 60], { materialGroup: undefined });
    expect(ratingSizes(bare, bare.couplings[0].id)).toEqual([]);
  });
});

describe('what is proposed for one thing', () => {
  it('leaves all else that bore what is wanted bearing it: a smaller wheel that would wear out a bearing is not proposed', () => {
    const d = pair(60);
    const carried = (dynamicRating: number): Design =>
      ({
        ...d,
        joints: d.joints.map((j, k) =>
          k
            ? j
            : {
                ...j,
                bearings: [-25, 25].map((at) => ({
                  at,
                  thrust: 'free',
                  form: 'rolling',
                  inner: 15,
                  outer: 32,
                  width: 9,
                  block: 'no',
                  dynamicRating,
                })),
              },
        ),
      }) as Design;
    const modules = (x: Design): number => ratingSizes(x, x.couplings[0].id).filter((f) => f.changes[0].field === 'module').length;
    const life = (x: Design): number => Math.min(...ratingOf(x).lines.flatMap((l) => (l.what === 'bearing life' ? [l.reserve] : [])));
    // A rating with which the bearing just bears what there is now; of a smaller wheel it has to bear more.
    const just = 10_000 / life(carried(10_000));
    expect(life(carried(1.01 * just))).toBeGreaterThan(1);
    expect(modules(carried(1.01 * just))).toBe(0);
    expect(modules(carried(4 * just))).toBe(1);
  });
});
