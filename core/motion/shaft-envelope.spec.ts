import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { Design } from '../document/index';
import { shaftDiagram } from '../forces/index';
import { compile } from '../kinematics/index';
import { lineAt } from '../math/index';
import { forcesAt, run, shaftEnvelope } from './index';

const demo = JSON.parse(readFileSync(new URL('../../demo/paddle-winding-gear.json', import.meta.url), 'utf8')) as Design;

describe('the largest along a shaft over a run', () => {
  it('is nowhere less than at any instant, and its worst is that of the instant that it names', () => {
    const c = compile(demo);
    const r = run(c, { duration: 30, frames: 61 });
    const e = shaftEnvelope(c, r, 'pinionshaft')!;
    let most = 0;
    for (let f = 0; f < r.frames; f += 5) {
      const d = shaftDiagram(forcesAt(c, r, f).forces, 'pinionshaft', true)!;
      for (let i = 0; i < e.at.length; i++) {
        const bending = Math.hypot(lineAt(d.at, d.bending[0], e.at[i]), lineAt(d.at, d.bending[1], e.at[i]));
        expect(bending).toBeLessThanOrEqual(e.bending[i] * (1 + 1e-9) + 1e-12);
        most = Math.max(most, bending);
      }
    }
    const { value, at, time } = e.worst.bending;
    expect(value).toBeGreaterThanOrEqual(most);
    const frame = r.time.indexOf(time);
    const d = shaftDiagram(forcesAt(c, r, frame).forces, 'pinionshaft', true)!;
    expect(lineAt(d.at, d.resultant, at)).toBeCloseTo(value, 9);
    // Torsion runs from the wheel to the rack pinion: what the ledger gives the shaft.
    expect(Math.abs(e.worst.torsion.value)).toBeCloseTo(Math.max(...e.torsion.map(Math.abs)), 9);
    expect(shaftEnvelope(c, r, 'frame')).toBeUndefined();
  });
});
