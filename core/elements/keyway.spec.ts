import { describe, expect, it } from 'vitest';
import { areaOf } from '../solids/index';
import type { Element } from '../fields/types';
import { SAMPLES, sample } from '../testing/samples';
import { elementKind, elementProblems } from './index';
import { boreOutline, keywayOf, parallelKey } from './keyway';

describe('a keyway', () => {
  // DIN 6885-1 / ISO 773: hub depth t2 over the bore (from memory).
  it.each([
    [10, 3, 11.4],
    [20, 6, 22.8],
    [40, 12, 43.3],
    [50, 14, 53.8],
    [100, 28, 106.4],
  ])('in a bore of %d mm is %d mm wide and reaches to %d mm over the opposite side (DIN 6885)', (bore, width, over) => {
    const k = keywayOf('DIN 6885', bore)!;
    expect(k.width).toBe(width);
    expect(k.top + bore / 2).toBeCloseTo(over, 9);
  });
  it('key and keyways fit at every size: depth in the shaft and in the hub leave 0.1 to 0.6 mm over the key (DIN 6885-1, from memory)', () => {
    for (let d = 6.5; d <= 230; d += 0.5) {
      const { height, depth } = parallelKey(d)!;
      const over = depth + (keywayOf('DIN 6885', d)!.top - d / 2) - height;
      expect(over, `${d} mm`).toBeGreaterThan(0.09);
      expect(over, `${d} mm`).toBeLessThan(0.61);
    }
  });
  // ANSI B17.1, square keys: a 1 in shaft has a 1/4 in key, and the hub measures 1.114 in over keyway and bore
  // (Machinery's Handbook, from memory).
  it.each([
    [0.5, 1 / 8, 0.56],
    [1, 1 / 4, 1.114],
    [2, 1 / 2, 2.223],
  ])('in a bore of %d in is %d in wide and reaches to %d in (ANSI B17.1)', (bore, width, over) => {
    const k = keywayOf('ANSI B17.1', bore * 25.4)!;
    expect(k.width / 25.4).toBeCloseTo(width, 9);
    // The table adds some thousandths for the fit.
    expect((k.top + (bore * 25.4) / 2) / 25.4).toBeGreaterThan(over - 0.012);
    expect((k.top + (bore * 25.4) / 2) / 25.4).toBeLessThan(over);
  });
  it('takes its rectangle away beyond the bore', () => {
    const area = areaOf(boreOutline(20, 'DIN 6885'));
    // 12 wide from the bore's edge at √(20² − 6²) to 23.3; the bore's segment beside it is part of the circle.
    const half = Math.asin(6 / 20);
    const segment = (400 * (2 * half - Math.sin(2 * half))) / 2;
    expect(area).toBeCloseTo(Math.PI * 400 - segment + 12 * (23.3 - Math.sqrt(364)), 9);
  });
  it('is not made where the table has none, or none is stated', () => {
    expect(keywayOf('DIN 6885', 6)).toBeUndefined();
    expect(keywayOf('DIN 6885', 231)).toBeUndefined();
    expect(keywayOf('ANSI B17.1', 200)).toBeUndefined();
    expect(keywayOf('none', 20)).toBeUndefined();
  });
  it.each(['gear', 'worm-wheel', 'ratchet-wheel', 'cam', 'sector', 'pulley'])(
    'of a %s is in its body; too large for it, or not in the table, it is a finding',
    (type) => {
      const e = { ...sample(type), helix: 0, keyway: 'DIN 6885' } as Element;
      const hole = (x: Element): number => {
        const s = elementKind(type)!.shape(x)[0];
        return s.kind === 'prism' ? Math.abs(areaOf(s.holes![0])) : 0;
      };
      const bored = { ...e, bore: SAMPLES[type]['bore'] ?? 20 } as Element;
      expect(hole(bored)).toBeGreaterThan(hole({ ...bored, keyway: 'none' } as Element));
      expect(elementProblems({ ...bored, bore: 5 } as Element).map((p) => p.key)).toContain('keyway-size');
    },
  );
});
