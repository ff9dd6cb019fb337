import { describe, expect, it } from 'vitest';
import { analyse, overlaps } from '../checks/index';
import { emptyDesign } from '../document/index';
import { placeAlong, placeAround, placingOf } from './index';
import { insertStage, withInputShaft } from '../sizing/index';

const two = () => {
  let s = withInputShaft(emptyDesign('New'), { type: 'motor', name: 'Motor' });
  for (const kind of ['spur', 'toothed-belt']) s = insertStage(s.design, { kind, from: s.output })!;
  return s.design;
};

describe('placing a shaft about the one that drives it', () => {
  it('knows the working distance, and takes along what hangs behind', () => {
    const d = two();
    const p = placingOf(d, d.members[1].id)!;
    expect(p.distance).toBeCloseTo(80, 9);
    expect(p.working).toBeCloseTo(80, 9);
    expect(p.line).toBeCloseTo(0, 9);
    const turned = placeAround(d, p, p.working!, 0.7);
    expect(turned.members[0].at).toEqual(d.members[0].at);
    const gap = (x: typeof d): number => Math.hypot(...[0, 1, 2].map((k) => x.members[2].at![k] - x.members[1].at![k]));
    expect(gap(turned)).toBeCloseTo(gap(d), 9);
    const a = analyse(turned);
    expect(a.findings.filter((f) => f.severity !== 'note')).toEqual([]);
    expect(overlaps(a.pose)).toEqual([]);
  });
  it('says what another distance or place along the shaft would be', () => {
    const d = two();
    const p = placingOf(d, d.members[1].id)!;
    expect(analyse(placeAround(d, p, 80.5, 0)).findings.map((f) => f.code)).toContain('open-mesh');
    const off = placeAlong(d, p, 12);
    expect(placingOf(off, d.members[1].id)!.line).toBeCloseTo(-12, 9);
    expect(placingOf(d, d.members[0].id)).toBeUndefined();
  });
  it('a rack put round its pinion turns with it, and goes on meshing', () => {
    const begun = withInputShaft(emptyDesign('New'), { type: 'motor', name: 'Motor' });
    const d = insertStage(begun.design, { kind: 'rack', from: begun.output })!.design;
    const slide = d.members[1].id;
    const p = placingOf(d, slide)!;
    expect([p.turns, p.distance]).toEqual([true, expect.closeTo(20, 9)]);
    for (const angle of [0.4, -1.9, Math.PI]) {
      const turned = placeAround(d, p, p.working!, angle);
      const a = analyse(turned);
      expect(a.findings.filter((f) => f.severity !== 'note')).toEqual([]);
      expect(overlaps(a.pose)).toEqual([]);
      const [before, after] = [d, turned].map((x) => x.members[1].axis!);
      expect(before.reduce((s, v, k) => s + v * after[k], 0)).toBeCloseTo(Math.cos(angle), 9);
    }
    const open = placeAround(d, p, p.working! + 0.3, 0.4);
    expect(analyse(open).findings.map((f) => f.code)).toContain('open-mesh');
  });
});
