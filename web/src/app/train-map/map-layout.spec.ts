import { describe, expect, it } from 'vitest';
import { compile } from '@unirota/core/mechanism';
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
