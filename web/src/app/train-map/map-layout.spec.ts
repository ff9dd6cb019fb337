import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { Design } from '@unirota/core/document';
import { compile } from '@unirota/core';
import { row } from '../../../../core/testing/designs';
import { mapLayout } from './map-layout';

describe('the train map', () => {
  it('runs from the source at the left to the output at the right, a column for each coupling', () => {
    const d = row([
      [20, 40],
      [20, 40],
      [20, 40],
    ]).design;
    const m = mapLayout(compile(d));
    expect(m.members.map((s) => s.x0)).toEqual([...m.members.map((s) => s.x0)].sort((a, b) => a - b));
    expect(m.couplings).toHaveLength(3);
    expect(m.members[0].source).toBeDefined();
    for (const c of m.couplings) expect((c.meet - c.ya) * (c.meet - c.yb)).toBeLessThan(0);
  });

  it('stacks branches and gives every coupling of a loop its own symbol', () => {
    const b = row([[20, 40]]);
    const [m1, m2] = b.design.members;
    const far = b.shaft([-30, 0, 0]);
    b.mesh(b.gear(m1.id, 20, 1, { at: [0, 0, 40] }), b.gear(far.member, 40, 1, { at: [0, 0, 40] }));
    b.mesh(b.gear(m1.id, 20, 1, { at: [0, 0, 60] }), b.gear(m2.id, 40, 1, { at: [0, 0, 60] }));
    const m = mapLayout(compile(b.design));
    expect(new Set(m.members.map((s) => s.y)).size).toBe(3);
    expect(m.couplings).toHaveLength(3);
    expect(m.couplings.filter((c) => c.back)).toHaveLength(0);
  });

  it('shows members that nothing couples too', () => {
    const b = row([[20, 40]]);
    b.shaft([99, 0, 0]);
    expect(mapLayout(compile(b.design)).members).toHaveLength(3);
  });
});

const demos = new URL('../../../../demo/', import.meta.url);
describe('the map of every demo', () => {
  it.each(readdirSync(demos).filter((f) => f.endsWith('.json')))(
    '%s: each member on a line of its own, couplings between the lines they tie',
    (f) => {
      const d = JSON.parse(readFileSync(new URL(f, demos), 'utf8')) as Design;
      const m = mapLayout(compile(d));
      expect(m.members.map((x) => x.id).sort()).toEqual(d.members.map((x) => x.id).sort());
      for (const [i, a] of m.members.entries()) {
        expect(a.x1).toBeGreaterThan(a.x0);
        expect(a.x1).toBeLessThanOrEqual(m.width);
        expect(a.y).toBeLessThanOrEqual(m.height);
        // No two lines lie on each other, but for the ends that meet at a coupling.
        for (const b of m.members.slice(i + 1)) if (a.y === b.y) expect(Math.min(a.x1, b.x1) - Math.max(a.x0, b.x0)).toBeLessThan(60);
      }
      const line = new Map(m.members.map((x) => [x.id, x]));
      for (const c of m.couplings) {
        expect(c.ya).toBe(line.get(c.a)!.y);
        if (!c.back) expect(c.yb).toBe(line.get(c.b)!.y);
        expect(c.meet).toBeGreaterThanOrEqual(Math.min(c.ya, c.yb));
        expect(c.meet).toBeLessThanOrEqual(Math.max(c.ya, c.yb));
      }
      expect(new Set(m.couplings.map((c) => c.key)).size).toBe(m.couplings.length);
      // Every coupling between two moving members is drawn, from the source on.
      for (const s of d.sources) expect(m.members.some((x) => x.source?.id === s.id)).toBe(true);
    },
  );
});
