import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { ratioTexts, piInverseText } from '../checks/index';
import { Design } from '../document/index';
import { piRatio, ratio } from '../math/index';
import { compile } from '../kinematics/index';
import { sketch } from '../sketch/index';
import { Builder, row } from '../testing/designs';
import { sweep } from './index';

const demo = (f: string): Design => JSON.parse(readFileSync(new URL(`../../demo/${f}.json`, import.meta.url), 'utf8'));

describe('the way from stop to stop', () => {
  it('runs over exactly the way that the stops leave, at nominal speed', () => {
    const s = sweep(compile(demo('paddle-winding-gear')), 51)!;
    expect(s.position[0]).toBe(0);
    expect(s.position[50]).toBeCloseTo(900 / (17 * Math.PI), 9);
    // 16.85 turns at 30 rev/min.
    expect(s.time[50]).toBeCloseTo((900 / (17 * Math.PI)) * 2, 6);
    expect(s.values[2][50]).toBeCloseTo(900, 9);
    expect(s.speeds[2][25]).toBeCloseTo((17 * Math.PI) / 2, 9);
  });
  it('finds the worst instant: a hanging weight needs most torque when its arm lies level', () => {
    const b = new Builder();
    const s = b.shaft([0, 0, 0], 'frame', { axis: [0, 1, 0], up: [1, 0, 0], mass: 5, massCentre: [100, 0, 0], inertia: [0, 0, 0] });
    b.motor(s.joint, 10);
    Object.assign(b.design.joints[0], { lower: -80, upper: 40 });
    const w = sweep(compile(b.design), 121)!;
    expect(w.position[w.worst] * 360).toBeCloseTo(0, 6);
    expect(Math.abs(w.input[w.worst])).toBeCloseTo(5 * 9.80665 * 0.1, 9);
  });
  it('takes one turn where no stop ends the way, and nothing where nothing drives', () => {
    const s = sweep(compile(row([[20, 40]]).design), 11)!;
    expect(s.position[10] - s.position[0]).toBe(1);
    const none = row([[20, 40]]);
    none.design.sources.length = 0;
    expect(sweep(compile(none.design))).toBeUndefined();
  });
  it('follows the lift through its loops: the platform rises by twice the height of a stage', () => {
    const c = compile(demo('inspection-lift'));
    const s = sweep(c, 41)!;
    const foot = c.structure.firstOf.get('j-foot')!,
      arm = c.structure.firstOf.get('j-a')!;
    for (let k = 0; k < 41; k += 5) {
      // Arms of 1600 mm: half the foot's distance is the cosine of their angle.
      const w = 1600 * Math.cos((25 * Math.PI) / 180) + s.values[foot][k];
      const angle = Math.acos(w / 1600) - (25 * Math.PI) / 180;
      expect(Math.abs(s.values[arm][k]) * 2 * Math.PI).toBeCloseTo(Math.abs(angle), 9);
    }
  });
  // Folding arms, n stages: screw force F = n W / tan θ, weight of the arms left out (virtual work; every text on lifts).
  it('needs the force of the closed form at the foot of a weightless lift', () => {
    const d = demo('inspection-lift');
    const light: Design = { ...d, settings: { gravity: [0, 0, 0] }, couplings: d.couplings.map((c) => ({ ...c, friction: 0 })) };
    const c = compile(light);
    const s = sweep(c, 21)!;
    const foot = c.structure.firstOf.get('j-foot')!;
    for (let k = 0; k < 21; k += 4) {
      const theta = Math.acos((1600 * Math.cos((25 * Math.PI) / 180) + s.values[foot][k]) / 1600);
      const force = (2 * 1800) / Math.tan(theta);
      expect(Math.abs(s.input[k])).toBeCloseTo((force * 0.006) / (2 * Math.PI), 6);
    }
  });
});

describe('texts and pictures', () => {
  it('writes ratios as numbers and as proportions, and cuts endless ones', () => {
    expect(ratioTexts(piRatio(ratio(17), 1))).toEqual({ exact: '17π', proportion: '17π : 1' });
    expect(piInverseText(piRatio(ratio(-1, 6)))).toBe('-6');
    expect(ratioTexts(piRatio(ratio(3n ** 2000n))).exact.length).toBeLessThan(450);
  });
  it('draws every demo flat, with all its curves inside the box', () => {
    for (const f of ['paddle-winding-gear', 'inspection-lift', 'swing-footbridge', 'screw-gate']) {
      const s = sketch(demo(f));
      expect(s.curves.length).toBeGreaterThan(3);
      const [x, y, w, h] = s.box;
      for (const c of s.curves) {
        const n = c.path.match(/-?[\d.]+/g)!.map(Number);
        // The first point is a place, each further one a step from the last.
        let [at, up] = [0, 0];
        const step = 2e-3 * Math.max(w, h);
        for (let i = 0; i < n.length; i += 2) {
          [at, up] = [at + n[i], up + n[i + 1]];
          expect(at).toBeGreaterThanOrEqual(x - step);
          expect(at).toBeLessThanOrEqual(x + w + step);
          expect(up).toBeGreaterThanOrEqual(y - step);
          expect(up).toBeLessThanOrEqual(y + h + step);
        }
      }
    }
  });
});
