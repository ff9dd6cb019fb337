import { readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';
import { BaseSequencer, type TestSpecification } from 'vitest/node';
import { noting } from './functions';

/** Tests of the computation with one change in its text, or noting what each of them reaches. */
const root = dirname(dirname(dirname(fileURLToPath(import.meta.url))));
const env = process.env;
const mutant = env['UNIROTA_MUTANT'] ? (JSON.parse(env['UNIROTA_MUTANT']) as { file: string; from: number; to: number; is: string }) : undefined;
const order = JSON.parse(env['UNIROTA_ORDER'] ?? '[]') as string[];

class Quickest extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const place = (f: TestSpecification): number => order.indexOf(relative(root, f.moduleId));
    return order.length ? [...files].sort((a, b) => place(a) - place(b)) : super.sort(files);
  }
}

export default defineConfig({
  root,
  plugins: [
    {
      name: 'mutant',
      enforce: 'pre',
      transform(code, id) {
        const file = relative(root, id.split('?')[0]);
        if (mutant?.file === file) {
          const text = readFileSync(join(root, file), 'utf8');
          return { code: text.slice(0, mutant.from) + mutant.is + text.slice(mutant.to), map: null };
        }
        const rooms = /^core\/(couplings|joints|loads|kinematics|forces|motion)\//;
        if (!env['UNIROTA_REACH'] || !rooms.test(file) || file.endsWith('.spec.ts')) return undefined;
        return { code: noting(file, readFileSync(join(root, file), 'utf8')), map: null };
      },
    },
  ],
  test: {
    include: ['core/**/*.spec.ts'],
    setupFiles: ['scripts/seed.setup.ts', 'scripts/mutate/reach.setup.ts'],
    testTimeout: 600_000,
    hookTimeout: 120_000,
    bail: env['UNIROTA_REACH'] ? 0 : 1,
    maxWorkers: 1,
    // What a module keeps may hide what another spec reaches.
    isolate: Boolean(env['UNIROTA_REACH']),
    sequence: { sequencer: Quickest },
  },
});
