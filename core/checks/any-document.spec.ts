import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readDesign } from '../document/index';
import { Hand } from '../motion/index';
import { run, sweep } from '../motion/index';
import { report } from '../../cli/report';
import { settle } from '../edits/index';
import { sketch } from '../sketch/index';
import { anyDesign } from '../testing/random-design';
import { analyse } from './index';

const finite = (v: ArrayLike<number>): boolean => Array.from(v).every(Number.isFinite);

describe('any document that passes the schema', () => {
  it('is analysed without a throw, without NaN, and moved by hand', () => {
    fc.assert(
      fc.property(anyDesign, (d) => {
        const read = readDesign(d);
        expect(read.problems).toBeUndefined();
        const a = analyse(d);
        expect(finite(a.pose.q)).toBe(true);
        expect(finite(a.pose.placements)).toBe(true);
        // A train that jams has no forces to tell, and says so.
        const jams = a.findings.some((f) => f.code === 'jammed');
        for (const l of a.ledger.lines) expect(finite(jams ? [l.speed] : [l.speed, l.load, l.power])).toBe(true);
        if (!jams) expect(finite(a.forces.reactions())).toBe(true);
        for (const f of a.findings) {
          expect(f.message).not.toMatch(/NaN|undefined|Infinity/);
          expect(f.code).toMatch(/^[a-z-]+$/);
        }
        const hand = new Hand(a.pose);
        for (let i = 0; i < Math.min(2, a.pose.kinematics.count); i++) hand.move(i, 0.3);
        expect(finite(a.pose.q)).toBe(true);
      }),
      { numRuns: 250, interruptAfterTimeLimit: 40_000 },
    );
  });

  it('can be swept, settled and sketched', () => {
    fc.assert(
      fc.property(anyDesign, (d) => {
        const a = analyse(d);
        const s = sweep(a.compiled, 7);
        if (s) expect(finite(s.input)).toBe(true);
        const again = settle(d);
        expect(readDesign(again.design).problems).toBeUndefined();
        expect(finite(sketch(d).box)).toBe(true);
      }),
      { numRuns: 60, interruptAfterTimeLimit: 40_000 },
    );
  });

  it('can be run in time and reported whole', () => {
    fc.assert(
      fc.property(anyDesign, (d) => {
        const a = analyse(d);
        const r = run(a.compiled, { duration: 0.2, frames: 5, budget: 600 });
        for (const v of Object.values(r)) if (v instanceof Float64Array) expect(finite(v)).toBe(true);
        for (const e of r.events) expect(e.message).not.toMatch(/NaN|undefined|Infinity/);
        expect(
          JSON.stringify(report({ ...d, settings: { ...d.settings, duration: 0.05, frames: 3 } }, 300), (_k, v) =>
            typeof v === 'bigint' ? String(v) : v,
          ),
        ).not.toMatch(/NaN/);
      }),
      { numRuns: 40, interruptAfterTimeLimit: 40_000 },
    );
  });
});
