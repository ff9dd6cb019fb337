import fc from 'fast-check';
import { Matrix, pseudoInverse, determinant } from 'ml-matrix';
import { describe, expect, it } from 'vitest';
import { LeastSquares, Vec3, cross, dot, frameOf, norm, sameLine, toLocalPoint, toWorldPoint, turnAbout, within } from './index';

const cell = fc.integer({ min: -8, max: 8 });

describe('least squares', () => {
  it('gives the least-norm solution that the pseudo-inverse of ml-matrix gives, at any rank', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 5 }), fc.integer({ min: 1, max: 5 }), fc.array(cell, { minLength: 30, maxLength: 30 }), (m, n, v) => {
        const a = Array.from({ length: m }, (_, i) => Array.from({ length: n }, (_, j) => v[i * n + j]));
        const b = v.slice(25, 25 + m);
        while (b.length < m) b.push(1);
        const s = new LeastSquares(m, n);
        s.begin(m, n);
        a.forEach((r, i) => r.forEach((x, j) => (s.a[j * m + i] = x)));
        b.forEach((x, i) => (s.b[i] = x));
        s.factor(1e-10);
        const x = s.solve();
        const want = pseudoInverse(new Matrix(a)).mmul(Matrix.columnVector(b));
        for (let j = 0; j < n; j++) expect(x[j]).toBeCloseTo(want.get(j, 0), 8);
      }),
    );
  });

  it('spans what the matrix leaves free', () => {
    const s = new LeastSquares(1, 3);
    s.begin(1, 3);
    s.a.set([1, 2, 3]);
    expect(s.factor()).toBe(1);
    const basis = s.nullSpace();
    expect(basis).toHaveLength(2);
    for (const v of basis) expect(v[0] + 2 * v[1] + 3 * v[2]).toBeCloseTo(0, 12);
  });
});

describe('frames and placements', () => {
  it('makes right-handed frames from any axis', () => {
    fc.assert(
      fc.property(
        fc.tuple(cell, cell, cell).filter((v) => v.some(Boolean)),
        (axis) => {
          const f = frameOf([1, 2, 3], axis as unknown as Vec3);
          expect(norm(cross(f.x, f.y).map((v, i) => v - f.z[i]) as unknown as Vec3)).toBeLessThan(1e-12);
          expect(dot(f.z, axis as unknown as Vec3)).toBeGreaterThan(0);
          const p: Vec3 = [4, -5, 6];
          expect(norm(toLocalPoint(f, toWorldPoint(f, p)).map((v, i) => v - p[i]) as unknown as Vec3)).toBeLessThan(1e-12);
          expect(within(f, f).z.every(Number.isFinite)).toBe(true);
        },
      ),
    );
  });

  it('turns a point a quarter about a line off the origin, with the travel of a helix', () => {
    const t = new Float64Array(24);
    t[0] = t[5] = t[10] = 1;
    turnAbout(t, 12, 0, 0, 0, 1, 1, 0, 0, Math.PI / 2, 0.25);
    // (2, 0, 0) goes to (1, 1, 0.25)
    expect([0, 1, 2].map((r) => t[12 + 4 * r] * 2 + t[12 + 4 * r + 3])).toEqual([
      expect.closeTo(1, 12),
      expect.closeTo(1, 12),
      expect.closeTo(0.25, 12),
    ]);
  });

  it('knows when two lines are one', () => {
    expect(sameLine([0, 0, 0], [0, 0, 1], [0, 0, 5], [0, 0, -1])).toBe(true);
    expect(sameLine([0, 0, 0], [0, 0, 1], [0, 1, 5], [0, 0, 1])).toBe(false);
  });
});

describe('the sign of a determinant', () => {
  it('comes out of the factorisation as another library has it, and is nothing where the matrix is not square or is short of rank', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 7 }), fc.integer({ min: 1, max: 1e6 }), (n, seed) => {
        // Entries from a small generator, so that the matrix is well away from singular.
        let x = seed;
        const next = (): number => (x = (x * 48271) % 2147483647) / 2147483647 - 0.5;
        const rows = Array.from({ length: n }, (_, i) => Array.from({ length: n }, (_, j) => next() + (i === j ? 0.1 : 0)));
        const det = determinant(new Matrix(rows));
        fc.pre(Math.abs(det) > 1e-6);
        const s = new LeastSquares(n + 1, n);
        s.begin(n, n);
        rows.forEach((r, i) => r.forEach((v, j) => (s.a[j * n + i] = v)));
        expect(s.factor()).toBe(n);
        expect(s.orientation).toBe(Math.sign(det));
        s.begin(n + 1, n);
        rows.forEach((r, i) => r.forEach((v, j) => (s.a[j * (n + 1) + i] = v)));
        s.factor();
        expect(s.orientation).toBe(0);
      }),
    );
  });
});
