import { describe, expect, it } from 'vitest';
import { mechanicsMark, emptyDesign } from '../document/index';
import { item } from '../testing/designs';
import { type SolidMesh, type StressField, cutAcross, skinOf, stressField } from './index';

/** A cube of side 2 about the origin out of five tetrahedra; stress is x + 10, change is x in y. */
function cube(): Omit<StressField, 'skin'> {
  const points = [-1, 1].flatMap((z) => [-1, 1].flatMap((y) => [-1, 1].map((x) => [x, y, z])));
  const tets = [
    [0, 1, 2, 4],
    [1, 3, 2, 7],
    [1, 4, 5, 7],
    [2, 7, 6, 4],
    [1, 2, 4, 7],
  ].map(([a, b, c, d]) => {
    const v = (k: number, from: number): number[] => points[k].map((x, i) => x - points[from][i]);
    const [u, w, t] = [v(b, a), v(c, a), v(d, a)];
    const six = u[0] * (w[1] * t[2] - w[2] * t[1]) + u[1] * (w[2] * t[0] - w[0] * t[2]) + u[2] * (w[0] * t[1] - w[1] * t[0]);
    return six > 0 ? [a, b, c, d] : [a, c, b, d];
  });
  return {
    points: Float32Array.from(points.flat()),
    stress: Float32Array.from(points, ([x]) => x + 10),
    change: Float32Array.from(points.flatMap(([x]) => [0, x, 0])),
    tets: Uint32Array.from(tets.flat()),
  };
}
const triangle = (p: ArrayLike<number>, t: ArrayLike<number>, k: number): { area: number; normal: number[]; middle: number[] } => {
  const [a, b, c] = [0, 1, 2].map((i) => [0, 1, 2].map((x) => p[3 * t[3 * k + i] + x]));
  const u = b.map((x, i) => x - a[i]),
    v = c.map((x, i) => x - a[i]);
  const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
  return { area: Math.hypot(...n) / 2, normal: n, middle: a.map((x, i) => (x + b[i] + c[i]) / 3) };
};

describe('what a strength analysis found, for looking at', () => {
  it('has a skin as large as the body’s surface, looking outward', () => {
    const f = cube();
    const skin = skinOf(f.tets);
    let area = 0;
    for (let k = 0; k < skin.length / 3; k++) {
      const t = triangle(f.points, skin, k);
      area += t.area;
      expect(t.normal.reduce((s, x, i) => s + x * t.middle[i], 0)).toBeGreaterThan(0);
    }
    expect(area).toBeCloseTo(24, 6);
  });
  it.each([-0.9, -0.3, 0.25, 0.8])('is cut in a face of the whole width, with the stress of the place: %f', (x) => {
    const f = cube();
    const c = cutAcross(f, 0, x);
    let area = 0;
    for (let k = 0; k < c.triangles.length / 3; k++) area += triangle(c.points, c.triangles, k).area;
    expect(area).toBeCloseTo(4, 5);
    c.stress.forEach((s) => expect(s).toBeCloseTo(10 + x, 5));
    for (let k = 0; k < c.stress.length; k++) expect(c.points[3 * k]).toBeCloseTo(x, 5);
  });
  it('is cut as deformed: a cube sheared by half its side has its middle cut moved', () => {
    const c = cutAcross(cube(), 1, 1.2, 0.5);
    // y is x/2 higher: where y = 1.2 lies within, x runs from 0.4 to 1.
    const xs = Array.from({ length: c.stress.length }, (_, k) => c.points[3 * k]);
    expect(Math.min(...xs)).toBeCloseTo(0.4, 5);
    expect(Math.max(...xs)).toBeCloseTo(1, 5);
  });
  it('beyond the body is nothing', () => {
    expect(cutAcross(cube(), 2, 1.01).triangles).toHaveLength(0);
  });
  it('keeps the corners of second-order elements alone', () => {
    const points = Float64Array.from([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, ...new Array<number>(18).fill(0.5)]);
    const mesh: SolidMesh = { points, tets: Uint32Array.from([3, 1, 2, 0, 4, 5, 6, 7, 8, 9]) };
    const f = stressField(
      mesh,
      Array.from({ length: 10 }, (_, k) => k),
      Array.from({ length: 30 }, (_, k) => k),
    );
    expect([...f.stress]).toEqual([3, 1, 2, 0]);
    expect([...f.tets]).toEqual([0, 1, 2, 3]);
    expect(f.skin).toHaveLength(4 * 3);
    expect([...f.change.slice(0, 3)]).toEqual([9, 10, 11]);
  });
});

describe('the mark of a design’s mechanics', () => {
  it('is the same for the same mechanics, whatever is kept or noted, and another for any other', () => {
    const d = { ...emptyDesign('a'), members: [item({ id: 'm', name: 'Shaft', kind: 'shaft' as const })] };
    const mark = mechanicsMark(d);
    expect(mark).toMatch(/^[0-9a-f]{16}$/);
    expect(mechanicsMark({ ...d, name: 'b', note: 'x', runs: [], views: [] })).toBe(mark);
    expect(mechanicsMark({ ...d, members: [{ ...d.members[0], name: 'Shafu' }] })).not.toBe(mark);
    expect(mechanicsMark({ ...d, settings: { gravity: [0, 0, 0] } })).not.toBe(mark);
    const many = new Set(Array.from({ length: 2000 }, (_, k) => mechanicsMark({ ...d, members: [{ ...d.members[0], name: `Shaft ${k}` }] })));
    expect(many.size).toBe(2000);
  });
  it('is FNV-1a of 64 bits', () => {
    // Against the definition in whole numbers: offset 14695981039346656037, prime 1099511628211.
    const text = JSON.stringify([[], [], [], [], [], [], [], null]);
    let h = 14695981039346656037n;
    for (const c of text) h = ((h ^ BigInt(c.charCodeAt(0))) * 1099511628211n) & 0xffffffffffffffffn;
    expect(mechanicsMark(emptyDesign('x'))).toBe(h.toString(16).padStart(16, '0'));
  });
});
