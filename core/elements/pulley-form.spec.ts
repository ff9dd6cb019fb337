import { describe, expect, it } from 'vitest';
import { type Piece, areaOf, eachPiece, flattened, massOf } from '../solids/index';
import { TIMING_GAPS, timingOutline, timingTip } from './timing-form';
import { sample } from '../testing/samples';
import { elementKind, elementProblems } from './index';
import { grooveAngle, groovedPulley, groovesIn, rollerOf, sprocketOutline } from './pulley-form';

const pulley = (more: object) => ({ ...sample('pulley'), ...more }) as never;

describe('grooves of V-belts (ISO 4183)', () => {
  it('are as many as the width takes: SPA of 20, 35, 50 mm has one, two, three', () => {
    expect([19.9, 20, 35, 50].map((b) => groovesIn('SPA', b))).toEqual([0, 1, 2, 3]);
  });
  it('have 34° on small pulleys, 38° on large ones', () => {
    expect([grooveAngle('SPZ', 80), grooveAngle('SPZ', 81), grooveAngle('SPB', 190), grooveAngle('SPB', 200)]).toEqual([34, 38, 34, 38]);
  });
  it('are not made where the pulley is smaller than they are deep, or flanks meet before their floor: a fault says so', () => {
    const ids = (more: object) => elementProblems(pulley({ form: 'v', standard: 'SPC', width: 40, bore: 0, ...more })).map((p) => [p.key, p.field]);
    expect(ids({ diameter: 38 })).toEqual([['pulley-standard/small', 'diameter']]);
    expect(ids({ diameter: 39 })).toEqual([]);
    // tan 26.57° = 9.5 / 19.
    expect(ids({ diameter: 400, groove: 53.2 })).toEqual([['pulley-standard/angle', 'groove']]);
    expect(ids({ diameter: 400, groove: 53 })).toEqual([]);
    for (const diameter of [30, 38, 39, 400]) {
      for (const groove of [20, 38, 60]) {
        const solids = elementKind('pulley')!.shape(pulley({ form: 'v', standard: 'SPC', width: 40, bore: 0, diameter, groove }));
        expect(massOf(solids, 1).mass).toBeGreaterThan(0);
      }
    }
  });
  it('are as wide as the belt at the datum line', () => {
    const s = groovedPulley('SPB', 250, 25, 15);
    if (s.kind !== 'turned') throw new Error('turned');
    // Along r = 125 the section leaves out the datum width, 14 mm.
    const p = flattened(s.section, { turn: 0.1, tolerance: 1e-6 });
    const crossings: number[] = [];
    for (let i = 0; i < p.length; i += 2) {
      const [r0, z0, r1, z1] = [p[i], p[i + 1], p[(i + 2) % p.length], p[(i + 3) % p.length]];
      if (r0 > 125 !== r1 > 125) crossings.push(z0 + ((125 - r0) * (z1 - z0)) / (r1 - r0));
    }
    crossings.sort((a, b) => a - b);
    expect(crossings[2] - crossings[1]).toBeCloseTo(14, 9);
  });
});

describe('teeth of sprockets (ISO 606)', () => {
  // 08B, 17 teeth: pitch diameter 69.12 mm (tables of sprockets; from memory); the seat reaches to d − d1 about.
  const o = sprocketOutline(17, 12.7, rollerOf(12.7)!)!;
  it('stand round the pitch diameter of the chain’s polygon, seated for its rollers', () => {
    const d = 12.7 / Math.sin(Math.PI / 17);
    expect(d).toBeCloseTo(69.12, 2);
    const p = flattened(o, { turn: 0.02, tolerance: 1e-4 });
    const radii = Array.from({ length: p.length / 2 }, (_, i) => Math.hypot(p[2 * i], p[2 * i + 1]));
    expect(2 * Math.min(...radii)).toBeCloseTo(d - 2 * 0.505 * 8.51, 3);
    expect(2 * Math.max(...radii)).toBeLessThan(d + 1.25 * 12.7 - 8.51 + 1e-6);
    expect(2 * Math.max(...radii)).toBeGreaterThan(d + 12.7 * (1 - 1.6 / 17) - 8.51 - 1e-6);
  });
  it('let every roller in: none of the outline is nearer to its middle than its radius', () => {
    const p = flattened(o, { turn: 0.02, tolerance: 1e-5 });
    const d = 12.7 / Math.sin(Math.PI / 17);
    for (let i = 0; i < p.length; i += 2) expect(Math.hypot(p[i] - d / 2, p[i + 1])).toBeGreaterThan(8.51 / 2 - 1e-9);
  });
  it('are arcs that pass into each other: seat and flanks without a corner', () => {
    let last: [number, number] | undefined;
    let corners = 0;
    const side = (from: readonly [number, number], p: { kind: string; centre?: readonly [number, number]; angle?: number }): [number, number] => {
      const r = [from[0] - p.centre![0], from[1] - p.centre![1]];
      const k = Math.sign(p.angle!) / Math.hypot(r[0], r[1]);
      return [-r[1] * k, r[0] * k];
    };
    eachPiece(o, (from, piece) => {
      const begins = side(from, piece as never);
      if (last && begins[0] * last[0] + begins[1] * last[1] < 1 - 1e-9) corners++;
      last = side(piece.to, piece as never);
    });
    // Only where a flank meets the tips: two a tooth.
    expect(corners).toBeLessThanOrEqual(2 * 17);
    expect(areaOf(o)).toBeGreaterThan(0);
  });
});

describe('teeth of toothed pulleys (ISO 5294)', () => {
  // H, 20 teeth: pitch diameter 80.85, outside diameter 79.48 mm (tables of pulleys; from memory).
  it('an H pulley of 20 teeth is 79.48 mm across', () => {
    expect(2 * timingTip(20, TIMING_GAPS.H)).toBeCloseTo(79.48, 2);
    const p = flattened(timingOutline(20, TIMING_GAPS.H)!, { turn: 0.02, tolerance: 1e-5 });
    const radii = Array.from({ length: p.length / 2 }, (_, i) => Math.hypot(p[2 * i], p[2 * i + 1]));
    expect(2 * Math.max(...radii)).toBeCloseTo(79.48, 2);
  });
  // Teeth of belts by ISO 5296: width at their root, height, whole angle, mm and deg (from memory).
  it.each([
    ['XL', 2.57, 1.27, 50],
    ['L', 4.65, 1.91, 40],
    ['H', 6.12, 2.29, 40],
    ['XH', 12.57, 6.35, 40],
    ['XXH', 19.05, 9.53, 40],
  ] as const)('%s lets the belt’s tooth in: its root on the tips, with room at its sides and below', (code, root, height, angle) => {
    const gap = TIMING_GAPS[code];
    expect(2 * gap.half).toBe(angle);
    expect(gap.depth).toBeGreaterThan(height);
    const wide = gap.floor + 2 * gap.depth * Math.tan((gap.half * Math.PI) / 180);
    expect(wide).toBeGreaterThan(root);
    expect(wide).toBeLessThan(1.15 * root);
  });
  it('are lines and arcs that pass into each other without a corner, and close', () => {
    for (const [code, gap] of Object.entries(TIMING_GAPS)) {
      for (const z of [8, 10, 18, 60, 144]) {
        const o = timingOutline(z, gap);
        if (!o) throw new Error(`${code} ${z}`);
        let corners = 0;
        let last: readonly [number, number] | undefined;
        eachPiece(o, (from, piece) => {
          const [begins, ends] = directions(from, piece);
          if (last && begins[0] * last[0] + begins[1] * last[1] < 1 - 1e-9) corners++;
          last = ends;
        });
        expect(corners, `${code} ${z}`).toBe(0);
        const tip = timingTip(z, gap);
        expect(areaOf(o)).toBeLessThan(Math.PI * tip * tip);
        expect(areaOf(o)).toBeGreaterThan(Math.PI * (tip - gap.depth) ** 2);
      }
    }
  });
});

/** Which way a piece of an outline begins and ends. */
function directions(from: readonly [number, number], p: Piece): [readonly [number, number], readonly [number, number]] {
  const unit = (x: number, y: number): readonly [number, number] => [x / Math.hypot(x, y), y / Math.hypot(x, y)];
  if (p.kind !== 'arc') return [unit(p.to[0] - from[0], p.to[1] - from[1]), unit(p.to[0] - from[0], p.to[1] - from[1])];
  const side = (q: readonly [number, number]): readonly [number, number] =>
    unit(-(q[1] - p.centre[1]) * Math.sign(p.angle), (q[0] - p.centre[0]) * Math.sign(p.angle));
  return [side(from), side(p.to)];
}

describe('a stated form', () => {
  const codes = (more: object): string[] => elementProblems(pulley(more)).map((p) => `${p.key}`);
  it('is made where it fits, and weighs what it is', () => {
    const v = { form: 'v', diameter: 200, width: 35, standard: 'SPA' };
    expect(codes(v)).toEqual([]);
    const mass = (more: object): number => massOf(elementKind('pulley')!.shape(pulley(more)), 7850).mass;
    expect(mass(v)).not.toBeCloseTo(mass({ ...v, standard: 'general' }), 3);
    expect(codes({ form: 'sprocket', teeth: 17, pitch: 12.7, standard: 'ISO 606' })).toEqual([]);
    expect(codes({ form: 'toothed', teeth: 20, pitch: 9.525, standard: 'ISO 5294' })).toEqual([]);
  });
  it.each([
    [{ form: 'v', diameter: 200, width: 30, standard: 'ISO 606' }, 'pulley-standard'],
    [{ form: 'sprocket', teeth: 17, pitch: 12.7, standard: 'SPZ' }, 'pulley-standard'],
    [{ form: 'toothed', teeth: 20, pitch: 12.7, standard: 'ISO 606' }, 'pulley-standard'],
    [{ form: 'toothed', teeth: 20, pitch: 12, standard: 'ISO 5294' }, 'pulley-standard/pitch'],
    [{ form: 'toothed', teeth: 4, pitch: 12.7, standard: 'ISO 5294' }, 'pulley-standard/teeth'],
    [{ form: 'v', diameter: 200, width: 12, standard: 'SPA' }, 'pulley-standard/narrow'],
    [{ form: 'sprocket', teeth: 17, pitch: 13, standard: 'ISO 606' }, 'pulley-standard/pitch'],
  ])('%j is refused: %s', (more, key) => expect(codes(more)).toEqual([key]));
});
