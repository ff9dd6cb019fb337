import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { Design } from '../document/index';
import { compile } from '../kinematics/index';
import { worstAgain } from '../testing/instants';
import { forcesAtTime, run } from './index';

const folder = new URL('../../demo/', import.meta.url);
const demos = readdirSync(folder)
  .filter((f) => f.endsWith('.json'))
  .map((f) => JSON.parse(readFileSync(new URL(f, folder), 'utf8')) as Design);

describe('the forces at an instant of a run, found again', () => {
  it.each(demos.map((d) => [d.name, d] as const))('%s: are those of the run, led or let go, at rest on a stop or held by a pawl', (_, d) => {
    for (const sources of [d.sources, []]) {
      const c = compile({ ...d, sources });
      expect(worstAgain(c, run(c, { duration: 8, frames: 33 }))).toBeLessThan(1e-9);
    }
  });
  it('between two instants are nearly those of a run recorded twice as finely', () => {
    const c = compile(demos.find((d) => d.name === 'Swing footbridge')!);
    const [coarse, fine] = [81, 161].map((frames) => run(c, { duration: 40, frames }));
    for (let f = 1; f < fine.frames; f += 14) {
      const again = forcesAtTime(c, coarse, fine.time[f]).forces.reactions(true);
      const then = fine.reaction.subarray(6 * f * fine.coordinates, 6 * (f + 1) * fine.coordinates);
      const most = then.reduce((m, x) => Math.max(m, Math.abs(x)), 1e-3);
      for (let i = 0; i < then.length; i++) expect(Math.abs(again[i] - then[i]) / most).toBeLessThan(0.02);
    }
  });
});
