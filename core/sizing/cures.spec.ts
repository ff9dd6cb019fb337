import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { type Design, emptyDesign } from '../document/index';
import { state } from '../testing/designs';
import { curesOf, insertStage, provenCures, withInputShaft } from './index';

const KINDS = ['spur', 'helical', 'internal', 'bevel', 'planetary', 'rack', 'chain', 'toothed-belt'] as const;

/** A train of stages one behind the other, a planetary set among them more often than not, with something wrong in it. */
function broken(kinds: readonly string[], source: boolean, wrong: readonly number[], pick: number): Design {
  let s = withInputShaft(emptyDesign('Broken'), source ? { type: 'motor', name: 'Motor' } : undefined);
  let d = s.design;
  for (const kind of kinds) {
    const made = insertStage(d, { kind, from: s.output });
    if (!made) continue;
    d = made.design;
    s = { ...s, output: made.output };
  }
  d = structuredClone(d);
  for (const w of wrong) {
    const gears = d.elements.filter((e) => e.type === 'gear' || e.type === 'bevel-gear');
    const g = gears[pick % Math.max(1, gears.length)];
    if (w === 0 && g) state(g, { module: 2.5 });
    if (w === 1 && g) state(g, { phase: 4 });
    if (w === 2) {
      const m = d.members[1 + (pick % Math.max(1, d.members.length - 1))];
      if (m?.at) m.at = [m.at[0] + 0.7, m.at[1] + 0.4, m.at[2]];
    }
    if (w === 3 && d.joints.length > 1) d.joints.splice(1 + (pick % (d.joints.length - 1)), 1);
    if (w === 4 && g) state(g, { pressureAngle: 25 });
    if (w === 5 && g?.type === 'gear') state(g, { teeth: 31 });
    if (w === 6) {
      const j = d.joints[pick % d.joints.length];
      if (j.type !== 'fixed') state(j, { lower: 10, upper: 20, home: 50 });
    }
  }
  return d;
}

describe('ways out', () => {
  const look = (d: Design) => analyse(d).findings;
  it('that are offered have been tried: their finding goes and no stop comes, over broken trains with and without a source', () => {
    let [offered, troubles] = [0, 0];
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom(...KINDS, 'planetary'), { minLength: 1, maxLength: 3 }),
        fc.boolean(),
        fc.uniqueArray(fc.integer({ min: 0, max: 6 }), { minLength: 1, maxLength: 2 }),
        fc.nat(20),
        (kinds, source, wrong, pick) => {
          const d = broken(kinds, source, wrong, pick);
          const before = analyse(d);
          const had = new Set(before.findings.filter((f) => f.severity === 'fault').map((f) => f.code + f.ids.join()));
          for (const f of before.findings) {
            if (!f.cures?.length) continue;
            troubles++;
            const ways = provenCures(d, f, look, curesOf(d, before.compiled), before.findings);
            if (ways.length) offered++;
            for (const cure of ways) {
              const after = look(cure.apply(d));
              expect(after.some((x) => x.code === f.code && x.ids.join() === f.ids.join())).toBe(false);
              expect(after.filter((x) => x.severity === 'fault' && !had.has(x.code + x.ids.join()))).toEqual([]);
            }
          }
        },
      ),
      { numRuns: 60 },
    );
    // Most findings that name a way out have one that cures by itself.
    expect(offered / troubles).toBeGreaterThan(0.5);
  });
  it('a module that differs in a planetary set is made alike in the whole set', () => {
    const d = broken(['planetary'], true, [0], 3);
    const f = look(d).find((x) => x.code === 'module-differs')!;
    const ways = provenCures(d, f, look);
    expect(ways.length).toBeGreaterThan(0);
    for (const w of ways) expect(look(w.apply(d)).some((x) => x.code === 'module-differs')).toBe(false);
  });
});
