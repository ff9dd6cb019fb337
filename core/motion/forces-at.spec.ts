import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { Design } from '../document/index';
import { compile } from '../kinematics/index';
import { worstAgain } from '../testing/instants';
import { run } from './index';

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
});
