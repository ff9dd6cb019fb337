import { writeFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { afterAll, expect } from 'vitest';

const folder = process.env['UNIROTA_REACH'];
if (folder) {
  const reached = new Set<string>();
  (globalThis as { reached?: Set<string> }).reached = reached;
  const from = performance.now();
  afterAll(() => {
    const spec = relative(process.cwd(), expect.getState().testPath ?? '');
    const took = performance.now() - from;
    writeFileSync(join(folder, spec.replaceAll('/', '_') + '.json'), JSON.stringify({ spec, took, reached: [...reached] }));
  });
}
