import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { anyDesign } from '../testing/random-design';
import { type Block, checklistOf, reportOf } from './index';

const texts = (b: Block): string[] => {
  switch (b.kind) {
    case 'table':
      return [...b.columns.map((c) => c.label), ...b.rows.flat(), ...(b.total ?? [])];
    case 'list':
      return b.lines.flatMap((l) => [l.mark, l.text, l.more ?? '']);
    case 'drawing':
      return [b.svg];
    default:
      return [b.text];
  }
};

describe('any document that passes the schema', () => {
  it('has a report of its own figures: no throw, nothing that is no number, every row as wide as its table', () => {
    const reached = new Map<string, number>();
    fc.assert(
      fc.property(anyDesign, (d) => {
        const worked = analyse(d);
        const report = reportOf(d, {}, worked);
        for (const c of report.chapters) {
          reached.set(c.key, (reached.get(c.key) ?? 0) + 1);
          for (const b of c.blocks) {
            for (const t of texts(b)) expect(t, c.key).not.toMatch(/NaN|undefined|Infinity|\[object/);
            if (b.kind === 'table') for (const r of [...b.rows, ...(b.total ? [b.total] : [])]) expect(r.length).toBe(b.columns.length);
            if (b.kind === 'drawing') expect(b.width > 0 && b.height > 0).toBe(true);
          }
        }
        for (const l of checklistOf(worked)) expect(l.text).toMatch(/\.$/);
      }),
      { numRuns: 30 },
    );
    console.log(`Chapters reached: ${[...reached].map(([k, n]) => `${k} ${n}`).join(', ')}`);
    // What a design of a few members can have to say is said in some of them.
    for (const key of ['duty', 'map', 'ledger', 'couplings', 'findings', 'travel', 'runs', 'reactions', 'sheets', 'masses']) {
      expect(reached.get(key) ?? 0, key).toBeGreaterThan(0);
    }
  });
});
